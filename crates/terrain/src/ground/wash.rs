//! Pigment that water carries downhill.

use crate::Grid;
use crate::erosion::Drainage;

/// Where pigment has gone.
#[derive(Clone, Debug, PartialEq)]
pub struct CarriedPigment {
    /// What has stayed in each cell, in units of the source.
    pub laid: Grid,
    /// What has left the land.
    pub carried_off: f64,
}

impl Drainage {
    /// Carries pigment along the flow. `source` is how much each cell sheds.
    /// On its way the pigment thins out: over `distance_cells` cells all but
    /// 1/e of it stays behind. It is shared out as the water is by D∞ (Tarboton
    /// 1997).
    ///
    /// Pigment is conserved: the sum of `source` is that of what was laid and
    /// carried off. Not local: it needs the land as a whole.
    ///
    /// # Panics
    /// When `source` does not have the size of the land.
    pub fn wash(&self, source: &Grid, distance_cells: f32) -> CarriedPigment {
        assert_eq!(
            (source.cols(), source.rows()),
            (self.filled.cols(), self.filled.rows())
        );
        let distance = distance_cells.max(1e-3);
        let mut load = source.values().to_vec();
        let mut carried_off = 0.0;
        for i in self.highest_first() {
            let i = i as usize;
            let arrived = load[i];
            // Most of the land is upstream of all pigment.
            if arrived <= 0.0 {
                continue;
            }
            let Some(ways) = self.ways(i) else {
                carried_off += f64::from(arrived);
                load[i] = 0.0;
                continue;
            };
            let mut gone = 0.0;
            for (to, share, cells) in ways {
                let on = arrived * share * (-cells / distance).exp();
                load[to] += on;
                gone += on;
            }
            load[i] = arrived - gone;
        }
        let (cols, rows) = (source.cols(), source.rows());
        CarriedPigment {
            laid: Grid::from_vec(cols, rows, load).expect("one value a cell"),
            carried_off,
        }
    }
}
