//! Cellular noise: distances to points strewn over a lattice, one in each cell
//! (Worley 1996, "A cellular texture basis function").
//!
//! Points keep away from their cell's border by a tenth of it, and only three
//! by three cells are searched. A nearer point beyond them is possible but
//! rare; a test holds how rare.

use super::hash::light_hash;
use super::lattice::{Age, Lanes, Sample, Slopes, Spot, Spots, chunk_loops};

/// Which distance to the strewn points is taken.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "NoiseCellFeature")
)]
pub enum CellFeature {
    /// To the nearest: rounded pits.
    #[default]
    Nearest,
    /// To the second nearest.
    Second,
    /// The second less the nearest: plates with creases between.
    Border,
}

/// How a distance is measured.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "NoiseCellDistance")
)]
pub enum CellDistance {
    /// As the crow flies: round cells.
    #[default]
    Straight,
    /// Along the axes: diamonds.
    AlongAxes,
    /// The longer of the two axes: squares.
    LongerAxis,
}

/// Share of a cell in which its point may lie.
const JITTER: f32 = 0.8;

/// For each feature and distance: the mean, and the distance between the mean
/// and the highest value that is told apart. Means are measured, and held by
/// a test.
const fn mean_and_reach(feature: CellFeature, distance: CellDistance) -> (f32, f32) {
    use CellDistance::{AlongAxes, LongerAxis, Straight};
    use CellFeature::{Border, Nearest, Second};
    match (feature, distance) {
        (Nearest, Straight) => (0.4151, 0.6849),
        (Nearest, AlongAxes) => (0.5245, 0.9755),
        (Nearest, LongerAxis) => (0.3686, 0.5814),
        (Second, Straight) => (0.7001, 0.6999),
        (Second, AlongAxes) => (0.8729, 0.8771),
        (Second, LongerAxis) => (0.6268, 0.6232),
        (Border, Straight) => (0.2851, 0.9149),
        (Border, AlongAxes) => (0.3483, 1.1517),
        (Border, LongerAxis) => (0.2583, 0.8417),
    }
}

/// A feature point's offset in its cell.
#[inline(always)]
fn point<const MOVING: bool>(ix: i32, iy: i32, age: Age) -> (f32, f32) {
    /// Half of the hash's bits for each axis.
    const UNIT: f32 = 1.0 / 65_536.0;
    let drawn = age.draw::<MOVING>(|seed| {
        let bits = light_hash(ix, iy, seed);
        ((bits & 0xffff) as f32 * UNIT, (bits >> 16) as f32 * UNIT)
    });
    let margin = 0.5 * (1.0 - JITTER);
    (margin + JITTER * drawn.0, margin + JITTER * drawn.1)
}

#[inline(always)]
fn length(distance: CellDistance, dx: f32, dy: f32) -> f32 {
    match distance {
        // Compared as squares; the root is taken at the end.
        CellDistance::Straight => dx * dx + dy * dy,
        CellDistance::AlongAxes => dx.abs() + dy.abs(),
        CellDistance::LongerAxis => dx.abs().max(dy.abs()),
    }
}

/// The slope of the distance at an offset of that length from the point.
#[inline(always)]
fn slope(distance: CellDistance, dx: f32, dy: f32, length: f32) -> (f32, f32) {
    match distance {
        CellDistance::Straight => {
            let scale = 1.0 / length.max(f32::MIN_POSITIVE);
            (dx * scale, dy * scale)
        }
        CellDistance::AlongAxes => (1f32.copysign(dx), 1f32.copysign(dy)),
        CellDistance::LongerAxis => match dx.abs() >= dy.abs() {
            true => (1f32.copysign(dx), 0.0),
            false => (0.0, 1f32.copysign(dy)),
        },
    }
}

