//! deliver
