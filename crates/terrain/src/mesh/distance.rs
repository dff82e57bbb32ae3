//! How far a mesh is from the land.

use super::within::{Plane, rows_within};
use super::{Lattice, Mesh};

/// How far a mesh is from the land, measured upright at every place of the lattice.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Distance {
    /// At the place where it is greatest, metres.
    pub greatest_m: f64,
    /// Root of the mean of its square, metres.
    pub rms_m: f64,
    /// Places that no triangle lies over or under.
    pub missed: usize,
}

impl Distance {
    /// The distance of a mesh to the land that it was made of.
    pub fn of(mesh: &Mesh, lattice: &Lattice) -> Self {
        let (cols, rows) = (lattice.cols(), lattice.rows());
        // Edges are met from both sides: the nearer one counts, they differ by rounding.
        let mut apart = vec![f64::INFINITY; cols * rows];
        for &triangle in &mesh.triangles[..mesh.of_land] {
            let corners = mesh.corners(triangle);
            let plane = Plane::through(corners);
            rows_within(lattice.axes(), corners, |row, columns| {
                for col in columns {
                    let [x, y, z] = lattice.place(col, row);
                    let here = &mut apart[row * cols + col];
                    *here = here.min((plane.at(x, y) - z).abs());
                }
            });
        }
        let found = || apart.iter().filter(|apart| apart.is_finite());
        let count = found().count();
        let squares: f64 = found().map(|apart| apart * apart).sum();
        Self {
            greatest_m: found().fold(0.0, |greatest, &apart| greatest.max(apart)),
            rms_m: (squares / count.max(1) as f64).sqrt(),
            missed: cols * rows - count,
        }
    }
}
