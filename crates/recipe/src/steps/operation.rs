//! A step's operation, whichever kind it is of.

use terrain::Extent;
use terrain::erosion::Level;

use super::{Group, Operation, StepOutput, Unfit};
use crate::document::{Mask, Product};
use crate::grow::{GrowError, Site, Size};

impl Operation {
    pub(crate) fn margin(&self, cell_m: f64) -> usize {
        self.kind().margin(cell_m)
    }

    pub(crate) fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        self.kind().grow(site)
    }

    pub(crate) fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        self.kind().levels(cell_m, extent)
    }

    pub(crate) fn beyond_m(&self, extent: Extent) -> f64 {
        self.kind().beyond_m(extent)
    }

    pub(crate) fn fields_on(&self, longest: usize) -> f64 {
        self.kind().fields_on(longest)
    }

    pub(crate) fn passes_in_step(&self) -> f64 {
        self.kind().passes_in_step()
    }

    pub(crate) fn passes(&self, size: Size, extent: Extent) -> f64 {
        self.kind().passes(size, extent)
    }

    pub(crate) fn blurs_m(&self) -> f64 {
        self.kind().blurs_m()
    }

    pub(crate) fn takes_in_on(&self) -> Option<usize> {
        self.kind().takes_in_on()
    }

    /// How long it takes beside others, about: processes that go over the land
    /// many times take far longer than one look at each place.
    pub(crate) fn effort(&self) -> f32 {
        const MANY_TIMES: f32 = 25.0;
        match self.group() {
            Group::Erode => MANY_TIMES,
            _ => 1.0,
        }
    }

    /// What it leaves beside its heights.
    pub fn products(&self) -> &'static [Product] {
        self.kind().products()
    }

    /// The fields that it leaves as it is set.
    pub(crate) fn fields_left(&self) -> impl Iterator<Item = Product> {
        let declared = self.products().iter().copied();
        declared.filter(|&product| product.field().is_some() && self.kind().leaves(product))
    }

    /// The strand that it takes in.
    pub fn takes_in(&self) -> Option<&str> {
        self.kind().takes_in()
    }

    /// The asset that it reads.
    pub fn asset(&self) -> Option<&str> {
        self.kind().asset()
    }

    pub(crate) fn masks(&self) -> Vec<&Mask> {
        self.kind().masks()
    }

    pub(crate) fn takes_product(&self) -> Option<Product> {
        self.kind().takes_product()
    }

    pub(crate) fn octaves(&self) -> Option<(f64, f64, f64)> {
        self.kind().octaves()
    }

    pub(crate) fn displaces(&self) -> bool {
        self.kind().displaces()
    }

    pub(crate) fn means_hollows(&self) -> bool {
        self.kind().means_hollows()
    }

    pub(crate) fn check(&self) -> Result<(), Unfit> {
        self.kind().check()
    }
}
