//! Grows a recipe into the files that other software reads.

mod delivering;
mod fields;
mod folder;
mod ground_maps;
mod land_maps;
mod layer;
mod manifest;
mod meshes;
mod packed;
mod target;
mod tiles;
mod wish;

pub use delivering::{DeliverError, Delivered, deliver};
pub use fields::{ColourFormat, Field, FieldFormat};
pub use layer::Layer;
pub use meshes::{
    Cliffs, CliffsOf, Detail, MadeMesh, MeshFormat, MeshOrder, Solid, deliver_meshes, picture,
};
pub use target::{
    Bounds, CHECK_CELLS, Checked, Finding, Fix, GridSides, Outlook, Target, Weight, check,
};
pub use wish::{CliffsWish, MeshWish, Order, Packed, ValueRange, Wish};
