//! The surface of a lattice between its places.

use glam::{DVec2, DVec3};

use crate::mesh::Lattice;

/// Heights between the places of a lattice: even within each of its cells.
pub(super) struct Surface<'a> {
    lattice: &'a Lattice,
}

/// Steps towards the nearest place of the surface.
const STEPS: usize = 4;

impl<'a> Surface<'a> {
    pub(super) fn of(lattice: &'a Lattice) -> Self {
        Self { lattice }
    }

    /// Its size, metres.
    pub(super) fn size(&self) -> DVec2 {
        let [east, _, _] = self.lattice.place(self.lattice.cols() - 1, 0);
        let [_, north, _] = self.lattice.place(0, 0);
        DVec2::new(east, north)
    }

    /// Its height over a place, and how it rises to the east and to the north.
    fn height_and_rise(&self, at: DVec2) -> (f64, DVec2) {
        let (cols, rows) = (self.lattice.cols(), self.lattice.rows());
        let (along_east, along_south) = self.lattice.axes();
        let col = along_east.first_from(at.x).clamp(1, cols - 1) - 1;
        let row = along_south.first_from(-at.y).clamp(1, rows - 1) - 1;
        let [west, north, nw] = self.lattice.place(col, row);
        let [east, south, se] = self.lattice.place(col + 1, row + 1);
        let (ne, sw) = (
            self.lattice.place(col + 1, row)[2],
            self.lattice.place(col, row + 1)[2],
        );
        let (width, depth) = (east - west, north - south);
        let x = ((at.x - west) / width).clamp(0.0, 1.0);
        let y = ((at.y - south) / depth).clamp(0.0, 1.0);
        let height = (1.0 - y) * (sw + x * (se - sw)) + y * (nw + x * (ne - nw));
        let rise = DVec2::new(
            ((1.0 - y) * (se - sw) + y * (ne - nw)) / width,
            ((1.0 - x) * (nw - sw) + x * (ne - se)) / depth,
        );
        (height, rise)
    }

    /// Its height over a place.
    pub(super) fn height(&self, at: DVec2) -> f64 {
        self.height_and_rise(at).0
    }

    /// How it rises to the east and to the north.
    pub(super) fn rise(&self, at: DVec2) -> DVec2 {
        self.height_and_rise(at).1
    }

    /// A place of it near `at`: along its steepest rise, and upright at last so that the
    /// place is on it.
    pub(super) fn nearest(&self, mut at: DVec3) -> DVec3 {
        let size = self.size();
        for _ in 0..STEPS {
            let (height, rise) = self.height_and_rise(at.truncate());
            let towards = DVec3::new(-rise.x, -rise.y, 1.0);
            at -= towards * ((at.z - height) / towards.length_squared());
            let inside = at.truncate().clamp(DVec2::ZERO, size);
            at = inside.extend(at.z);
        }
        // As files have it, so that both meshes have the same bits along their seam.
        let place = at.truncate().as_vec2().as_dvec2();
        place.extend(self.height(place) as f32 as f64)
    }
}
