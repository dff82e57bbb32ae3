//! The colours of traces: what erosion left, drawn over the relief.

use terrain::Grid;
use terrain::ground::Colour;

use crate::document::Product;
use crate::grow::Land;
use crate::steps::{DEPOSIT, LAID, WEAR, WORN};

/// What a trace view shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TraceView {
    /// Wear and deposit together, signed.
    Change,
    /// One of the fields that were left.
    One(Product),
}

/// One stone grey: nothing was left here, or only the form is looked at.
pub(super) const STONE: Colour = Colour {
    r: 0.42,
    g: 0.41,
    b: 0.39,
};
/// Share of cells that may be stronger than what has the full colour.
const STRONGER: f32 = 0.01;

impl TraceView {
    /// The view with a name: `change`, or that of a field that steps leave.
    pub fn named(name: &str) -> Option<Self> {
        match name {
            "change" => Some(Self::Change),
            _ => Product::fields()
                .find(|product| product.name() == name)
                .map(Self::One),
        }
    }

    /// The view's colours on `land`, without light.
    pub(super) fn albedo(self, land: &Land) -> Grid<Colour> {
        let frame = land.frame();
        let none = || Grid::filled(frame.cols, frame.rows, 0.0);
        let of = |product| land.product(product).unwrap_or_else(none);
        match self {
            Self::Change => {
                let (worn, laid) = (of(WEAR), of(DEPOSIT));
                let change = laid.zip_map(&worn, |laid, worn| laid - worn);
                let full = strongest(&change.map(f32::abs));
                change.map(|change| {
                    let end = if change < 0.0 { WORN } else { LAID };
                    blend(end, (change.abs() / full).sqrt())
                })
            }
            Self::One(product) => {
                let field = of(product);
                let (end, power) = match product.field() {
                    Some(look) => (look.colour, look.power),
                    None => (STONE, 1.0),
                };
                let full = strongest(&field);
                field.map(|value| blend(end, (value / full).max(0.0).powf(power)))
            }
        }
    }
}

fn blend(end: Colour, share: f32) -> Colour {
    STONE.towards(end, share.clamp(0.0, 1.0))
}

/// A value that hardly any cell is above.
fn strongest(grid: &Grid) -> f32 {
    let mut values = grid.values().to_vec();
    let at = ((1.0 - STRONGER) * values.len() as f32) as usize;
    let at = at.min(values.len().saturating_sub(1));
    if values.is_empty() {
        return 1.0;
    }
    let (_, value, _) = values.select_nth_unstable_by(at, f32::total_cmp);
    value.max(1e-6)
}
