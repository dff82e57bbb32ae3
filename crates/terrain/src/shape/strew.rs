//! Many copies of a small shape, strewn over the land.
//!
//! Where a copy lies, how large it is and how it is turned follow from its
//! number and the seed alone, so that every window and every resolution sees
//! the same layout.

use rayon::prelude::*;

use crate::noise::{hash, unit};
use crate::smooth::smooth;
use crate::{Cancelled, Extent, Frame, Grid, Run};

/// How copies are laid out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Layout {
    /// Anywhere.
    Random,
    /// On a grid, each moved by up to `jitter` (0 to 1) of half its spacing.
    Grid {
        /// 0 in rank and file, 1 anywhere in its cell of the grid.
        jitter: f64,
    },
}

/// What happens where copies overlap.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "StrewOverlap")
)]
pub enum Overlap {
    /// The highest shows.
    #[default]
    Highest,
    /// They pile up.
    Sum,
}

/// A layout of copies.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Strew {
    /// About how many copies on the whole land.
    pub count: usize,
    /// How they are laid out.
    pub layout: Layout,
    /// Width of the smallest, metres.
    pub least_m: f64,
    /// Width of the largest, metres.
    pub greatest_m: f64,
    /// 1 spreads sizes evenly; above, small ones are more common (a size is
    /// an even draw to this power).
    pub size_power: f64,
    /// All copies are turned clockwise by this, degrees.
    pub bearing_deg: f64,
    /// How far copies are turned beyond that, as a share of a full turn.
    pub turn: f64,
    /// Depth of a copy as a share of its width; above 0, at most 1.
    pub slimness: f64,
    /// How much copies differ in height for their size, 0 to 1.
    pub height_spread: f64,
    /// Share of a copy's half width over which it fades out.
    pub soft_edge: f64,
    /// What happens where copies overlap.
    pub overlap: Overlap,
    /// Each cell is the mean of this many by this many looks.
    pub looks: usize,
    /// Which of the endless layouts.
    pub seed: u32,
}

/// One copy on the land.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct StrewnCopy {
    /// Its number in the layout.
    pub index: usize,
    /// Centre, metres east.
    pub x_m: f64,
    /// Centre, metres north.
    pub y_m: f64,
    /// Width, metres.
    pub size_m: f64,
    /// Clockwise turn, radians.
    pub turn: f64,
    /// Factor on its height.
    pub height: f64,
}

impl Strew {
    /// All copies whose shape may touch a cell of `frame`, in order.
    pub fn copies(&self, extent: Extent, frame: &Frame) -> Vec<StrewnCopy> {
        let ratio = extent.width_m / extent.depth_m;
        let across = ((self.count as f64 * ratio).sqrt().round() as usize).max(1);
        let up = ((self.count as f64 / across as f64).round() as usize).max(1);
        let number = match self.layout {
            Layout::Random => self.count,
            Layout::Grid { .. } => across * up,
        };
        (0..number)
            .map(|index| self.copy(extent, index, across, up))
            .filter(|copy| copy.touches(frame))
            .collect()
    }

    fn copy(&self, extent: Extent, index: usize, across: usize, up: usize) -> StrewnCopy {
        let draw = |what: i32| f64::from(unit(hash(index as i32, what, self.seed)));
        let (x, y) = (draw(0), draw(1));
        let (x, y) = match self.layout {
            Layout::Random => (x, y),
            Layout::Grid { jitter } => {
                let (col, row) = ((index % across) as f64, (index / across) as f64);
                let in_cell = |draw: f64| 0.5 + jitter * (draw - 0.5);
                (
                    (col + in_cell(x)) / across as f64,
                    (row + in_cell(y)) / up as f64,
                )
            }
        };
        let size = draw(2).powf(self.size_power);
        StrewnCopy {
            index,
            x_m: x * extent.width_m,
            y_m: y * extent.depth_m,
            size_m: self.least_m + size * (self.greatest_m - self.least_m),
            turn: draw(3) * self.turn * std::f64::consts::TAU + self.bearing_deg.to_radians(),
            height: 1.0 + self.height_spread * (2.0 * draw(4) - 1.0),
        }
    }

