//! Triangles, written for other software.
//!
//! Everywhere x is east, y north and z up, but in glTF, whose y is up: there x is east and
//! z south.

mod glb;
mod obj;
mod ply;
mod stl;

use terrain::mesh::Mesh;

pub use glb::write_glb;
pub use obj::{write_mtl, write_obj};
pub use ply::write_ply;
pub use stl::write_stl;

/// A mesh to be written, and how it is to be seen.
#[derive(Clone, Copy)]
pub struct Model<'a> {
    /// Its name in the file.
    pub name: &'a str,
    /// Its triangles.
    pub mesh: &'a Mesh,
    /// Whether the land is shaded smoothly over its triangles, or each for itself.
    pub smooth: bool,
    /// Where textures lie on it.
    pub laid: Laid,
    /// What is laid on it; only where the format takes pictures in.
    pub textures: Option<&'a Textures>,
}

/// How textures are laid on the land, from above.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Laid {
    /// The west edge and the north edge of the picture, in the mesh's own units.
    pub west_north: [f64; 2],
    /// How far one picture reaches to the east and to the south.
    pub reach: [f64; 2],
}

impl Laid {
    /// Share of the picture east of its west edge and south of its north edge.
    fn at(&self, vertex: [f32; 3]) -> [f32; 2] {
        let east = f64::from(vertex[0]) - self.west_north[0];
        let south = self.west_north[1] - f64::from(vertex[1]);
        [
            (east / self.reach[0]) as f32,
            (south / self.reach[1]) as f32,
        ]
    }
}

/// Pictures of the ground, PNG each.
#[derive(Clone, Debug, PartialEq)]
pub struct Textures {
    /// Colour without light, sRGB.
    pub albedo: Vec<u8>,
    /// Directions of the surface beside those of the mesh: red is east, green north.
    pub normal: Vec<u8>,
    /// Red is how much of the sky is seen, green how rough it is, blue nothing.
    pub occlusion_roughness: Vec<u8>,
}
