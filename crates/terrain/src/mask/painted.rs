//! Masks painted by hand.

use crate::hand::Brush;
use crate::{Cancelled, Frame, Grid, Run};

/// A stroke on a mask.
#[derive(Clone, Debug, PartialEq)]
pub struct Coat {
    /// Where, and how much.
    pub brush: Brush,
    /// Takes away instead of adding.
    pub erase: bool,
}

/// What `coats`, the oldest first, paint on the cells of `frame`, 0 to 1.
/// Each one covers what is left of the way to full, or to none: many soft
/// strokes build up slowly. A stroke that crosses itself does not build up
/// there, unless its brush does. Local: a window has the bits of the whole.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn painted(coats: &[Coat], frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
    let painted = Grid::by_rows(frame.cols, frame.rows, |r, row| {
        let y_m = frame.y_m(r);
        let mut added = vec![0.0_f32; row.len()];
        for coat in coats {
            // A row under thousands of long strokes is a long way.
            if run.check().is_err() {
                return;
            }
            added.fill(0.0);
            if !coat.brush.cover_row(frame, y_m, &mut added) {
                continue;
            }
            for (value, added) in row.iter_mut().zip(&added) {
                *value = match coat.erase {
                    true => *value * (1.0 - added.min(1.0)),
                    false => *value + (1.0 - *value) * added.min(1.0),
                };
            }
        }
    });
    run.check()?;
    Ok(painted)
}
