//! Products that several kinds of step leave, or that readings know by name.
//! What one kind alone leaves is declared in its own file.

use terrain::ground::Colour;

use crate::document::{Declared, Form, Measure, Product};

/// Worn ground is drawn in the first, laid down ground in the second: they differ
/// in lightness and hue also for colour-blind eyes.
pub(crate) const WORN: Colour = Colour {
    r: 0.62,
    g: 0.12,
    b: 0.05,
};
pub(crate) const LAID: Colour = Colour {
    r: 0.03,
    g: 0.28,
    b: 0.55,
};
pub(super) const WATER_BLUE: Colour = Colour {
    r: 0.01,
    g: 0.12,
    b: 0.48,
};
pub(super) const ROCK_BROWN: Colour = Colour {
    r: 0.55,
    g: 0.22,
    b: 0.02,
};

/// Ground worn away.
pub const WEAR: Product = Product::of(&Declared {
    name: "wear",
    title: "Wear",
    about: "Ground worn away, metres.",
    form: Form::field(Measure::amount("m", 40.0), WORN, 0.5),
});

/// Ground laid down.
pub const DEPOSIT: Product = Product::of(&Declared {
    name: "deposit",
    title: "Deposit",
    about: "Ground laid down, metres.",
    form: Form::field(Measure::amount("m", 40.0), LAID, 0.5),
});

/// Standing and running water.
pub const DEPTH: Product = Product::of(&Declared {
    name: "depth",
    title: "Water depth",
    about: "Depth of standing and running water, metres.",
    form: Form::field(Measure::amount("m", 10.0), WATER_BLUE, 0.5),
});

/// Land that drains through a place.
pub const DRAINAGE: Product = Product::of(&Declared {
    name: "drainage",
    title: "Drainage area",
    about: "Land that drains through a place, m².",
    form: Form::field(Measure::amount("m²", 2e6), WATER_BLUE, 0.25).as_it_is(),
});

/// Rivers as lines: their rank is Strahler's (1957) order, their value the land that
/// drains through a place.
pub const RIVERS: Product = Product::of(&Declared {
    name: "rivers",
    title: "Rivers",
    about: "Rivers as lines, with their order and the land that drains through them, m².",
    form: Form::Lines(Measure::amount("m²", 1e8)),
});
