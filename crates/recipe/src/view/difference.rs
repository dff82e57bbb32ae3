//! What has changed between two moments, as a map.

use terrain::Grid;

/// A signed difference in height.
#[derive(Clone, Debug, PartialEq)]
pub struct Difference {
    /// Blue where the land has sunk, red where it has risen, white where
    /// nothing has changed; sRGB.
    pub colour: Grid<[u8; 3]>,
    /// Root mean square of the change, metres.
    pub rms_m: f64,
    /// The change farthest from zero, metres.
    pub most_m: f32,
    /// The change that has the full colour, metres.
    pub scale_m: f32,
}

/// The ends of the colour scale: risen and sunk. They differ in lightness and
/// hue also for colour-blind eyes (after Brewer's RdBu scheme, 2003).
const RISEN: [f32; 3] = [178.0, 24.0, 43.0];
const SUNK: [f32; 3] = [33.0, 102.0, 172.0];
const SAME: [f32; 3] = [247.0, 247.0, 247.0];

impl Difference {
    /// `now` less `before`, two grids of one size.
    pub fn between(now: &Grid, before: &Grid) -> Self {
        let change = now.zip_map(before, |now, before| now - before);
        let (low, high) = change.range();
        let most_m = if high >= -low { high } else { low };
        let square = change.map(|v| v * v).sum() / change.values().len().max(1) as f64;
        let scale_m = round_up(most_m.abs());
        let colour = change.map(|change| {
            let t = (change / scale_m).clamp(-1.0, 1.0);
            let end = if t >= 0.0 { RISEN } else { SUNK };
            // A root shows small changes too.
            let share = t.abs().sqrt();
            std::array::from_fn(|i| (SAME[i] + share * (end[i] - SAME[i])).round() as u8)
        });
        Self {
            colour,
            rms_m: square.sqrt(),
            most_m,
            scale_m,
        }
    }
}

/// The next of 1, 2, 5, 10 … up.
fn round_up(metres: f32) -> f32 {
    if metres <= 0.0 {
        return 1.0;
    }
    let power = 10f32.powf(metres.log10().floor());
    let lead = metres / power;
    let step = [1.0, 2.0, 5.0, 10.0].into_iter().find(|s| lead <= *s);
    step.unwrap_or(10.0) * power
}
