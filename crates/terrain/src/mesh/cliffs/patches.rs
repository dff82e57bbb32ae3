//! The pieces that cliffs consist of, and which way each of them faces.

use glam::{DVec2, DVec3};

use super::surface::Surface;
use crate::{Frame, Grid};

/// Cells that are no cliff.
const NONE: u32 = u32::MAX;
/// From this share of the mask up a cell is one.
const CLIFF: f32 = 0.5;

/// Cells of cliffs, by the piece that they belong to.
pub(super) struct Patches<'f> {
    frame: &'f Frame,
    of: Grid<u32>,
    /// The cells of each.
    pub(super) cells: Vec<Vec<(usize, usize)>>,
}

/// Axes that lie on a piece: along its contour, up its slope, and out of it.
#[derive(Clone, Copy)]
pub(super) struct Axes {
    pub(super) along: DVec3,
    pub(super) up: DVec3,
    pub(super) out: DVec3,
}

impl<'f> Patches<'f> {
    /// Pieces of cells that touch along a side.
    pub(super) fn of(mask: &Grid, frame: &'f Frame) -> Self {
        let (cols, rows) = (mask.cols(), mask.rows());
        let mut of = Grid::filled(cols, rows, NONE);
        let mut cells = Vec::new();
        for row in 0..rows {
            for col in 0..cols {
                if mask.at(col, row) < CLIFF || of.at(col, row) != NONE {
                    continue;
                }
                let piece = cells.len() as u32;
                let mut here = vec![(col, row)];
                of.values_mut()[row * cols + col] = piece;
                let mut at = 0;
                while at < here.len() {
                    let (c, r) = here[at];
                    at += 1;
                    let beside = [
                        (c.wrapping_sub(1), r),
                        (c + 1, r),
                        (c, r.wrapping_sub(1)),
                        (c, r + 1),
                    ];
                    for (c, r) in beside {
                        let inside = c < cols && r < rows;
                        if inside && mask.at(c, r) >= CLIFF && of.at(c, r) == NONE {
                            of.values_mut()[r * cols + c] = piece;
                            here.push((c, r));
                        }
                    }
                }
                cells.push(here);
            }
        }
        Self { frame, of, cells }
    }

    /// The piece that a place is on, if any.
    pub(super) fn at(&self, place: DVec2) -> Option<usize> {
        let cell = |at: f64, count: usize| {
            let at = (at + 0.5).floor();
            (at >= 0.0 && at < count as f64).then_some(at as usize)
        };
        let col = cell(self.frame.col_at(place.x), self.of.cols())?;
        let row = cell(self.frame.row_at(place.y), self.of.rows())?;
        let piece = self.of.at(col, row);
        (piece != NONE).then_some(piece as usize)
    }

    /// The middle of a cell.
    pub(super) fn middle(&self, (col, row): (usize, usize)) -> DVec2 {
        DVec2::new(self.frame.x_m(col), self.frame.y_m(row))
    }

    /// Which way a piece faces: the mean over its area.
    pub(super) fn axes(&self, piece: usize, surface: &Surface) -> Axes {
        let facing = self.cells[piece].iter().map(|cell| {
            let rise = surface.rise(self.middle(*cell));
            DVec3::new(-rise.x, -rise.y, 1.0)
        });
        let out = facing.sum::<DVec3>().normalize_or(DVec3::Z);
        let along = DVec3::Z.cross(out).normalize_or(DVec3::X);
        Axes {
            along,
            up: out.cross(along),
            out,
        }
    }
}
