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
    writeln!(out, "element face {}", mesh.triangles.len())?;
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
    for triangle in &mesh.triangles {
        out.write_all(&[3])?;
        for vertex in triangle {
            out.write_all(&vertex.to_le_bytes())?;
        }
    }
    Ok(())
}
