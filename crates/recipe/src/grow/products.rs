//! What steps have left, by the names that they declare.

use std::collections::BTreeMap;
use std::sync::Arc;

use terrain::line::{LinePoint, Polygon, Polyline};
use terrain::{Frame, Grid};

use super::{Field, Strata};
use crate::document::{Form, Product};

/// One product as it was left.
#[derive(Clone, Debug)]
pub enum ProductData {
    /// A value for each cell.
    Field(Field),
    /// Lines, in metres east and north: the same on any cells.
    Lines(Arc<Vec<Polyline>>),
    /// Places.
    Points(Arc<Vec<LinePoint>>),
    /// Outlines.
    Areas(Arc<Vec<Polygon>>),
}

impl From<Grid> for ProductData {
    fn from(field: Grid) -> Self {
        Self::Field(field.into())
    }
}

impl From<Vec<Polyline>> for ProductData {
    fn from(lines: Vec<Polyline>) -> Self {
        Self::Lines(Arc::new(lines))
    }
}

impl ProductData {
    fn fits(&self, form: &Form) -> bool {
        matches!(
            (self, form),
            (Self::Field(_), Form::Field(_))
                | (Self::Lines(_), Form::Lines(_))
                | (Self::Points(_), Form::Points(_))
                | (Self::Areas(_), Form::Areas)
        )
    }

    fn bytes(&self) -> usize {
        match self {
            Self::Field(field) => field.bytes(),
            Self::Lines(lines) => lines.iter().map(|line| size_of_val(&*line.points)).sum(),
            Self::Points(points) => size_of_val(points.as_slice()),
            Self::Areas(areas) => areas.iter().map(|area| size_of_val(area.points())).sum(),
        }
    }
}

/// How far a step takes effect.
#[derive(Clone, Copy)]
pub(crate) struct Effect<'a> {
    /// Of all that it makes.
    pub(crate) amount: f32,
    /// Where; everywhere when absent.
    pub(crate) mask: Option<&'a Grid>,
}

impl Effect<'_> {
    /// As much of `field`, whose values have `bounds`; where the mask lets nothing of it
    /// through, what a step `before` has left stays.
    fn of(self, field: Field, before: Option<Field>, [low, high]: [f32; 2]) -> Field {
        if self.amount == 1.0 && self.mask.is_none() {
            return field;
        }
        let mut felt = field.into_grid();
        let amount = self.amount;
        match self.mask {
            Some(mask) => felt.zip_in_place(mask, |value, mask| amount * mask * value),
            None => felt = felt.map(|value| amount * value),
        }
        if let (Some(mask), Some(before)) = (self.mask, before) {
            let mut stays = before.into_grid();
            stays.zip_in_place(mask, |value, mask| (1.0 - mask) * value);
            felt.zip_in_place(&stays, |felt, stays| felt + stays);
        }
        felt.map(|value| value.clamp(low, high)).into()
    }
}

/// What steps have left: of each product the newest.
#[derive(Clone, Debug, Default)]
pub struct Products {
    left: BTreeMap<Product, ProductData>,
    strata: Option<Strata>,
}

impl Products {
    /// Adds a product.
    ///
    /// # Panics
    /// When it is not what it was declared as: a fault of the kind of step.
    #[must_use]
    pub fn with(mut self, product: Product, left: impl Into<ProductData>) -> Self {
        let left = left.into();
        let declared = product.declared();
        assert!(
            left.fits(&declared.form),
            "{product:?} is declared otherwise"
        );
        self.left.insert(product, left);
        self
    }

    /// Adds the beds that the rock lies in.
    #[must_use]
    pub fn with_strata(self, strata: Strata) -> Self {
        let strata = Some(strata);
        Self { strata, ..self }
    }

    /// The beds that the rock lies in, if it lies in any.
    pub fn strata(&self) -> Option<&Strata> {
        self.strata.as_ref()
    }

    /// A field, if it was left.
    pub fn field(&self, product: Product) -> Option<&Field> {
        match self.left.get(&product) {
            Some(ProductData::Field(field)) => Some(field),
            _ => None,
        }
    }

    /// Takes a field out, if it was left.
    pub fn take_field(&mut self, product: Product) -> Option<Field> {
        self.field(product)?;
        match self.left.remove(&product) {
            Some(ProductData::Field(field)) => Some(field),
            _ => None,
        }
    }

    /// Lines; none when they were not left.
    pub fn lines(&self, product: Product) -> &[Polyline] {
        match self.left.get(&product) {
            Some(ProductData::Lines(lines)) => lines,
            _ => &[],
        }
    }

    /// Only those of `declared`: what else a process has left is for its own finer grids.
    pub(crate) fn only(mut self, declared: &[Product]) -> Self {
        self.left.retain(|product, _| declared.contains(product));
        self
    }

    /// Takes in what a later step has left, which took effect as its amount and mask say: what
    /// it moved, it moved by that much.
    pub(crate) fn followed_by(&mut self, newer: Self, effect: Effect) {
        for (product, left) in newer.left {
            let felt = match (left, product.field()) {
                (ProductData::Field(field), Some(declared)) if declared.moved => {
                    let before = self.take_field(product);
                    let bounds = declared.measure.bounds;
                    ProductData::Field(effect.of(field, before, bounds))
                }
                (other, _) => other,
            };
            self.left.insert(product, felt);
        }
        self.strata = match (self.strata.take(), newer.strata) {
            (Some(before), Some(after)) => Some(after.after(&before, effect.amount, effect.mask)),
            (before, after) => after.or(before),
        };
    }

    /// Memory that they take, bytes.
    pub(crate) fn bytes(&self) -> usize {
        let left: usize = self.left.values().map(ProductData::bytes).sum();
        left + self.strata.as_ref().map_or(0, Strata::bytes)
    }

    /// The same with every field cropped.
    pub(crate) fn cropped(&self, at: (usize, usize), frame: &Frame) -> Self {
        let cropped = |(&product, left): (&Product, &ProductData)| {
            let part = match left {
                ProductData::Field(field) => ProductData::Field(field.cropped(at, frame)),
                other => other.clone(),
            };
            (product, part)
        };
        Self {
            left: self.left.iter().map(cropped).collect(),
            strata: self.strata.as_ref().map(|strata| strata.cropped(at, frame)),
        }
    }

    /// The same seen on other cells.
    pub(crate) fn seen_on(self, from: &Frame, to: &Frame) -> Self {
        let here = |(product, left): (Product, ProductData)| {
            let seen = match (left, product.field()) {
                (ProductData::Field(field), Some(declared)) => {
                    ProductData::Field(field.seen_on(from, to, declared.measure.bounds))
                }
                (other, _) => other,
            };
            (product, seen)
        };
        Self {
            left: self.left.into_iter().map(here).collect(),
            strata: self.strata.map(|strata| strata.seen_on(from, to)),
        }
    }
}
