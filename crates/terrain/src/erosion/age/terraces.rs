//! Terraces: rivers cut again into what they have filled their valleys with, in the belts in
//! which they wander, and leave the rest of the floor standing beside them (Bull 1991).

use super::fill::LEAST_KM2;
use super::{AgeLaw, Aging};
use crate::erosion::neighbours::around;
use crate::noise::{Basis, FractalNoise};
use crate::smooth::smooth;
use crate::{Cancelled, Grid, Run};

/// A river of 1 km² wanders so far to either side, metres; others farther with the drainage
/// area to this power: belts of bends are some ten times as wide as the water (Williams 1986,
/// from memory), which widens with the root of what flows (Leopold and Maddock 1953).
const BELT_M: f32 = 22.0;
const WIDENS: f32 = 0.4;
/// Bends bite into the edges of terraces, here on one side and there on the other: over so many
/// metres.
const BEND_M: f64 = 900.0;
/// From tread to tread it goes over so many metres, more the older the riser is, but no fewer
/// cells than this; no belt shows that is narrower.
const RISER_M: f32 = 15.0;
const RISER_CELLS: f32 = 1.5;
/// Belts rise away from their river by so much, metres per metre.
const RISE: f32 = 0.004;

/// A time in which rivers cut.
struct Cut {
    /// Belts were so many times as wide as today's.
    wide: f32,
    /// They had cut so much of today's depth.
    deep: f32,
    /// How far bends go in and out, as a share of half the belt: other ways than today.
    bite: f32,
}

/// The older first.
const CUTS: [Cut; 2] = [
    Cut {
        wide: 2.4,
        deep: 0.45,
        bite: -1.2,
    },
    Cut {
        wide: 1.0,
        deep: 1.0,
        bite: 1.2,
    },
];

impl Aging {
    /// `levels`, to which valleys are filled, after rivers have cut the share
    /// [`AgeLaw::terraces`] of the fill away again where they wander.
    pub(super) fn cut_again(
        &self,
        levels: &Grid,
        law: AgeLaw,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let halves = self.belts(levels);
        let (cols, rows) = (self.frame.cols, self.frame.rows);
        let cell = self.frame.cell_m as f32;
        let riser = RISER_CELLS.max(RISER_M / cell);
        let (full, heights) = (levels.values(), self.heights.values());
        let filled = |i: usize| full[i] > heights[i];
        let floor: Vec<usize> = (0..full.len()).filter(|&i| filled(i)).collect();
        let bends = FractalNoise {
            basis: Basis::Simplex,
            feature_m: BEND_M,
            octaves: 2.0,
            ..FractalNoise::default()
        };
        let bends = bends.fill(&self.frame, run)?;
        let mut land = levels.clone();
        for Cut { wide, deep, bite } in CUTS {
            run.check()?;
            let reach = |i: usize| wide * halves[i];
            let comes = spread((0..halves.len()).map(reach), &floor, (cols, rows));
            let share = deep * law.terraces as f32;
            let bed = |river: usize| full[river] - share * (full[river] - heights[river]);
            let cut = |i: usize, level: f32, bend: f32| {
                let Comes { left, from } = comes[i];
                if left <= 0.0 || !filled(i) {
                    return level;
                }
                let river = from as usize;
                let away = reach(river) - left;
                let inside = reach(river) * (1.0 + bite * bend) - away;
                // The river itself flows in all of its belts.
                let within = match i == river {
                    true => 1.0,
                    false => smooth(inside / (riser * wide)),
                };
                let above = (level - bed(river) - RISE * away * cell).max(0.0);
                (level - within * above).max(heights[i])
            };
            land = Grid::by_rows(cols, rows, |r, row| {
                let before = land.row(r).iter().zip(bends.row(r));
                for ((i, after), (&level, &bend)) in (r * cols..).zip(row).zip(before) {
                    *after = cut(i, level, bend);
                }
            });
        }
        Ok(land)
    }

    /// Half the width of the belt in which each river wanders on its fill, in cells; 0 where it
    /// would not show.
    fn belts(&self, levels: &Grid) -> Vec<f32> {
        let (_, area) = self.drainage.as_ref().expect("a step has gone by");
        let cell_km2 = self.frame.cell_area_m2() as f32 * 1e-6;
        let cell = self.frame.cell_m as f32;
        let fill = levels.values().iter().zip(self.heights.values());
        fill.zip(area)
            .map(|((level, height), cells)| {
                let km2 = cells * cell_km2;
                if km2 <= LEAST_KM2 || level <= height {
                    return 0.0;
                }
                let half = BELT_M * km2.powf(WIDENS) / cell;
                half * smooth(half / RISER_CELLS - 0.5)
            })
            .collect()
    }
}

/// What comes to a cell from a river.
#[derive(Clone, Copy)]
struct Comes {
    /// How far its belt goes on, in cells.
    left: f32,
    /// The river's cell.
    from: u32,
}

/// What comes to each cell from the river whose belt goes on the farthest there, where belts
/// reach so many cells to either side over the `floor`: by a chamfer (Borgefors 1986), there and
/// back.
fn spread(reach: impl Iterator<Item = f32>, floor: &[usize], size: (usize, usize)) -> Vec<Comes> {
    let rivers = reach.zip(0..).map(|(left, from)| Comes { left, from });
    let mut comes: Vec<Comes> = rivers.collect();
    let mut go_on = |&i: &usize| {
        let Comes { left, from } = comes[i];
        // Most of the floor lies too far from any river.
        if left <= 1.0 {
            return;
        }
        for (there, distance) in around(i, size) {
            let left = left - distance;
            if left > comes[there].left {
                comes[there] = Comes { left, from };
            }
        }
    };
    floor.iter().for_each(&mut go_on);
    floor.iter().rev().for_each(&mut go_on);
    comes
}