#[inline(always)]
fn cell_sample<const MOVING: bool>(
    feature: CellFeature,
    distance: CellDistance,
    spot: Spot,
    age: Age,
) -> Sample {
    let (mut first, mut second) = (f32::MAX, f32::MAX);
    let (mut to_first, mut to_second) = ((0.0, 0.0), (0.0, 0.0));
    // One plain loop of known length: the compiler unrolls it whole.
    for k in 0..9 {
        let (col, row) = (k % 3 - 1, k / 3 - 1);
        let (px, py) = point::<MOVING>(spot.ix.wrapping_add(col), spot.iy.wrapping_add(row), age);
        let (dx, dy) = (spot.fx - col as f32 - px, spot.fy - row as f32 - py);
        let here = length(distance, dx, dy);
        let nearest = here < first;
        let next = here < second;
        let pick = |yes: bool, a: f32, b: f32| if yes { a } else { b };
        to_second = (
            pick(nearest, to_first.0, pick(next, dx, to_second.0)),
            pick(nearest, to_first.1, pick(next, dy, to_second.1)),
        );
        second = pick(nearest, first, pick(next, here, second));
        to_first = (pick(nearest, dx, to_first.0), pick(nearest, dy, to_first.1));
        first = pick(nearest, here, first);
    }
    if distance == CellDistance::Straight {
        (first, second) = (first.sqrt(), second.sqrt());
    }
    let (mean, reach) = mean_and_reach(feature, distance);
    let slopes = |to: (f32, f32), length: f32| slope(distance, to.0, to.1, length);
    let (raw, dx, dy) = match feature {
        CellFeature::Nearest => {
            let (dx, dy) = slopes(to_first, first);
            (first, dx, dy)
        }
        CellFeature::Second => {
            let (dx, dy) = slopes(to_second, second);
            (second, dx, dy)
        }
        CellFeature::Border => {
            let (a, b) = (slopes(to_second, second), slopes(to_first, first));
            (second - first, a.0 - b.0, a.1 - b.1)
        }
    };
    let scale = 1.0 / reach;
    Sample {
        value: ((raw - mean) * scale).min(1.0),
        dx: dx * scale,
        dy: dy * scale,
    }
}

/// One module for each feature and distance, so that each has loops of its
/// own, without a choice inside them.
macro_rules! cells {
    ($($module:ident, $feature:ident, $distance:ident;)*) => {
        $(mod $module {
            use super::{Age, CellDistance, CellFeature, Sample, Spot};
            use super::{cell_sample, chunk_loops};

            #[inline(always)]
            pub(super) fn sample<const MOVING: bool>(spot: Spot, age: Age) -> Sample {
                cell_sample::<MOVING>(CellFeature::$feature, CellDistance::$distance, spot, age)
            }

            chunk_loops!(sample);
        })*

        /// Cellular noise at one place.
        pub(super) fn sample(
            feature: CellFeature,
            distance: CellDistance,
            spot: Spot,
            age: Age,
        ) -> Sample {
            match (feature, distance) {
                $((CellFeature::$feature, CellDistance::$distance) => {
                    match age.still() {
                        Some(_) => $module::sample::<false>(spot, age),
                        None => $module::sample::<true>(spot, age),
                    }
                })*
            }
        }

        /// Cellular noise at a chunk of places.
        pub(super) fn fill(
            (feature, distance): (CellFeature, CellDistance),
            spots: &Spots,
            age: &Age,
            out: &mut Lanes,
            slopes: Option<Slopes>,
        ) {
            match (feature, distance) {
                $((CellFeature::$feature, CellDistance::$distance) => {
                    $module::fill(spots, age, out, slopes)
                })*
            }
        }
    };
}

cells! {
    nearest_straight, Nearest, Straight;
    nearest_along_axes, Nearest, AlongAxes;
    nearest_longer_axis, Nearest, LongerAxis;
    second_straight, Second, Straight;
    second_along_axes, Second, AlongAxes;
    second_longer_axis, Second, LongerAxis;
    border_straight, Border, Straight;
    border_along_axes, Border, AlongAxes;
    border_longer_axis, Border, LongerAxis;
}
