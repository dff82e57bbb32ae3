//! The value of a mask on the land as it is at a step.

use terrain::grid::without_apron;
use terrain::noise::FractalNoise;
use terrain::reading::{facing_deg, slope_deg};
use terrain::shape::{blur_margin, blurred};
use terrain::{Frame, Grid, Run};

use super::{GrowError, State};
use crate::document::{Mask, Reading};
use crate::steps::lines_of;

/// `mask`, 0 to 1, on the cells of `frame`; `land` has at least the mask's
/// margin around them.
pub(crate) fn mask_on(
    mask: &Mask,
    land: &State,
    frame: &Frame,
    run: Run,
) -> Result<Grid, GrowError> {
    let wide = frame.grown(blur_margin(mask.blur_m, frame.cell_m));
    let sharp = sharp_mask(mask, land, &wide, run)?;
    Ok(match mask.blur_m > 0.0 {
        true => blurred(&sharp, mask.blur_m, frame.cell_m),
        false => sharp,
    })
}

fn sharp_mask(mask: &Mask, land: &State, frame: &Frame, run: Run) -> Result<Grid, GrowError> {
    let mut joined: Option<Grid> = None;
    for term in &mask.terms {
        run.check()?;
        let range = term.range();
        let invert = term.invert;
        let value = reading_on(term.of, land, frame, run)?.map(|reading| {
            let inside = range.at(reading);
            if invert { 1.0 - inside } else { inside }
        });
        let join = terrain::mask::Combine::from(term.join);
        joined = Some(match joined {
            None => value,
            Some(before) => before.zip_map(&value, |a, b| join.apply(a, b)),
        });
    }
    Ok(joined.unwrap_or_else(|| Grid::filled(frame.cols, frame.rows, 1.0)))
}

/// Stands in for the distance to a river where there is none.
const NO_RIVER_M: f32 = 1e9;

/// A reading of `land` on the cells of `frame`.
fn reading_on(reading: Reading, land: &State, frame: &Frame, run: Run) -> Result<Grid, GrowError> {
    let near = frame.grown(reading.margin());
    let (col, row) = land
        .frame
        .offset_of(&near)
        .expect("the land reaches the mask's margin");
    let cropped = |grid: &Grid| grid.cropped(col, row, near.cols, near.rows);
    let heights = || cropped(&land.heights);
    Ok(match reading {
        Reading::Height => heights(),
        Reading::Slope => slope_deg(&heights(), frame.cell_m),
        Reading::Facing { bearing_deg } => facing_deg(&heights(), frame.cell_m, bearing_deg),
        Reading::Noise { feature_m, seed } => patches(feature_m, seed).fill(frame, run)?,
        Reading::Trace(trace) => match land.traces.get(&trace) {
            Some(grid) => cropped(grid),
            None => without_apron(&Grid::filled(near.cols, near.rows, 0.0), 0),
        },
        Reading::River { least_order } => {
            let rivers = land
                .rivers
                .as_ref()
                .map_or(&[][..], |rivers| rivers.as_slice());
            let lines = lines_of(rivers, least_order);
            Grid::by_rows(frame.cols, frame.rows, |r, row| {
                for (c, distance) in row.iter_mut().enumerate() {
                    let nearest = lines.nearest(frame.x_m(c), frame.y_m(r), f64::INFINITY);
                    *distance = nearest.map_or(NO_RIVER_M, |near| near.distance_m as f32);
                }
            })
        }
    })
}

/// The noise that breaks up masks and tints.
pub(crate) fn patches(feature_m: f64, seed: u32) -> FractalNoise {
    FractalNoise {
        feature_m,
        octaves: 6.0,
        gain: 0.6,
        seed,
        ..FractalNoise::default()
    }
}
