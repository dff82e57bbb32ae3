//! Terraces: rivers cut again into what they have filled their valleys with, in the belts in
//! which they wander, and leave the rest of the floor standing beside them (Bull 1991).

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
/// A belt has this share of its width at least: the river has room wherever bends leave it.
const NARROWEST: f32 = 0.35;
/// From tread to tread it goes over so many metres, more the older the riser is, but no fewer
/// cells than this; no belt shows that is narrower.
const RISER_M: f32 = 15.0;
const RISER_CELLS: f32 = 1.5;
/// Streams of less land than the first cut nothing, those of more than the second in full, km².
const CUTS_KM2: (f32, f32) = (0.15, 0.6);
/// Belts rise away from their river by so much, metres per metre, or by so many times its own
/// fall if that is more: it is the river beside it that a place looks to, not one far below.
const RISE: f32 = 0.004;
const RISES_FALLS: f32 = 2.0;

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

/// A river where it has cut.
#[derive(Clone, Copy)]
struct Belt {
    /// Its cell.
    river: usize,
    /// Half the width in which it wanders today, in cells.
    half: f32,
    /// The share of its fill that it has cut away by today.
    share: f32,
    /// By how much its belt rises away from it, metres from cell to cell.
    rise: f32,
}

impl Aging {
    /// `levels`, to which valleys are filled, after rivers have cut the share
    /// [`AgeLaw::terraces`] of the fill away again where they wander. Each cell drains to a
    /// river with one of the `falls`, metres per metre.
    pub(super) fn cut_again(
        &self,
        levels: &Grid,
        falls: &[f32],
        law: AgeLaw,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let size @ (cols, _) = (self.frame.cols, self.frame.rows);
        let cell = self.frame.cell_m as f32;
        let riser = RISER_CELLS.max(RISER_M / cell);
        let (full, heights) = (levels.values(), self.heights.values());
        let floor: Vec<usize> = (0..full.len()).filter(|&i| full[i] > heights[i]).collect();
        let belts = self.belts(&floor, falls, law);
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
            let before = land.clone();
            let level = |i: usize, belt: Belt| {
                let Belt {
                    river,
                    half,
                    share,
                    rise,
                } = belt;
                let east = (i % cols).abs_diff(river % cols) as f32;
                let south = (i / cols).abs_diff(river / cols) as f32;
                let away = (east * east + south * south).sqrt();
                let reach = wide * half * (1.0 + bite * bends.values()[i]).max(NARROWEST);
                let level = before.values()[i];
                if away >= reach {
                    return level;
                }
                let bed = full[river] - deep * share * (full[river] - heights[river]);
                let above = (level - bed - rise * away).max(0.0);
                let within = smooth((reach - away) / reach.min(riser * wide));
                (level - within * above).max(heights[i])
            };
            spread(land.values_mut(), &belts, &floor, size, level, run)?;
        }
        Ok(land)
    }

    /// The belts of rivers on the `floor` that the grid can show.
    fn belts(&self, floor: &[usize], falls: &[f32], law: AgeLaw) -> Vec<Belt> {
        let (_, area) = self.drainage.as_ref().expect("a step has gone by");
        let cell_km2 = self.frame.cell_area_m2() as f32 * 1e-6;
        let cell = self.frame.cell_m as f32;
        let (first, in_full) = CUTS_KM2;
        let belt = |&river: &usize| {
            let km2 = area[river] * cell_km2;
            let half = BELT_M * km2.powf(WIDENS) / cell;
            let shows = smooth(half / RISER_CELLS - 0.5);
            let cuts = smooth((km2 - first) / (in_full - first));
            let share = law.terraces as f32 * shows * cuts;
            let rise = RISE.max(RISES_FALLS * falls[river]) * cell;
            (share > 0.0).then_some(Belt {
                river,
                half,
                share,
                rise,
            })
        };
        floor.iter().filter_map(belt).collect()
    }
}

/// Cuts belts into the `land` from their rivers on: each cell of the `floor` comes down to the
/// lowest `level` that one of the belts gives it which reach a neighbour.
fn spread(
    land: &mut [f32],
    belts: &[Belt],
    floor: &[usize],
    size: (usize, usize),
    level: impl Fn(usize, Belt) -> f32,
    run: Run,
) -> Result<(), Cancelled> {
    /// No belt reaches there.
    const NONE: u32 = u32::MAX;
    /// Looks at the floor at most, there and back: belts go around spurs and other belts.
    const ROUNDS: usize = 4;
    let mut reached_by = vec![NONE; land.len()];
    // What has come down since its neighbours were told.
    let mut news = vec![false; land.len()];
    for (belt, k) in belts.iter().zip(0..) {
        (reached_by[belt.river], news[belt.river]) = (k, true);
        land[belt.river] = level(belt.river, *belt);
    }
    let mut go_on = |&i: &usize| {
        if !std::mem::take(&mut news[i]) {
            return;
        }
        let k = reached_by[i];
        for (there, _) in around(i, size) {
            if reached_by[there] == k {
                continue;
            }
            let lower = level(there, belts[k as usize]);
            if lower < land[there] {
                (land[there], reached_by[there], news[there]) = (lower, k, true);
            }
        }
    };
    for _ in 0..ROUNDS {
        run.check()?;
        floor.iter().for_each(&mut go_on);
        run.check()?;
        floor.iter().rev().for_each(&mut go_on);
    }
    Ok(())
}
