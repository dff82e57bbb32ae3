//! Land as triangles: what can be ordered, and its files.

mod cliffs;
mod making;
mod order;
mod picture;
mod textures;

pub use cliffs::{Cliffs, CliffsOf};
pub(crate) use making::write_meshes;
pub use making::{MadeMesh, deliver_meshes};
pub use order::{Detail, MeshFormat, MeshOrder, Solid};
pub use picture::picture;
