//! Grows a recipe into the files that other software reads.

mod files;
mod layer;

pub use files::{DeliverError, Delivered, Order, deliver};
pub use layer::Layer;
