//! PLY, binary: shared corners, with directions when the land is smooth.

use std::io::Write;

use super::Model;
use crate::WriteError;

/// Writes vertices and faces, little-endian.
///
/// # Errors
/// [`WriteError`].
pub fn write_ply(mut out: impl Write, model: &Model) -> Result<(), WriteError> {
    let mesh = model.mesh;
    // Sides of a solid would be shaded as if they were land.
    let smooth = model.smooth && mesh.of_land == mesh.triangles.len();
    writeln!(out, "ply\nformat binary_little_endian 1.0")?;
    writeln!(out, "comment {}", model.name.replace(['\n', '\r'], " "))?;
    writeln!(out, "element vertex {}", mesh.vertices.len())?;
    let directions: &[&str] = if smooth { &["nx", "ny", "nz"] } else { &[] };
    for property in ["x", "y", "z"].iter().chain(directions) {
        writeln!(out, "property float {property}")?;
    }
    let (triangles, pairs) = mesh.apart();
    let faces = triangles.len() + pairs.len() / 2;
    writeln!(out, "element face {faces}")?;
    writeln!(out, "property list uchar uint vertex_indices\nend_header")?;
    let normals = if smooth {
        mesh.smooth_normals()
    } else {
        Vec::new()
    };
    for (vertex, place) in mesh.vertices.iter().enumerate() {
        let normal = normals.get(vertex).into_iter().flatten();
        for at in place.iter().chain(normal) {
            out.write_all(&at.to_le_bytes())?;
        }
    }
    let mut face = |corners: &[u32]| {
        out.write_all(&[corners.len() as u8])?;
        for vertex in corners {
            out.write_all(&vertex.to_le_bytes())?;
        }
        Ok(())
    };
    triangles.iter().try_for_each(|triangle| face(triangle))?;
    mesh.quads().try_for_each(|quad| face(&quad))
}
