//! What a stroke does to the land under its brush.

use std::sync::LazyLock;

use super::Brush;
use super::grab::pushed;
use crate::erosion::{self, Crumbling, crumble};
use crate::grid::{halve, resample};
use crate::noise::FractalNoise;
use crate::shape::blurred_to_the_edge;
use crate::{Cancelled, Frame, Grid, Run};

/// What a stroke does to the land under its brush.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Deed {
    /// Raises it, at most by so many metres; lowers it when they are negative.
    Raise {
        /// Metres where the brush is full.
        by_m: f64,
    },
    /// Evens it out. As much ground comes as goes.
    Smooth,
    /// Brings out its crests and creases. As much ground comes as goes.
    Sharpen,
    /// Makes it level.
    Flatten(Level),
    /// Lays noise on it.
    Roughen {
        /// Metres from the lowest to the highest of it.
        by_m: f64,
        /// Size of its largest forms, metres.
        feature_m: f64,
        /// Random seed.
        seed: u32,
    },
    /// Lets what stands too steeply fall and rounds what is left, as years would. As much
    /// ground comes as goes.
    Weather,
    /// Drags it along.
    Push,
    /// Makes it what it was before the first stroke.
    PaintBack,
}

/// What land is made level with.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Level {
    /// The mean height around the place where the stroke began.
    Began,
    /// A height, metres.
    Height(f64),
    /// The plane that lies best in the land under the stroke.
    Plane,
}

/// Between which values the noise of roughening lies; its size makes no difference.
static SPREAD: LazyLock<(f32, f32)> = LazyLock::new(|| FractalNoise::default().spread());

/// Smoothing and sharpening look so far around, as a share of the brush's radius: the
/// standard deviation of their blur.
const BLUR: f64 = 0.2;
/// Sharpening makes what is smaller so many times stronger.
const SHARPER: f32 = 1.0;
/// Weathering rounds with such a blur.
const ROUND: f64 = 0.06;
/// Ground comes to rest at this angle (loose earth: common practice, 30 to 40°).
const RESTS_DEG: f32 = 33.0;

impl Deed {
    /// Whether what it does at a place depends on the land around.
    pub(super) fn looks_around(&self) -> bool {
        !matches!(
            self,
            Deed::Raise { .. }
                | Deed::Roughen { .. }
                | Deed::Flatten(Level::Height(_))
                | Deed::PaintBack
        )
    }

    /// How far beyond what the brush covers it looks, metres.
    pub(super) fn looks_m(&self, brush: &Brush) -> f64 {
        /// A blur ends after so many standard deviations.
        const ENDS: f64 = 3.0;
        match self {
            Deed::Smooth | Deed::Sharpen => ENDS * BLUR * brush.radius_m,
            // What falls comes to rest near by.
            Deed::Weather => 0.5 * brush.radius_m,
            _ => 0.0,
        }
    }

