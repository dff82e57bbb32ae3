//! The mesh that has every place of a lattice.

use super::{Lattice, Mesh};

impl Lattice {
    /// Two triangles between any four neighbours, parted along the flatter of the two
    /// diagonals, so that ridges and valleys run along edges.
    pub fn whole(&self) -> Mesh {
        let (cols, rows) = (self.cols(), self.rows());
        let mut mesh = Mesh::default();
        mesh.vertices.reserve(cols * rows);
        for row in 0..rows {
            let places = (0..cols).map(|col| self.place(col, row).map(|at| at as f32));
            mesh.vertices.extend(places);
        }
        mesh.triangles.reserve(self.most_triangles());
        for row in 0..rows - 1 {
            for col in 0..cols - 1 {
                let at = |c: usize, r: usize| ((row + r) * cols + col + c) as u32;
                let up = |c: usize, r: usize| self.heights.at(col + c, row + r);
                let (nw, ne, sw, se) = (at(0, 0), at(1, 0), at(0, 1), at(1, 1));
                let falling = (up(0, 0) - up(1, 1)).abs();
                let rising = (up(1, 0) - up(0, 1)).abs();
                mesh.triangles.extend(if falling <= rising {
                    [[nw, sw, se], [nw, se, ne]]
                } else {
                    [[nw, sw, ne], [sw, se, ne]]
                });
            }
        }
        mesh.of_land = mesh.triangles.len();
        mesh.land_vertices = mesh.vertices.len();
        mesh
    }
}
