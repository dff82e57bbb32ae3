//! Forms of the land by what is seen from each place: geomorphons (Jasiewicz and
//! Stepinski 2013, "Geomorphons — a pattern recognition approach to classification and
//! mapping of landforms", table of figure 4, from memory).

use rayon::prelude::*;

use super::super::neighbours::NEIGHBOURS;
use crate::Grid;

/// A form that a place belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// Nothing is higher or lower around.
    Flat,
    /// All is lower.
    Summit,
    /// Most is lower.
    Ridge,
    /// Level on one side, lower on the other.
    Shoulder,
    /// A slope that bulges.
    Spur,
    /// Higher on one side, lower on the other.
    Slope,
    /// A slope that is hollow.
    Hollow,
    /// Higher on one side, level on the other.
    Foot,
    /// Most is higher.
    Valley,
    /// All is higher.
    Pit,
}

impl Form {
    /// All of them, in the order of their shares.
    pub const ALL: [Self; 10] = [
        Self::Flat,
        Self::Summit,
        Self::Ridge,
        Self::Shoulder,
        Self::Spur,
        Self::Slope,
        Self::Hollow,
        Self::Foot,
        Self::Valley,
        Self::Pit,
    ];
}

/// The share of the land that belongs to each form, in the order of [`Form::ALL`].
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Forms([f64; 10]);

impl Forms {
    /// The share of one form, 0 to 1.
    pub fn share(&self, form: Form) -> f64 {
        self.0[form as usize]
    }
}

/// How far one looks, in cells, and what counts as level, degrees.
const LOOK_CELLS: usize = 12;
const LEVEL_DEG: f32 = 1.0;

pub(super) fn forms_of(heights: &Grid, cell_m: f64, sea_level_m: f32) -> Forms {
    let (cols, rows) = (heights.cols(), heights.rows());
    let look = LOOK_CELLS.min(cols.min(rows).saturating_sub(1) / 2);
    let inner = |n: usize| look..n.saturating_sub(look);
    let counts = inner(rows)
        .into_par_iter()
        .map(|r| {
            let mut counts = [0_usize; 10];
            for c in inner(cols).filter(|&c| heights.at(c, r) >= sea_level_m) {
                counts[form_at(heights, (c, r), look, cell_m as f32) as usize] += 1;
            }
            counts
        })
        .reduce(|| [0; 10], |a, b| std::array::from_fn(|k| a[k] + b[k]));
    let all: usize = counts.iter().sum();
    Forms(counts.map(|count| count as f64 / all.max(1) as f64))
}

fn form_at(heights: &Grid, (c, r): (usize, usize), look: usize, cell_m: f32) -> Form {
    let level = LEVEL_DEG.to_radians().tan();
    let here = heights.at(c, r);
    let (mut lower, mut higher) = (0, 0);
    for (dc, dr, distance) in NEIGHBOURS {
        let reach = cell_m * distance;
        let (mut up, mut down) = (f32::NEG_INFINITY, f32::INFINITY);
        for k in 1..=look as i64 {
            let there = heights.at((c as i64 + k * dc) as usize, (r as i64 + k * dr) as usize);
            let slope = (there - here) / (reach * k as f32);
            (up, down) = (up.max(slope), down.min(slope));
        }
        // Of the angles to the highest and to the lowest that is seen, the larger one
        // decides.
        let seen = up.max(0.0) + down.min(0.0);
        lower += usize::from(seen < -level);
        higher += usize::from(seen > level);
    }
    form_of(lower, higher)
}

/// The form of a place with so many of eight directions lower and higher.
fn form_of(lower: usize, higher: usize) -> Form {
    use Form::{Flat, Foot, Hollow, Pit, Ridge, Shoulder, Slope, Spur, Summit, Valley};
    // What cannot be, since both together are at most eight, repeats its neighbour.
    const TABLE: [[Form; 9]; 9] = [
        [Flat, Flat, Flat, Foot, Foot, Valley, Valley, Valley, Pit],
        [Flat, Flat, Foot, Foot, Foot, Valley, Valley, Valley, Pit],
        [
            Flat, Shoulder, Slope, Slope, Hollow, Hollow, Valley, Valley, Pit,
        ],
        [
            Shoulder, Shoulder, Slope, Slope, Slope, Hollow, Hollow, Valley, Pit,
        ],
        [
            Shoulder, Shoulder, Spur, Slope, Slope, Slope, Hollow, Valley, Pit,
        ],
        [Ridge, Ridge, Spur, Spur, Slope, Slope, Hollow, Valley, Pit],
        [Ridge, Ridge, Ridge, Spur, Slope, Slope, Hollow, Valley, Pit],
        [Ridge, Ridge, Ridge, Spur, Slope, Slope, Hollow, Valley, Pit],
        [
            Summit, Ridge, Ridge, Spur, Slope, Slope, Hollow, Valley, Pit,
        ],
    ];
    TABLE[lower][higher]
}
