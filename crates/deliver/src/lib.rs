//! Grows a recipe into the files that other software reads.

mod files;
mod folder;
mod ground_maps;
mod layer;
mod tiles;

pub use files::{DeliverError, Delivered, Order, deliver};
pub use layer::Layer;
