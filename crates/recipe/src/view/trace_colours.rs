//! The colours of traces: what erosion left, drawn over the relief.

use terrain::Grid;
use terrain::ground::Colour;

use crate::document::Trace;
use crate::grow::Land;

/// What a trace view shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TraceView {
    /// Wear and deposit together, signed.
    Change,
    /// One trace.
    One(Trace),
}

/// One stone grey: nothing was left here, or only the form is looked at.
pub(super) const STONE: Colour = Colour {
    r: 0.42,
    g: 0.41,
    b: 0.39,
};
/// Worn ground is drawn in the first, laid down ground in the second: they
/// differ in lightness and hue also for colour-blind eyes.
const WORN: Colour = Colour {
    r: 0.62,
    g: 0.12,
    b: 0.05,
};
const LAID: Colour = Colour {
    r: 0.03,
    g: 0.28,
    b: 0.55,
};
const WATER: Colour = Colour {
    r: 0.01,
    g: 0.12,
    b: 0.48,
};
const WHITE: Colour = Colour {
    r: 0.95,
    g: 0.97,
    b: 1.0,
};
const ROCK: Colour = Colour {
    r: 0.55,
    g: 0.22,
    b: 0.02,
};

/// Share of cells that may be stronger than what has the full colour.
const STRONGER: f32 = 0.01;

impl TraceView {
    /// The view with a name: `change`, or that of a trace.
    pub fn named(name: &str) -> Option<Self> {
        let traces = Trace::ALL.into_iter();
        match name {
            "change" => Some(Self::Change),
            _ => traces
                .map(Self::One)
                .find(|view| matches!(view, Self::One(trace) if trace.name() == name)),
        }
    }

    /// The view's colours on `land`, without light.
    pub(super) fn albedo(self, land: &Land) -> Grid<Colour> {
        let frame = land.frame();
        let none = || Grid::filled(frame.cols, frame.rows, 0.0);
        let of = |trace| land.trace(trace).unwrap_or_else(none);
        match self {
            Self::Change => {
                let (worn, laid) = (of(Trace::Wear), of(Trace::Deposit));
                let change = laid.zip_map(&worn, |laid, worn| laid - worn);
                let full = strongest(&change.map(f32::abs));
                change.map(|change| {
                    let end = if change < 0.0 { WORN } else { LAID };
                    blend(end, (change.abs() / full).sqrt())
                })
            }
            Self::One(trace) => {
                let field = of(trace);
                let (end, spread) = look(trace);
                let full = strongest(&field);
                field.map(|value| blend(end, (value / full).max(0.0).powf(spread)))
            }
        }
    }
}

/// The colour of a trace, and the power that its values are shown by: areas
/// and flows span many sizes.
fn look(trace: Trace) -> (Colour, f32) {
    match trace {
        Trace::Wear => (WORN, 0.5),
        Trace::Deposit => (LAID, 0.5),
        Trace::Flow => (WATER, 0.35),
        Trace::Drainage => (WATER, 0.25),
        Trace::Depth | Trace::Suspended => (WATER, 0.5),
        Trace::Snow => (WHITE, 0.6),
        Trace::Outcrop | Trace::Strewn => (ROCK, 1.0),
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
