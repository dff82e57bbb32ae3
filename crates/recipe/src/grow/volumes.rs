//! Where ground went, told on the land alone.

use terrain::erosion::Ledger;
use terrain::{Frame, Grid};

use super::Site;

impl Site<'_> {
    /// The volume of `field`, whose cells stand on `frame`, on the land alone, m³: of a
    /// cell that overhangs it, only the part that lies on it.
    pub fn volume_m3(&self, field: &Grid, frame: &Frame) -> f64 {
        let extent = self.extent();
        let part = |centre_m: f64, longest_m: f64| {
            let (low, high) = (centre_m - 0.5 * frame.cell_m, centre_m + 0.5 * frame.cell_m);
            (high.min(longest_m) - low.max(0.0)).max(0.0)
        };
        let wide: Vec<f64> = (0..frame.cols)
            .map(|c| part(frame.x_m(c), extent.width_m))
            .collect();
        let rows = (0..frame.rows).map(|r| {
            let along = field.row(r).iter().zip(&wide);
            let row: f64 = along.map(|(&value, wide)| f64::from(value) * wide).sum();
            part(frame.y_m(r), extent.depth_m) * row
        });
        rows.sum()
    }

    /// Where ground went that was worn and laid down on `frame`, told from what became of
    /// the land: what was not laid down was carried off, what was not worn was brought in.
    pub fn account(&self, wear: &Grid, deposit: &Grid, frame: &Frame) -> Ledger {
        let [worn_m3, dropped_m3] = [wear, deposit].map(|field| self.volume_m3(field, frame));
        Ledger {
            worn_m3,
            dropped_m3,
            added_m3: (dropped_m3 - worn_m3).max(0.0),
            carried_off_m3: (worn_m3 - dropped_m3).max(0.0),
            ..Ledger::default()
        }
    }
}
