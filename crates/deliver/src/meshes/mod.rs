//! Land as triangles: what can be ordered, and its files.

mod making;
mod order;
mod picture;
mod textures;

pub(crate) use making::write_meshes;
pub use making::{MadeMesh, deliver_meshes};
pub use order::{Detail, MeshFormat, MeshOrder, Solid};
pub use picture::picture;
