//! What a geomorphologist would ask of a piece of land, measured: on ours and on real
//! land by the same code.

mod basins;
mod channels;
mod forms;
mod roughness;
mod surface;

pub use basins::{Geomorphology, geomorphology};
pub use channels::{Channels, Spacing};
pub use forms::{Form, Forms};
pub use surface::{Likeness, likeness};

use self::basins::geomorphology_of;
use self::channels::channels_of;
use self::forms::forms_of;
use self::roughness::spectrum_slope;
use self::surface::likeness_of;
use super::drainage::drain;
use crate::{Cancelled, Grid, Run};

/// All that is measured of a piece of land.
#[derive(Clone, Debug, PartialEq)]
pub struct Nature {
    /// Laws of its drainage basins.
    pub basins: Geomorphology,
    /// Its surface.
    pub surface: Likeness,
    /// Its channels.
    pub channels: Channels,
    /// Shares of the forms that it is made of.
    pub forms: Forms,
    /// Exponent β of its power spectrum, P ∝ k^−β; about 2 to 3.5 for most land
    /// (Perron, Kirchner and Dietrich 2008, from memory).
    pub spectrum: Option<f64>,
}

/// Measures `heights` on cells of `cell_m`; what is below `sea_level_m` is sea.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn nature(
    heights: &Grid,
    cell_m: f64,
    sea_level_m: f32,
    run: Run,
) -> Result<Nature, Cancelled> {
    let drainage = drain(heights, sea_level_m, run)?;
    run.check()?;
    Ok(Nature {
        basins: geomorphology_of(&drainage, heights, cell_m, sea_level_m),
        surface: likeness_of(&drainage, heights, cell_m, sea_level_m),
        channels: channels_of(&drainage, heights, cell_m, sea_level_m),
        forms: forms_of(heights, cell_m, sea_level_m),
        spectrum: spectrum_slope(heights, sea_level_m),
    })
}

/// Slope of the straight line that fits points best; `None` for fewer than two.
fn slope(points: impl Iterator<Item = (f64, f64)>) -> Option<f64> {
    let points: Vec<(f64, f64)> = points.collect();
    let n = points.len() as f64;
    let (mx, my) = (
        points.iter().map(|p| p.0).sum::<f64>() / n,
        points.iter().map(|p| p.1).sum::<f64>() / n,
    );
    let across: f64 = points.iter().map(|p| (p.0 - mx).powi(2)).sum();
    let along: f64 = points.iter().map(|p| (p.0 - mx) * (p.1 - my)).sum();
    (points.len() >= 2 && across > 0.0).then(|| along / across)
}
