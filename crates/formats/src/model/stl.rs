//! STL, binary: triangles alone, as printers take them.

use std::io::Write;

use super::Model;
use crate::WriteError;

const HEADER_BYTES: usize = 80;

/// Writes every triangle with the direction that it faces.
///
/// # Errors
/// [`WriteError`]; when there are more triangles than the format can count.
pub fn write_stl(mut out: impl Write, model: &Model) -> Result<(), WriteError> {
    let mesh = model.mesh;
    // A header that begins with “solid” would be taken for text.
    let mut header = [b' '; HEADER_BYTES];
    let name = model.name.as_bytes();
    let length = name.len().min(HEADER_BYTES - 8);
    header[8..8 + length].copy_from_slice(&name[..length]);
    out.write_all(&header)?;
    let count = u32::try_from(mesh.triangles.len());
    let count =
        count.map_err(|_| WriteError::Encode("more triangles than STL holds".to_owned()))?;
    out.write_all(&count.to_le_bytes())?;
    for &triangle in &mesh.triangles {
        let corners = triangle.map(|vertex| mesh.vertices[vertex as usize]);
        let vectors = [mesh.facing(triangle), corners[0], corners[1], corners[2]];
        for at in vectors.iter().flatten() {
            out.write_all(&at.to_le_bytes())?;
        }
        out.write_all(&[0, 0])?;
    }
    Ok(())
}
