//! OBJ with MTL: text that nearly everything reads.

use std::io::Write;

use super::Model;
use crate::WriteError;

/// The material of the land, and that of sides and floor.
const LAND: &str = "land";
const SIDES: &str = "sides";

/// Writes vertices, where textures lie, directions when the land is smooth, and faces; with
/// the name of the file in which its materials are described.
///
/// # Errors
/// [`WriteError`].
pub fn write_obj(mut out: impl Write, model: &Model, materials: &str) -> Result<(), WriteError> {
    let mesh = model.mesh;
    let one_line = model.name.replace(['\n', '\r'], " ");
    writeln!(out, "# {one_line}: metres, x east, y north, z up")?;
    writeln!(out, "mtllib {materials}\no land")?;
    for [x, y, z] in &mesh.vertices {
        writeln!(out, "v {x} {y} {z}")?;
    }
    for &vertex in &mesh.vertices[..mesh.land_vertices] {
        let [u, down] = model.laid.at(vertex);
        // Its v goes up.
        writeln!(out, "vt {u} {}", 1.0 - down)?;
    }
    if model.smooth {
        for [x, y, z] in mesh.smooth_normals() {
            writeln!(out, "vn {x} {y} {z}")?;
        }
    }
    writeln!(
        out,
        "usemtl {LAND}\ns {}",
        if model.smooth { "1" } else { "off" }
    )?;
    let (land, sides) = mesh.triangles.split_at(mesh.of_land);
    let single = mesh.pairs_from.unwrap_or(mesh.of_land);
    for triangle in &land[..single] {
        write_face(&mut out, triangle, model.smooth)?;
    }
    for quad in mesh.quads() {
        write_face(&mut out, &quad, model.smooth)?;
    }
    if !sides.is_empty() {
        writeln!(out, "usemtl {SIDES}\ns off")?;
    }
    for triangle in sides {
        let [a, b, c] = triangle.map(|vertex| vertex + 1);
        writeln!(out, "f {a} {b} {c}")?;
    }
    Ok(())
}

/// A face of land: what its corners have all has their number.
fn write_face(out: &mut impl Write, corners: &[u32], smooth: bool) -> Result<(), WriteError> {
    write!(out, "f")?;
    for corner in corners {
        let at = corner + 1;
        match smooth {
            true => write!(out, " {at}/{at}/{at}")?,
            false => write!(out, " {at}/{at}")?,
        }
    }
    Ok(writeln!(out)?)
}

/// Writes the materials of [`write_obj`]: plain ones, for maps to be put in their place.
///
/// # Errors
/// [`WriteError`].
pub fn write_mtl(mut out: impl Write) -> Result<(), WriteError> {
    writeln!(out, "newmtl {LAND}\nKd 0.6 0.6 0.6\nillum 1")?;
    writeln!(out, "newmtl {SIDES}\nKd 0.45 0.42 0.4\nillum 1")?;
    Ok(())
}
