//! Directions of the land's surface as seen from a mesh of it, for normal maps.

use super::Mesh;
use super::axis::Axis;
use super::within::{Plane, rows_within};
use crate::{Frame, Grid};

/// A direction where there is no mesh: straight up from it.
const UPRIGHT: [f32; 3] = [0.0, 0.0, 1.0];

impl Mesh {
    /// `surface`, directions of length 1 on `frame`, as seen from this mesh when it is
    /// shaded smoothly: east along the mesh, north along it, and away from it. What the mesh
    /// does not have comes back with a map of these.
    ///
    /// # Panics
    /// When `surface` is not on `frame`.
    pub fn seen_from_it(&self, surface: &Grid<[f32; 3]>, frame: &Frame) -> Grid<[f32; 3]> {
        assert_eq!((surface.cols(), surface.rows()), (frame.cols, frame.rows));
        let normals = self.smooth_normals();
        let east = Axis::of(
            (0..frame.cols).map(|c| frame.x_m(c)).collect(),
            frame.cell_m,
        );
        let south = Axis::of(
            (0..frame.rows).map(|r| -frame.y_m(r)).collect(),
            frame.cell_m,
        );
        let mut seen = Grid::filled(frame.cols, frame.rows, UPRIGHT);
        for &triangle in &self.triangles[..self.of_land] {
            let corners = self.corners(triangle);
            // Each part of the direction goes evenly from corner to corner.
            let parts: [Plane; 3] = std::array::from_fn(|part| {
                let part_at = |corner: usize| {
                    let [x, y, _] = corners[corner];
                    let normal = normals[triangle[corner] as usize];
                    [x, y, f64::from(normal[part])]
                };
                Plane::through([part_at(0), part_at(1), part_at(2)])
            });
            rows_within((&east, &south), corners, |row, columns| {
                for col in columns {
                    let (x, y) = (east.at(col), -south.at(row));
                    let up = parts.map(|part| part.at(x, y) as f32);
                    seen.values_mut()[row * frame.cols + col] = beside(surface.at(col, row), up);
                }
            });
        }
        seen
    }
}

/// A direction beside the direction `up`: how far it goes east along that surface, north
/// along it, and away from it.
fn beside(direction: [f32; 3], up: [f32; 3]) -> [f32; 3] {
    let up = unit(up);
    let east = east_along(up);
    let north = [
        up[1] * east[2] - up[2] * east[1],
        up[2] * east[0] - up[0] * east[2],
        up[0] * east[1] - up[1] * east[0],
    ];
    [east, north, up].map(|axis| {
        let along = axis.iter().zip(direction);
        along.map(|(axis, part)| axis * part).sum()
    })
}

/// East along a surface that faces `up`, a direction of length 1: what red is in the normal
/// maps of a mesh, and so what its files must say.
pub fn east_along([x, y, z]: [f32; 3]) -> [f32; 3] {
    unit([1.0 - x * x, -x * y, -x * z])
}

fn unit(vector: [f32; 3]) -> [f32; 3] {
    let length = vector.iter().map(|part| part * part).sum::<f32>().sqrt();
    if length > 0.0 {
        vector.map(|part| part / length)
    } else {
        UPRIGHT
    }
}