    /// The land of a patch after the stroke. `below` is that before the first stroke,
    /// `allowed` how far each place may change.
    pub(super) fn done(
        &self,
        brush: &Brush,
        before: &Grid,
        below: &Grid,
        allowed: Option<&Grid>,
        frame: &Frame,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let mut covered = match self {
            Deed::Push => Grid::filled(frame.cols, frame.rows, 1.0),
            _ => brush.covered(frame),
        };
        if let Some(allowed) = allowed {
            covered = covered.zip_map(allowed, |covered, allowed| covered * allowed);
        }
        let raised = |by: &Grid| before.zip_map(by, |height, by| height + by);
        let towards = |target: &Grid| {
            let change = target.zip_map(before, |target, height| target - height);
            change.zip_map(&shares(&covered, brush), |change, share| change * share)
        };
        Ok(match *self {
            Deed::Raise { by_m } => raised(&covered.map(|share| by_m as f32 * share)),
            Deed::Roughen {
                by_m,
                feature_m,
                seed,
            } => {
                let noise = FractalNoise {
                    feature_m,
                    seed,
                    ..FractalNoise::default()
                };
                let (low, high) = *SPREAD;
                let (middle, scale) = (0.5 * (low + high), by_m as f32 / (high - low));
                let rough = noise.fill(frame, run)?;
                raised(&rough.zip_map(&covered, |value, share| scale * (value - middle) * share))
            }
            Deed::PaintBack => {
                let shares = shares(&covered, brush);
                let change = below.zip_map(before, |was, is| was - is);
                let back = change.zip_map(&shares, |change, share| change * share);
                let nearly = raised(&back);
                // Where it is full, to the bit.
                let full = shares.zip_map(below, |share, was| (share, was));
                nearly.zip_map(
                    &full,
                    |now, (share, was)| if share >= 1.0 { was } else { now },
                )
            }
            Deed::Flatten(level) => {
                let target = level_ground(level, brush, before, &covered, frame);
                raised(&towards(&target))
            }
            Deed::Push => {
                let moved = pushed(brush, before, frame);
                match allowed {
                    None => moved,
                    Some(_) => raised(&towards(&moved)),
                }
            }
            Deed::Smooth | Deed::Sharpen => {
                let soft = blurred_to_the_edge(before, BLUR * brush.radius_m, frame.cell_m);
                let target = match self {
                    Deed::Smooth => soft,
                    _ => before.zip_map(&soft, |height, soft| height + SHARPER * (height - soft)),
                };
                raised(&evened(towards(&target), &shares(&covered, brush)))
            }
            Deed::Weather => {
                let fallen = fallen(before, frame.cell_m, run)?;
                let round = blurred_to_the_edge(&fallen, ROUND * brush.radius_m, frame.cell_m);
                raised(&evened(towards(&round), &shares(&covered, brush)))
            }
        })
    }
}

/// How far the land goes on its way to what it is to be: of a brush that builds up, each
/// pass takes its share of what is left.
fn shares(covered: &Grid, brush: &Brush) -> Grid {
    match brush.builds_up {
        true => covered.map(|laid| 1.0 - (-laid).exp()),
        false => covered.clone(),
    }
}

/// A change without its mean: as much ground comes as goes.
fn evened(change: Grid, shares: &Grid) -> Grid {
    let all = shares.sum();
    if all <= 0.0 {
        return change;
    }
    let mean = (change.sum() / all) as f32;
    change.zip_map(shares, |change, share| change - mean * share)
}

/// What the land is levelled to.
fn level_ground(level: Level, brush: &Brush, before: &Grid, covered: &Grid, frame: &Frame) -> Grid {
    let even = |height: f32| Grid::filled(frame.cols, frame.rows, height);
    match level {
        Level::Height(height_m) => even(height_m as f32),
        Level::Began => {
            let first = brush
                .courses
                .first()
                .and_then(|course| course.points.first());
            let first = first.expect("a stroke that touches something has a course");
            let near = 0.25 * brush.radius_m.max(2.0 * frame.cell_m);
            let (mut sum, mut count) = (0.0, 0.0);
            for r in 0..frame.rows {
                for c in 0..frame.cols {
                    let away = (frame.x_m(c) - first.at.x).hypot(frame.y_m(r) - first.at.y);
                    let weight = (1.0 - away / near).max(0.0);
                    sum += weight * f64::from(before.at(c, r));
                    count += weight;
                }
            }
            match count > 0.0 {
                true => even((sum / count) as f32),
                false => before.clone(),
            }
        }
        Level::Plane => {
            let [height, east, north] = plane(before, covered, frame);
            Grid::by_rows(frame.cols, frame.rows, |r, row| {
                for (c, value) in row.iter_mut().enumerate() {
                    *value = (height + east * frame.x_m(c) + north * frame.y_m(r)) as f32;
                }
            })
        }
    }
}

