//! Seeing the land at other places: along a bearing, towards a point, in a
//! twirl, along a swirling flow.
//!
//! All of these look up the height at a place that lies no farther away than
//! [`Move::reach_m`], so that a window needs that much around it.

use crate::grid::Sampler;
use crate::noise::{Basis, FractalNoise, hash, unit};
use crate::smooth::smooth;
use crate::{Cancelled, Frame, Grid, Run};

/// Where to look.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Move {
    /// To and fro along a bearing, by noise.
    Drift {
        /// Farthest push, metres.
        distance_m: f64,
        /// Compass bearing of the push.
        bearing_deg: f64,
        /// Size of the largest swings, metres.
        feature_m: f64,
        /// Layers of finer swings.
        octaves: f64,
        /// Random seed.
        seed: u32,
    },
    /// Towards a point (share above 0) or away from it (below 0).
    Pull {
        /// The point, metres east and north.
        centre_m: (f64, f64),
        /// Nothing moves beyond this, metres.
        radius_m: f64,
        /// −1 to 1.
        share: f64,
    },
    /// Around a point, most in the middle.
    Twirl {
        /// The point, metres east and north.
        centre_m: (f64, f64),
        /// Nothing moves beyond this, metres.
        radius_m: f64,
        /// Turn in the middle, clockwise.
        angle_deg: f64,
    },
    /// Along a flow without sources or sinks (the curl of noise: Bridson,
    /// Houriham and Nordenstam 2007): forms are drawn out, none is squeezed.
    Swirl {
        /// Longest way that is flowed, metres.
        distance_m: f64,
        /// Size of the largest swirls, metres.
        feature_m: f64,
        /// Layers of finer swirls.
        octaves: f64,
        /// Random seed.
        seed: u32,
    },
}

/// Steps along the flow; more follow its bends more closely.
const FLOW_STEPS: usize = 6;
/// Slopes of gradient noise stay below this almost everywhere; faster flow is
/// slowed down to it.
const FASTEST: f32 = 2.0;

impl Move {
    /// No place is looked up farther away than this, metres.
    pub fn reach_m(&self) -> f64 {
        match *self {
            Move::Drift { distance_m, .. } | Move::Swirl { distance_m, .. } => distance_m.abs(),
            // What is moved stays within the circle.
            Move::Pull {
                radius_m, share, ..
            } => radius_m * share.abs(),
            Move::Twirl {
                radius_m,
                angle_deg,
                ..
            } => {
                let half = (0.5 * angle_deg.abs()).min(90.0).to_radians();
                2.0 * radius_m * half.sin()
            }
        }
    }

    /// The margin, in cells of `cell_m`, that [`Move::apply`] needs.
    pub fn margin(&self, cell_m: f64) -> usize {
        // Two more for the cubic's neighbours.
        (self.reach_m() / cell_m).ceil() as usize + 2
    }

    /// `heights`, standing on `wide`, seen at the moved places of `frame`.
    /// Local when `wide` has at least [`Move::margin`] cells around `frame`.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn apply(
        &self,
        heights: &Grid,
        wide: &Frame,
        frame: &Frame,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let sampler = Sampler::new(heights, wide);
        let by = |place: &(dyn Fn(usize, usize) -> (f64, f64) + Sync)| {
            Grid::by_rows(frame.cols, frame.rows, |r, out| {
                if run.check().is_ok() {
                    for (c, out) in out.iter_mut().enumerate() {
                        let (x_m, y_m) = place(c, r);
                        *out = sampler.bicubic(x_m, y_m);
                    }
                }
            })
        };
        let moved = match *self {
            Move::Drift {
                distance_m,
                bearing_deg,
                feature_m,
                octaves,
                seed,
            } => {
                let noise = FractalNoise {
                    feature_m,
                    octaves,
                    seed,
                    ..FractalNoise::default()
                };
                let push = noise.fill(frame, run)?;
                let (east, north) = bearing_deg.to_radians().sin_cos();
                by(&|c, r| {
                    let push_m = distance_m * f64::from(push.at(c, r));
                    (frame.x_m(c) + push_m * east, frame.y_m(r) + push_m * north)
                })
            }
            Move::Pull {
                centre_m,
                radius_m,
                share,
            } => by(&|c, r| pulled(centre_m, radius_m, share, frame.x_m(c), frame.y_m(r))),
            Move::Twirl {
                centre_m,
                radius_m,
                angle_deg,
            } => by(&|c, r| twirled(centre_m, radius_m, angle_deg, frame.x_m(c), frame.y_m(r))),
            Move::Swirl {
                distance_m,
                feature_m,
                octaves,
                seed,
            } => {
                let flow = Flow::new(feature_m, octaves, seed, frame.cell_m);
                by(&|c, r| flow.upstream(frame.x_m(c), frame.y_m(r), distance_m))
            }
        };
        run.check()?;
        Ok(moved)
    }
}

