//! Grows a recipe into the files that other software reads.

mod files;
mod folder;
mod ground_maps;
mod layer;
mod meshes;
mod tiles;

pub use files::{DeliverError, Delivered, Order, deliver};
pub use layer::Layer;
pub use meshes::{Detail, MadeMesh, MeshFormat, MeshOrder, Solid, deliver_meshes};
