//! Drainage area when water flows in any direction, not only in eight.

use super::drainage::Drainage;
use super::neighbours::NEIGHBOURS;

/// The eight triangles around a cell: the neighbour straight ahead and the
/// diagonal one, as places in [`NEIGHBOURS`].
const FACETS: [(usize, usize); 8] = [
    (0, 4),
    (1, 4),
    (1, 5),
    (2, 5),
    (2, 6),
    (3, 6),
    (3, 7),
    (0, 7),
];

/// Where what is in a cell goes on: one or two neighbours, each with its share
/// of it and how far it is, in cells.
pub(crate) type Ways = [(usize, f32, f32); 2];

impl Drainage {
    /// The land that drains through each cell, itself included, in cells:
    /// water goes down the steepest of eight triangles around the cell and is
    /// shared between the two neighbours on either side of that way (D∞,
    /// Tarboton 1997). Where the water is level it follows the receivers.
    pub fn area_infinity_cells(&self) -> Vec<f32> {
        let mut area = vec![1.0_f32; self.order.len()];
        for i in self.highest_first() {
            let i = i as usize;
            for (to, share, _) in self.ways(i).into_iter().flatten() {
                area[to] += area[i] * share;
            }
        }
        area
    }

    /// Where water of cell `i` goes on; `None` where it leaves the land.
    pub(crate) fn ways(&self, i: usize) -> Option<Ways> {
        let (cols, rows) = (self.filled.cols(), self.filled.rows());
        let filled = self.filled.values();
        let receiver = self.receivers[i] as usize;
        if receiver == i {
            return None;
        }
        let (c, r) = (i % cols, i / cols);
        let border = c == 0 || r == 0 || c + 1 == cols || r + 1 == rows;
        let at = |k: usize| {
            let (dc, dr, _) = NEIGHBOURS[k];
            (i as i64 + dr * cols as i64 + dc) as usize
        };
        let way = match border {
            true => None,
            false => steepest(filled[i], |k| filled[at(k)]),
        };
        Some(match way {
            None => [(receiver, 1.0, 1.0), (receiver, 0.0, 1.0)],
            Some((straight, diagonal, turned)) => [
                (at(straight), 1.0 - turned, 1.0),
                (at(diagonal), turned, std::f32::consts::SQRT_2),
            ],
        })
    }
}

/// The steepest way down: the neighbours on either side, and how far it is
/// turned from the straight one to the diagonal one, 0 to 1.
fn steepest(here: f32, there: impl Fn(usize) -> f32) -> Option<(usize, usize, f32)> {
    let (mut best, mut way) = (0.0, None);
    for (straight, diagonal) in FACETS {
        let ahead = here - there(straight);
        let across = there(straight) - there(diagonal);
        let angle = across.atan2(ahead) / std::f32::consts::FRAC_PI_4;
        let (slope, turned) = if angle <= 0.0 {
            (ahead, 0.0)
        } else if angle >= 1.0 {
            (
                (here - there(diagonal)) * std::f32::consts::FRAC_1_SQRT_2,
                1.0,
            )
        } else {
            (ahead.hypot(across), angle)
        };
        if slope > best {
            (best, way) = (slope, Some((straight, diagonal, turned)));
        }
    }
    way
}
