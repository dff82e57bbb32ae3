//! recipe