/// The plane with the least squares from `heights`, weighed by `weights`: its height at
/// the origin, and how it rises to the east and to the north.
fn plane(heights: &Grid, weights: &Grid, frame: &Frame) -> [f64; 3] {
    // Around the weighted middle the sums stay small, and the slope apart from the height.
    let mut sums = [0.0_f64; 4];
    let each = |add: &mut dyn FnMut(f64, f64, f64, f64)| {
        for r in 0..frame.rows {
            for c in 0..frame.cols {
                let weight = f64::from(weights.at(c, r));
                add(
                    weight,
                    frame.x_m(c),
                    frame.y_m(r),
                    f64::from(heights.at(c, r)),
                );
            }
        }
    };
    each(&mut |w, x, y, z| {
        for (sum, value) in sums.iter_mut().zip([w, w * x, w * y, w * z]) {
            *sum += value;
        }
    });
    let [all, x, y, z] = sums;
    if all <= 0.0 {
        return [0.0; 3];
    }
    let (x0, y0, z0) = (x / all, y / all, z / all);
    let [mut xx, mut xy, mut yy, mut xz, mut yz] = [0.0_f64; 5];
    each(&mut |w, x, y, z| {
        let (x, y, z) = (x - x0, y - y0, z - z0);
        xx += w * x * x;
        xy += w * x * y;
        yy += w * y * y;
        xz += w * x * z;
        yz += w * y * z;
    });
    let determinant = xx * yy - xy * xy;
    let (east, north) = match determinant > 1e-9 * (xx * yy).max(f64::MIN_POSITIVE) {
        true => (
            (xz * yy - yz * xy) / determinant,
            (yz * xx - xz * xy) / determinant,
        ),
        false => (0.0, 0.0),
    };
    [z0 - east * x0 - north * y0, east, north]
}

/// The land after what stands too steeply has fallen: on coarse grids first, where far is
/// near, and then finer ones.
fn fallen(before: &Grid, cell_m: f64, run: Run) -> Result<Grid, Cancelled> {
    /// Cells along the longer side of the first grid, at most.
    const FIRST: usize = 64;
    /// Steps on it; each finer one has half as many, but not fewer than the least.
    const STEPS: usize = 240;
    const LEAST_STEPS: usize = 16;
    let mut grids = vec![before.clone()];
    while let Some(last) = grids.last()
        && last.cols().max(last.rows()) > FIRST
    {
        grids.push(halve(last));
    }
    let place = |grid: &Grid, halvings: usize| Frame {
        north_m: 0.0,
        cell_m: cell_m * (1_u64 << halvings) as f64,
        col0: 0,
        row0: 0,
        cols: grid.cols(),
        rows: grid.rows(),
    };
    let mut change: Option<(Grid, Frame)> = None;
    for (halvings, land) in grids.iter().enumerate().rev() {
        let frame = place(land, halvings);
        let begun = match &change {
            None => land.clone(),
            Some((change, from)) => {
                let here = resample(change, from, &frame);
                land.zip_map(&here, |height, change| height + change)
            }
        };
        let talus = Grid::filled(land.cols(), land.rows(), RESTS_DEG.to_radians().tan());
        let crumbling = Crumbling {
            talus: &talus,
            sharpness: 0.4,
            cover: None,
        };
        let finer = grids.len() - 1 - halvings;
        let level = erosion::Level {
            cell_m: frame.cell_m,
            iterations: (STEPS >> finer).max(LEAST_STEPS),
        };
        let moved = crumble(&begun, crumbling, level, run.quietly())?;
        let came = moved.deposit.zip_map(&moved.wear, |laid, worn| laid - worn);
        let now = begun.zip_map(&came, |height, came| height + came);
        change = Some((now.zip_map(land, |now, before| now - before), frame));
    }
    let (change, _) = change.expect("at least the land's own grid");
    Ok(before.zip_map(&change, |height, change| height + change))
}