    /// The heights of the copies on `frame`, metres, and how much each cell is
    /// covered (0 to 1). `shape(u, v)` gives the shape from −1 to 1 in both;
    /// `height_m` is the height of a copy as wide as `greatest_m`, and smaller
    /// ones are lower in proportion. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill(
        &self,
        extent: Extent,
        frame: &Frame,
        height_m: f64,
        shape: impl Fn(&StrewnCopy, f64, f64) -> f32 + Sync,
        run: Run,
    ) -> Result<(Grid, Grid), Cancelled> {
        let bare = Grid::filled(frame.cols, frame.rows, 0.0);
        self.laid(extent, frame, bare, run, |copy, row, heights, cover| {
            let scale = self.scale(copy, height_m);
            self.cells(copy, frame, row, &shape, |c, value, covered| {
                let height = value * scale;
                heights[c] = match self.overlap {
                    Overlap::Sum => heights[c] + height,
                    Overlap::Highest if scale >= 0.0 => heights[c].max(height),
                    Overlap::Highest => heights[c].min(height),
                };
                cover[c] = cover[c].max(if value == 0.0 { 0.0 } else { covered });
            });
        })
    }

    /// `land` with each copy standing level on the height that `ground` gives
    /// for it, later ones over earlier ones; and how much each cell is covered.
    /// Otherwise as [`Strew::fill`].
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn stand(
        &self,
        extent: Extent,
        (land, frame): (Grid, &Frame),
        height_m: f64,
        shape: impl Fn(&StrewnCopy, f64, f64) -> f32 + Sync,
        ground: impl Fn(&StrewnCopy) -> f32 + Sync,
        run: Run,
    ) -> Result<(Grid, Grid), Cancelled> {
        self.laid(extent, frame, land, run, |copy, row, heights, cover| {
            let (scale, floor) = (self.scale(copy, height_m), ground(copy));
            self.cells(copy, frame, row, &shape, |c, value, covered| {
                heights[c] += covered * (floor - heights[c]) + scale * value;
                cover[c] = cover[c].max(covered);
            });
        })
    }

    fn scale(&self, copy: &StrewnCopy, height_m: f64) -> f32 {
        (height_m * copy.height * copy.size_m / self.greatest_m.max(1e-9)) as f32
    }

    /// Lays all copies over `land`, row by row; `lay` lays one over one row.
    fn laid(
        &self,
        extent: Extent,
        frame: &Frame,
        mut land: Grid,
        run: Run,
        lay: impl Fn(&StrewnCopy, usize, &mut [f32], &mut [f32]) + Sync,
    ) -> Result<(Grid, Grid), Cancelled> {
        let bands = Bands::new(&self.copies(extent, frame), frame);
        let mut cover = Grid::filled(frame.cols, frame.rows, 0.0);
        let cols = frame.cols.max(1);
        land.values_mut()
            .par_chunks_mut(cols)
            .zip(cover.values_mut().par_chunks_mut(cols))
            .enumerate()
            .for_each(|(r, (heights, cover))| {
                if run.check().is_ok() {
                    for copy in bands.at(r) {
                        lay(copy, r, heights, cover);
                    }
                }
            });
        run.check()?;
        Ok((land, cover))
    }

    /// Calls `put(column, shape, cover)` for each cell of a row that a copy
    /// may touch: means over the looks, faded out at the copy's edge.
    fn cells(
        &self,
        copy: &StrewnCopy,
        frame: &Frame,
        row: usize,
        shape: &impl Fn(&StrewnCopy, f64, f64) -> f32,
        mut put: impl FnMut(usize, f32, f32),
    ) {
        let looks = self.looks.max(1);
        let (sin, cos) = copy.turn.sin_cos();
        let reach = copy.reach_m();
        let first = (frame.col_at(copy.x_m - reach).floor() - 1.0).max(0.0) as usize;
        let end = frame.col_at(copy.x_m + reach).ceil() + 2.0;
        let end = (end.max(0.0) as usize).min(frame.cols);
        let step = frame.cell_m / looks as f64;
        let start = 0.5 * (step - frame.cell_m);
        for c in first.min(end)..end {
            let (mut sum, mut covered) = (0.0, 0.0);
            for look in 0..looks * looks {
                let dx = frame.x_m(c) + start + (look % looks) as f64 * step - copy.x_m;
                let dy = frame.y_m(row) + start + (look / looks) as f64 * step - copy.y_m;
                let u = (dx * cos - dy * sin) * 2.0 / copy.size_m;
                let v = (dx * sin + dy * cos) * 2.0 / (copy.size_m * self.slimness);
                let inside = 1.0 - u.abs().max(v.abs());
                if inside > 0.0 {
                    let soft = smooth(inside / self.soft_edge.max(1e-6)) as f32;
                    sum += soft * shape(copy, u, v);
                    covered += soft;
                }
            }
            let share = 1.0 / (looks * looks) as f32;
            if covered > 0.0 {
                put(c, sum * share, covered * share);
            }
        }
    }
}

impl StrewnCopy {
    /// Radius of the circle around the copy, metres.
    fn reach_m(&self) -> f64 {
        self.size_m * std::f64::consts::FRAC_1_SQRT_2
    }

    fn touches(&self, frame: &Frame) -> bool {
        let reach = self.reach_m() / frame.cell_m + 1.0;
        let (col, row) = (frame.col_at(self.x_m), frame.row_at(self.y_m));
        col + reach >= 0.0
            && row + reach >= 0.0
            && col - reach <= frame.cols as f64
            && row - reach <= frame.rows as f64
    }
}

/// The copies that each band of rows may meet, so that a row looks at few.
struct Bands {
    bands: Vec<Vec<StrewnCopy>>,
}

impl Bands {
    /// Rows in a band.
    const ROWS: usize = 16;

    fn new(copies: &[StrewnCopy], frame: &Frame) -> Self {
        let count = frame.rows.div_ceil(Self::ROWS);
        let mut bands = vec![Vec::new(); count];
        for copy in copies {
            let reach = copy.reach_m() / frame.cell_m + 1.0;
            let row = frame.row_at(copy.y_m);
            let band = |row: f64| (row.max(0.0) as usize / Self::ROWS).min(count - 1);
            for band in &mut bands[band(row - reach)..=band(row + reach)] {
                band.push(*copy);
            }
        }
        Self { bands }
    }

    fn at(&self, row: usize) -> &[StrewnCopy] {
        &self.bands[row / Self::ROWS]
    }
}
