//! How much of each material every cell has.

use crate::Grid;

/// Weights that should sum to one in every cell and do not.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
#[error("weights sum to {sum} in cell {cell}, allowed is 1 ± {tolerance}")]
pub struct Unbalanced {
    /// Row-major index of the worst cell.
    pub cell: usize,
    /// The sum there.
    pub sum: f32,
    /// Deviation allowed.
    pub tolerance: f32,
}

/// One weight a cell for each layer of ground, bottom layer first. The
/// weights of a cell sum to one.
#[derive(Clone, Debug, PartialEq)]
pub struct Weights {
    layers: Vec<Grid>,
}

/// The two layers with the greatest weights in a cell.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Strongest {
    /// The one with the greatest.
    pub first: u8,
    /// The one with the next.
    pub second: u8,
    /// What the second one has of both together, 255 is all.
    pub share: u8,
}

impl Weights {
    /// Lays masks over each other, bottom first. What the masks above leave
    /// free shows what is below; the bottom layer takes all that is left,
    /// whatever its mask.
    ///
    /// # Panics
    /// When there is no mask, or when they differ in size.
    pub fn stacked(masks: &[Grid]) -> Self {
        let (cols, rows) = (masks[0].cols(), masks[0].rows());
        let mut left = Grid::filled(cols, rows, 1.0_f32);
        let mut layers = Vec::with_capacity(masks.len());
        for mask in masks[1..].iter().rev() {
            let layer = left.zip_map(mask, |left, mask| left * mask.clamp(0.0, 1.0));
            left = left.zip_map(&layer, |left, layer| left - layer);
            layers.push(layer);
        }
        layers.push(left);
        layers.reverse();
        Self { layers }
    }

    /// The layers, bottom first.
    pub fn layers(&self) -> &[Grid] {
        &self.layers
    }

    /// Each layer's share of the whole land, 0 to 1.
    pub fn shares(&self) -> Vec<f64> {
        let cells = self.layers[0].values().len().max(1) as f64;
        self.layers
            .iter()
            .map(|layer| layer.sum() / cells)
            .collect()
    }

    /// The layer with the greatest weight in each cell, the upper one of two
    /// that are equal.
    pub fn dominant(&self) -> Grid<u8> {
        self.strongest().map(|strongest| strongest.first)
    }

    /// The two layers with the greatest weights in each cell, the upper one of
    /// two that are equal first.
    pub fn strongest(&self) -> Grid<Strongest> {
        let (cols, rows) = (self.layers[0].cols(), self.layers[0].rows());
        Grid::by_rows(cols, rows, |r, out| {
            let layers: Vec<&[f32]> = self.layers.iter().map(|layer| layer.row(r)).collect();
            for (c, out) in out.iter_mut().enumerate() {
                let (mut first, mut second) = ((0, f32::NEG_INFINITY), (0, 0.0));
                for (i, layer) in layers.iter().enumerate() {
                    let weight = layer[c];
                    if weight >= first.1 {
                        (first, second) = ((i as u8, weight), first);
                    } else if weight >= second.1 {
                        second = (i as u8, weight);
                    }
                }
                let weight = second.1.max(0.0);
                let both = (first.1 + weight).max(f32::MIN_POSITIVE);
                *out = Strongest {
                    first: first.0,
                    second: second.0,
                    share: (255.0 * weight / both).round() as u8,
                };
            }
        })
    }

    /// The weights as whole numbers that sum to exactly `full` in every cell,
    /// 255 or 65,535, by largest remainders (Hamilton's method); ties go to the
    /// lower layer.
    pub fn in_steps(&self, full: u16) -> Vec<Grid<u16>> {
        let (cols, rows) = (self.layers[0].cols(), self.layers[0].rows());
        let count = self.layers.len();
        // All layers of a cell side by side.
        let cells = Grid::by_rows(cols * count, rows, |r, row: &mut [u16]| {
            let layers: Vec<&[f32]> = self.layers.iter().map(|layer| layer.row(r)).collect();
            let mut order: Vec<usize> = (0..count).collect();
            for (c, steps) in row.chunks_exact_mut(count).enumerate() {
                let exact = |i: usize| f64::from(layers[i][c]) * f64::from(full);
                let mut left = full;
                for (i, steps) in steps.iter_mut().enumerate() {
                    *steps = exact(i).floor().clamp(0.0, f64::from(left)) as u16;
                    left -= *steps;
                }
                if left == 0 {
                    continue;
                }
                let remainder = |i: &usize| exact(*i) - f64::from(steps[*i]);
                order.sort_unstable();
                order.sort_by(|a, b| remainder(b).total_cmp(&remainder(a)));
                for &i in order.iter().cycle().take(usize::from(left)) {
                    steps[i] += 1;
                }
            }
        });
        let layer = |i: usize| {
            Grid::by_rows(cols, rows, |r, row| {
                for (value, cell) in row.iter_mut().zip(cells.row(r).chunks_exact(count)) {
                    *value = cell[i];
                }
            })
        };
        (0..count).map(layer).collect()
    }

    /// The weights as bytes that sum to exactly 255 in every cell.
    pub fn quantised(&self) -> Vec<Grid<u8>> {
        let steps = self.in_steps(u16::from(u8::MAX)).into_iter();
        steps.map(|layer| layer.map(|step| step as u8)).collect()
    }

    /// Checks that the weights of every cell sum to one.
    ///
    /// # Errors
    /// [`Unbalanced`] with the worst cell.
    pub fn check(&self) -> Result<(), Unbalanced> {
        // Each layer may be off by half an ulp of one.
        let tolerance = 1e-6;
        let sum = |cell: usize| self.layers.iter().map(|l| l.values()[cell]).sum::<f32>();
        let worst = (0..self.layers[0].values().len())
            .map(|cell| (cell, sum(cell)))
            .max_by(|a, b| (a.1 - 1.0).abs().total_cmp(&(b.1 - 1.0).abs()));
        match worst {
            Some((cell, sum)) if (sum - 1.0).abs() > tolerance || sum.is_nan() => Err(Unbalanced {
                cell,
                sum,
                tolerance,
            }),
            _ => Ok(()),
        }
    }
}
