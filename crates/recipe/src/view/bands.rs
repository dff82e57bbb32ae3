//! The column's bands: what each step changed, and how much.

use terrain::grid::with_apron;
use terrain::light::Sun;
use terrain::picture::hillshade;
use terrain::{Frame, Grid, Run};

use crate::document::Recipe;
use crate::grow::{Assets, GrowError, Grower};

/// What one step changed.
pub struct Band {
    /// The step's id.
    pub step: String,
    /// Root mean square of the change in height, metres.
    pub rms_m: f64,
    /// Shaded relief of the change.
    pub relief: Grid<u8>,
}

/// Changes are drawn as if they were this high over the width of the land, so
/// that a faint one can be seen as well as a strong one.
const DRAWN_RELIEF: f32 = 0.12;

/// What each step of every strand changed, on a grid of `cells` along the longer
/// side. Steps that are off changed nothing.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn bands(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    cells: usize,
    run: Run,
) -> Result<Vec<Band>, GrowError> {
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let mut all = Vec::new();
    for strand in &recipe.strands {
        let stages = grower.stages(recipe, &strand.name, assets, &frame, run)?;
        let heights: Vec<_> = stages
            .iter()
            .map(|state| state.cropped(&frame).heights)
            .collect();
        let pairs = strand.steps.iter().zip(heights.windows(2));
        all.extend(pairs.map(|(step, pair)| {
            let change = pair[1].zip_map(&pair[0], |after, before| after - before);
            let squares: f64 = change.values().iter().map(|&v| f64::from(v).powi(2)).sum();
            Band {
                step: step.id.clone(),
                rms_m: (squares / frame.cells() as f64).sqrt(),
                relief: relief(&change, &frame),
            }
        }));
    }
    Ok(all)
}

fn relief(change: &Grid, frame: &Frame) -> Grid<u8> {
    let (low, high) = change.range();
    let width_m = frame.cell_m as f32 * frame.cols as f32;
    let exaggeration = match high > low {
        true => DRAWN_RELIEF * width_m / (high - low),
        false => 1.0,
    };
    let sun = Sun {
        bearing_deg: 315.0,
        altitude_deg: 45.0,
    };
    hillshade(&with_apron(change), frame.cell_m, sun, exaggeration)
}
