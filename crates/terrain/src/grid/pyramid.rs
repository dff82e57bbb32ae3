//! An image at every coarseness, read anywhere.

use super::resample::bicubic;
use super::{Grid, halve};
use crate::smooth::smooth;

/// What is beyond the edge of an image.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Beyond {
    /// The outermost cells go on.
    #[default]
    Edge,
    /// The image, again and again.
    Repeat,
    /// The image and its mirror image in turn.
    Mirror,
}

impl Beyond {
    /// The place within the image, 0 to 1, that a place beyond it shows. A coarse level
    /// is a little larger than the image: repeated by its own size it would drift.
    fn folded(self, u: f64) -> f64 {
        match self {
            Beyond::Edge => u,
            Beyond::Repeat => u.rem_euclid(1.0),
            Beyond::Mirror => {
                let folded = u.rem_euclid(2.0);
                folded.min(2.0 - folded)
            }
        }
    }

    #[inline(always)]
    fn index(self, i: i64, count: usize) -> usize {
        let n = count as i64;
        let at = match self {
            Beyond::Edge => i.clamp(0, n - 1),
            Beyond::Repeat => i.rem_euclid(n),
            Beyond::Mirror => {
                let folded = i.rem_euclid(2 * n);
                folded.min(2 * n - 1 - folded)
            }
        };
        at as usize
    }
}

/// An image and its halves, quarters …, so that reading it on a coarse grid
/// averages and does not skip (Williams 1983, "Pyramidal parametrics").
#[derive(Clone, Debug, PartialEq)]
pub struct Pyramid {
    levels: Vec<Grid>,
}

impl Pyramid {
    /// The pyramid over `image`.
    pub fn over(image: Grid) -> Self {
        let mut levels = vec![image];
        while let Some(last) = levels.last()
            && last.cols().max(last.rows()) > 4
        {
            levels.push(halve(last));
        }
        Self { levels }
    }

    /// The image itself.
    pub fn image(&self) -> &Grid {
        &self.levels[0]
    }

    /// The image at (u, v), 0 to 1 from west to east and from north to south,
    /// as seen on a grid whose cells are as large as `pixels` of its own.
    /// Bicubic within a level, and blended between the two nearest levels.
    pub fn at(&self, u: f64, v: f64, pixels: f64, beyond: Beyond) -> f32 {
        let (u, v) = (beyond.folded(u), beyond.folded(v));
        self.blended(pixels, |level| {
            let place = self.on_level(level, u, v);
            bicubic(&self.levels[level], place, |i, count| {
                beyond.index(i, count)
            })
        })
    }

    /// The same, bilinear within a level: never beyond the values of the image, and
    /// images that sum to one everywhere still do.
    pub fn linear_at(&self, u: f64, v: f64, pixels: f64, beyond: Beyond) -> f32 {
        let (u, v) = (beyond.folded(u), beyond.folded(v));
        self.blended(pixels, |level| self.bilinear(level, u, v, beyond))
    }

    fn blended(&self, pixels: f64, on: impl Fn(usize) -> f32) -> f32 {
        let coarse = pixels.max(1.0).log2().min((self.levels.len() - 1) as f64);
        let (level, blend) = (coarse.floor() as usize, coarse.fract() as f32);
        let fine = on(level);
        match blend == 0.0 {
            true => fine,
            false => fine + blend * (on(level + 1) - fine),
        }
    }

    /// Where (u, v) is on a level, in cells. Halves of odd sizes are a little larger:
    /// it is counted from the image's own.
    fn on_level(&self, level: usize, u: f64, v: f64) -> (f64, f64) {
        let scale = 1.0 / (1_u64 << level) as f64;
        let image = self.image();
        (
            u * image.cols() as f64 * scale - 0.5,
            v * image.rows() as f64 * scale - 0.5,
        )
    }

    fn bilinear(&self, level: usize, u: f64, v: f64, beyond: Beyond) -> f32 {
        let grid = &self.levels[level];
        let (x, y) = self.on_level(level, u, v);
        let (col, row) = (x.floor(), y.floor());
        let (s, t) = ((x - col) as f32, (y - row) as f32);
        let cols = [0, 1].map(|i| beyond.index(col as i64 + i, grid.cols()));
        let [above, below] = [0, 1].map(|j| {
            let line = grid.row(beyond.index(row as i64 + j, grid.rows()));
            line[cols[0]] + s * (line[cols[1]] - line[cols[0]])
        });
        above + t * (below - above)
    }
}

/// `image` with its edges made to meet: within `share` (0 to ½) of each side
/// it is blended with itself from the opposite side, so that it can be
/// repeated without a seam.
pub fn seamless(image: &Grid, share: f64) -> Grid {
    let across = meet_along_rows(image, share);
    let turned = transposed(&across);
    transposed(&meet_along_rows(&turned, share))
}

fn meet_along_rows(image: &Grid, share: f64) -> Grid {
    let cols = image.cols();
    let band = ((share * cols as f64).round() as usize).min(cols / 2);
    // The band at the east end is cut off and laid over the west end.
    let kept = cols - band;
    Grid::by_rows(kept, image.rows(), |r, out| {
        let row = image.row(r);
        out.copy_from_slice(&row[..kept]);
        for (c, out) in out.iter_mut().enumerate().take(band) {
            let t = (c as f32 + 0.5) / band as f32;
            *out = row[kept + c] + smooth(t) * (row[c] - row[kept + c]);
        }
    })
}

fn transposed(grid: &Grid) -> Grid {
    Grid::by_rows(grid.rows(), grid.cols(), |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = grid.at(r, c);
        }
    })
}