/// 1 in the middle of a circle, 0 from its rim on.
fn hold(distance_m: f64, radius_m: f64) -> f64 {
    smooth(1.0 - distance_m / radius_m)
}

fn pulled(centre_m: (f64, f64), radius_m: f64, share: f64, x_m: f64, y_m: f64) -> (f64, f64) {
    let (dx, dy) = (x_m - centre_m.0, y_m - centre_m.1);
    // Pulling forms in means looking farther out.
    let scale = 1.0 + share * hold(dx.hypot(dy), radius_m);
    (centre_m.0 + dx * scale, centre_m.1 + dy * scale)
}

fn twirled(centre_m: (f64, f64), radius_m: f64, angle_deg: f64, x_m: f64, y_m: f64) -> (f64, f64) {
    let (dx, dy) = (x_m - centre_m.0, y_m - centre_m.1);
    let angle = angle_deg.to_radians() * hold(dx.hypot(dy), radius_m);
    let (sin, cos) = angle.sin_cos();
    // Forms turn clockwise when places are looked up anticlockwise.
    (
        centre_m.0 + dx * cos - dy * sin,
        centre_m.1 + dx * sin + dy * cos,
    )
}

/// The curl of a layered noise.
struct Flow {
    /// Frequency per metre, shift in lattice cells, seed and speed.
    layers: Vec<(f64, (f64, f64), u32, f32)>,
}

impl Flow {
    fn new(feature_m: f64, octaves: f64, seed: u32, cell_m: f64) -> Self {
        let count = octaves.max(0.0).ceil() as usize;
        let part = |o: usize| (octaves - o as f64).clamp(0.0, 1.0) * 0.5f64.powi(o as i32);
        let total: f64 = (0..count).map(part).sum();
        let layers = (0..count)
            .filter_map(|o| {
                let frequency = 2f64.powi(o as i32) / feature_m;
                let place = |axis| f64::from(unit(hash(o as i32, axis, seed)));
                // As with layered noise, what the grid cannot carry is left out.
                let carried = ((1.0 / (frequency * cell_m) - 2.0) / 2.0).clamp(0.0, 1.0);
                let speed = (part(o) / total * carried) as f32;
                let seed = hash(o as i32, 2, seed);
                (speed > 0.0).then_some((frequency, (place(0), place(1)), seed, speed))
            })
            .collect();
        Self { layers }
    }

    /// The flow at a place: east and north, at most 1 long.
    fn at(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        let (mut east, mut north) = (0.0, 0.0);
        for &(frequency, shift, seed, speed) in &self.layers {
            let (x, y) = (x_m * frequency + shift.0, y_m * frequency + shift.1);
            let noise = Basis::Gradient.sample(x, y, seed, 0.0);
            east += speed * noise.dy;
            north -= speed * noise.dx;
        }
        let scale = 1.0 / (east * east + north * north).sqrt().max(FASTEST);
        (f64::from(east * scale), f64::from(north * scale))
    }

    fn upstream(&self, x_m: f64, y_m: f64, distance_m: f64) -> (f64, f64) {
        let step_m = distance_m / FLOW_STEPS as f64;
        let (mut x, mut y) = (x_m, y_m);
        for _ in 0..FLOW_STEPS {
            // Midpoint rule: half a step to see where the flow goes.
            let (east, north) = self.at(x, y);
            let half = 0.5 * step_m;
            let (east, north) = self.at(x - half * east, y - half * north);
            (x, y) = (x - step_m * east, y - step_m * north);
        }
        (x, y)
    }
}
