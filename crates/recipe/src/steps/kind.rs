//! What every kind of step can do.

use terrain::erosion::{Ledger, Level};
use terrain::{Extent, Grid};

use super::Needs;
use crate::document::{Mask, Product};
use crate::grow::{GrowError, Products, Site, Size};

/// What a step made on the cells that were asked for.
pub struct StepOutput {
    /// Metres, or a factor when the step multiplies.
    pub heights: Grid,
    /// What else it leaves, as it was declared.
    pub products: Products,
    /// Where the ground went, for steps that move it.
    pub ledger: Option<Ledger>,
}

impl From<Grid> for StepOutput {
    fn from(heights: Grid) -> Self {
        Self {
            heights,
            products: Products::default(),
            ledger: None,
        }
    }
}

/// A parameter, its value, and what would be allowed.
pub(crate) type Unfit = (&'static str, String, String);

/// What every kind of step can do.
pub(crate) trait Kind {
    /// Cells of `cell_m` that it needs around the place that it makes.
    fn margin(&self, _cell_m: f64) -> usize {
        0
    }

    /// Makes its field on `site.frame()`.
    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError>;

    /// The grids of a process that needs the land as a whole, for a result on
    /// cells of `cell_m`; none for what looks at each place once.
    fn levels(&self, _cell_m: f64, _extent: Extent) -> Vec<Level> {
        Vec::new()
    }

    /// How far beyond the land such a process goes, metres: a whole number of cells of
    /// its coarsest grid.
    fn beyond_m(&self, _extent: Extent) -> f64 {
        0.0
    }

    /// When such a process takes away or covers the detail that its grids do not carry:
    /// how much ground must be moved for half of it to be gone, as a share of a cell.
    fn buries_m(&self) -> Option<f64> {
        None
    }

    /// Floats for each cell that it holds at once on the finest of its grids.
    fn fields(&self) -> f64 {
        8.0
    }

    /// The same when that has so many cells along its longer side.
    fn fields_on(&self, _longest: usize) -> f64 {
        self.fields()
    }

    /// Looks at each cell that one time step on a grid is worth.
    fn passes_in_step(&self) -> f64 {
        1.0
    }

    /// How often it goes over each cell of its result, beside its grids: once for
    /// each layer, look or copy.
    fn passes(&self, _size: Size, _extent: Extent) -> f64 {
        4.0 + self.octaves().map_or(0.0, |(_, octaves, _)| octaves)
    }

    /// By how much it blurs the land below it (a standard deviation, metres).
    fn blurs_m(&self) -> f64 {
        0.0
    }

    /// What it leaves beside its heights.
    fn products(&self) -> &'static [Product] {
        &[]
    }

    /// Whether it leaves one of them as it is set; else that is 0 everywhere.
    fn leaves(&self, _product: Product) -> bool {
        true
    }

    /// The strand that it takes in.
    fn takes_in(&self) -> Option<&str> {
        None
    }

    /// Cells along the longer side on which it takes that strand in, when they do
    /// not depend on its own.
    fn takes_in_on(&self) -> Option<usize> {
        None
    }

    /// The field of that strand that it takes in, when not its heights.
    fn takes_product(&self) -> Option<Product> {
        None
    }

    /// The asset that it reads.
    fn asset(&self) -> Option<&str> {
        None
    }

    /// The masks among its parameters.
    fn masks(&self) -> Vec<&Mask> {
        Vec::new()
    }

    /// Size of its largest forms in metres, its layers, and how many times
    /// finer each is, when it is made of layers.
    fn octaves(&self) -> Option<(f64, f64, f64)> {
        None
    }

    /// Whether it moves the surface, so that a hard-edged mask would show as
    /// blobs.
    fn displaces(&self) -> bool {
        false
    }

    /// Whether it makes or keeps hollows that water cannot leave, on purpose.
    fn means_hollows(&self) -> bool {
        false
    }

    /// Checks what types and ranges cannot.
    fn check(&self) -> Result<(), Unfit> {
        Ok(())
    }

    /// What it cannot begin without.
    fn needs(&self) -> Option<Needs> {
        None
    }

    /// These parameters, for a strand that is taken in.
    fn taking_in(self) -> Self
    where
        Self: Sized,
    {
        self
    }

    /// These parameters, made so that their effect is seen in a small picture; none
    /// when nothing can be shown of them alone.
    fn example(self) -> Option<Self>
    where
        Self: Sized,
    {
        Some(self)
    }

    /// Height of the sea in the example; far below the land where it says nothing.
    fn example_sea_m() -> f64
    where
        Self: Sized,
    {
        -10_000.0
    }

    /// Steps on the land of the example before it, by name.
    fn example_after() -> &'static [&'static str]
    where
        Self: Sized,
    {
        &[]
    }
}
