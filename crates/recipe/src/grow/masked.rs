//! The value of a mask on the land as it is at a step.

use terrain::grid::refined;
use terrain::mask::{broken_up, grow_margin, grown, ragged, toned};
use terrain::shape::{Curve, blur_halvings, blur_margin, blurred};
use terrain::{Frame, Grid};

use super::GrowError;
use super::readings::{Beneath, patches};
use crate::document::{Broken, Mask, Term};

/// `mask`, 0 to 1, on the cells of `frame`; `beneath` has at least the mask's
/// margin around them.
pub(crate) fn mask_on(mask: &Mask, beneath: &Beneath, frame: &Frame) -> Result<Grid, GrowError> {
    let mut value = match blur_halvings(mask.blur_m, frame.cell_m) {
        0 => softened(mask, beneath, frame)?,
        // So soft that coarser cells tell all of it.
        halvings => {
            let coarse = frame.coarser(halvings);
            let over = beneath.on_coarser(mask, &coarse)?;
            let soft = softened(mask, &over, &coarse)?;
            refined(&soft, halvings, frame).map(|value| value.clamp(0.0, 1.0))
        }
    };
    if mask.contrast != 1.0 || mask.brightness != 0.0 {
        value = value.map(|value| toned(value, mask.contrast, mask.brightness));
    }
    let noise = |broken: &Broken| patches(broken.feature_m, broken.seed).fill(frame, beneath.run());
    if let Some(broken) = &mask.ragged {
        let noise = noise(broken)?;
        value = value.zip_map(&noise, |value, noise| ragged(value, noise, broken.amount));
    }
    if let Some(broken) = &mask.breakup {
        let noise = noise(broken)?;
        value = value.zip_map(&noise, |value, noise| {
            broken_up(value, noise, broken.amount)
        });
    }
    Ok(value)
}

/// The mask's terms, grown and blurred.
fn softened(mask: &Mask, beneath: &Beneath, frame: &Frame) -> Result<Grid, GrowError> {
    let cell_m = frame.cell_m;
    let grow_m = mask.grow_on(beneath.cells(frame));
    let soft = frame.grown(blur_margin(mask.blur_m, cell_m));
    let wide = soft.grown(grow_margin(grow_m, cell_m));
    let mut value = joined(&mask.terms, beneath, &wide)?;
    if grow_m != 0.0 {
        value = grown(&value, grow_m, cell_m);
    }
    if mask.blur_m > 0.0 {
        value = blurred(&value, mask.blur_m, cell_m);
    }
    Ok(value)
}

/// Terms joined one after the other; everywhere when there are none.
fn joined(terms: &[Term], beneath: &Beneath, frame: &Frame) -> Result<Grid, GrowError> {
    let mut joined: Option<Grid> = None;
    for term in terms {
        beneath.run().check()?;
        let value = term_on(term, beneath, frame)?;
        let join = term.join;
        joined = Some(match joined {
            None => value,
            Some(before) => before.zip_map(&value, |a, b| join.apply(a, b)),
        });
    }
    Ok(joined.unwrap_or_else(|| Grid::filled(frame.cols, frame.rows, 1.0)))
}

/// How much of a term there is: the reading's range, bent, turned round, and
/// weighed.
pub(super) fn term_on(term: &Term, beneath: &Beneath, frame: &Frame) -> Result<Grid, GrowError> {
    let (range, invert, weight) = (term.range(), term.invert, term.weight);
    let points: Vec<(f32, f32)> = term.curve.iter().map(|[x, y]| (*x, *y)).collect();
    let curve = Curve::through(&points).ok();
    // What a term of no weight leaves: everything, or nothing.
    let none = term.join.neutral();
    let reading = beneath.reading(&term.of, frame)?;
    // A share without a range is taken as it is.
    let as_it_is = term.of.is_share() && term.from.is_none() && term.to.is_none();
    Ok(reading.map(|reading| {
        let inside = match as_it_is {
            true => reading.clamp(0.0, 1.0),
            false => range.at(reading),
        };
        let bent = match &curve {
            Some(curve) => curve.at(inside).clamp(0.0, 1.0),
            None => inside,
        };
        let turned = if invert { 1.0 - bent } else { bent };
        none + weight * (turned - none)
    }))
}
