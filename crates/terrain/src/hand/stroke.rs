//! A stroke on the land, and how far around it looks.

use super::{Brush, Deed};
use crate::line::DVec2;
use crate::mask::Range;
use crate::{Cancelled, Extent, Frame, Grid, Run};

/// A stroke on the land.
#[derive(Clone, Debug, PartialEq)]
pub struct Stroke {
    /// Where, and how much.
    pub brush: Brush,
    /// What it does there.
    pub deed: Deed,
    /// Only where the land, as it is before the stroke, has such a height.
    pub only: Option<Range>,
}

/// Strokes on one land, the oldest first.
#[derive(Clone, Debug, PartialEq)]
pub struct Strokes {
    /// The strokes.
    pub strokes: Vec<Stroke>,
    /// The land's size: nothing is worked farther beyond it than a quarter of its longer
    /// side.
    pub extent: Extent,
}

impl Strokes {
    /// The cells on which the land below must be known, so that `frame` has the bits of
    /// the whole: itself, or itself and as much around as strokes look at that reach into
    /// it.
    pub fn needed(&self, frame: &Frame) -> Frame {
        /// Room is made in such steps, so that the next stroke seldom needs more.
        const LEAST_ROOM: i64 = 16;
        let bounds = self.bounds(frame);
        let mut need = *frame;
        let around = self
            .strokes
            .iter()
            .rev()
            .filter(|one| one.deed.looks_around());
        for stroke in around {
            if let Some(touched) = stroke.touched(&bounds)
                && touched.common(&need).is_some()
            {
                need = need.joined(&stroke.patch(&touched, &bounds));
            }
        }
        let ends = |frame: &Frame| {
            let (col1, row1) = (
                frame.col0 + frame.cols as i64,
                frame.row0 + frame.rows as i64,
            );
            [-frame.col0, -frame.row0, col1, row1]
        };
        let beyond = ends(&need).into_iter().zip(ends(frame));
        match beyond.map(|(need, has)| need - has).max() {
            Some(room @ 1..) => {
                let room = room.max(LEAST_ROOM).cast_unsigned();
                frame.grown(room.next_power_of_two() as usize)
            }
            _ => *frame,
        }
    }

    /// Works the stroke of this number on `land`, whose cells stand on `frame`; `below` is
    /// the land before the first stroke. A stroke that looks at more than `frame` has
    /// leaves it as it is: no cell that `frame` was [needed](Self::needed) for sees it.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop; the land is then as it was.
    pub fn work(
        &self,
        number: usize,
        below: &Grid,
        land: &mut Grid,
        frame: &Frame,
        run: Run,
    ) -> Result<(), Cancelled> {
        let (stroke, bounds) = (&self.strokes[number], self.bounds(frame));
        let Some(touched) = stroke.touched(&bounds) else {
            return Ok(());
        };
        let patch = match stroke.deed.looks_around() {
            true => Some(stroke.patch(&touched, &bounds)),
            false => touched.common(frame),
        };
        let Some(patch) = patch.filter(|patch| frame.offset_of(patch).is_some()) else {
            return Ok(());
        };
        let (col, row) = frame.offset_of(&patch).expect("it is inside");
        let part = |grid: &Grid| grid.cropped(col, row, patch.cols, patch.rows);
        let after = stroke.done(&part(land), &part(below), &patch, run)?;
        land.lay(&after, col, row);
        Ok(())
    }

    /// Where strokes work, on the lattice of `frame`.
    fn bounds(&self, frame: &Frame) -> Frame {
        let Extent { width_m, depth_m } = self.extent;
        let beyond = 0.25 * self.extent.longest_m();
        let ends = |length_m: f64| [-beyond, length_m + beyond];
        frame.within(ends(width_m), ends(depth_m), 0)
    }
}

impl Stroke {
    /// The cells that the brush may cover; none without a course.
    fn touched(&self, bounds: &Frame) -> Option<Frame> {
        let [low, high] = self.brush.shown_on(bounds.cell_m).bounds()?;
        let ([west, south], [east, north]) = bounds.corners_m();
        let (low, high) = (
            low.max(DVec2::new(west, south)),
            high.min(DVec2::new(east, north)),
        );
        bounds
            .within([low.x, high.x], [low.y, high.y], 0)
            .common(bounds)
    }

    /// What it touches and what it looks at to do so.
    fn patch(&self, touched: &Frame, bounds: &Frame) -> Frame {
        let around = (self.deed.looks_m(&self.brush) / bounds.cell_m).ceil();
        let around = around.min((bounds.cols + bounds.rows) as f64) as usize;
        touched.grown(around).common(bounds).unwrap_or(*touched)
    }

    /// The land of a patch after the stroke.
    fn done(&self, land: &Grid, below: &Grid, patch: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let brush = self.brush.shown_on(patch.cell_m);
        let allowed = self.only.map(|only| land.map(|height| only.at(height)));
        self.deed
            .done(&brush, land, below, allowed.as_ref(), patch, run)
    }
}
