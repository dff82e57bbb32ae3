//! What steps leave for others, beside the heights of the land.

use std::borrow::Cow;
use std::cmp::Ordering;
use std::fmt;
use std::hash::{Hash, Hasher};

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};
use terrain::ground::Colour;

/// A product as its kind of step declares it: all that masks, views, files and the
/// page need to know of it.
#[derive(Debug)]
pub struct Declared {
    /// Its name in a recipe.
    pub name: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it is.
    pub about: &'static str,
    /// What it consists of.
    pub form: Form,
}

/// What a product consists of.
#[derive(Debug)]
pub enum Form {
    /// A value for each cell.
    Field(Field),
    /// Lines with a rank and a value at each point.
    Lines(Measure),
    /// Places with a value each.
    Points(Measure),
    /// Outlines.
    Areas,
}

/// What a value measures.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measure {
    /// Its unit; empty for a share or a count.
    pub unit: &'static str,
    /// The least and the greatest that it can be.
    pub bounds: [f32; 2],
    /// Where most of it lies: a control begins with this range.
    pub usual: [f32; 2],
}

/// A value for each cell, and how it is drawn.
#[derive(Debug)]
pub struct Field {
    /// What it measures.
    pub measure: Measure,
    /// The colour of much of it; little is stone grey.
    pub colour: Colour,
    /// The power by which values are shown: areas and flows span many sizes.
    pub power: f32,
    /// Whether it tells of what its step has done, and there is half of it where the step takes
    /// half effect; a distance or an area that drains is as it is.
    pub moved: bool,
}

/// A product that a kind of step declares; cheap to hand around, and equal to itself
/// alone.
#[derive(Clone, Copy)]
pub struct Product(&'static Declared);

impl Product {
    /// The handle of a declaration.
    pub const fn of(declared: &'static Declared) -> Self {
        Self(declared)
    }

    /// Its name in a recipe.
    pub const fn name(self) -> &'static str {
        self.0.name
    }

    /// What was declared of it.
    pub const fn declared(self) -> &'static Declared {
        self.0
    }

    /// What it is as a field, if it is one.
    pub fn field(self) -> Option<&'static Field> {
        match &self.0.form {
            Form::Field(field) => Some(field),
            _ => None,
        }
    }

    /// The product that some kind of step declares by this name.
    pub fn named(name: &str) -> Option<Self> {
        let mut all = crate::steps::products().iter();
        all.find(|product| product.name() == name).copied()
    }

    /// All fields that some kind of step declares.
    pub fn fields() -> impl Iterator<Item = Self> {
        let all = crate::steps::products().iter().copied();
        all.filter(|product| product.field().is_some())
    }
}

impl Form {
    /// A field of this measure, drawn in `colour` by a power of its values.
    pub const fn field(measure: Measure, colour: Colour, power: f32) -> Self {
        Self::Field(Field {
            measure,
            colour,
            power,
            moved: true,
        })
    }

    /// The same of a field that is as it is wherever its step takes effect.
    pub const fn as_it_is(self) -> Self {
        match self {
            Self::Field(field) => Self::Field(Field {
                moved: false,
                ..field
            }),
            other => other,
        }
    }
}

impl Measure {
    /// An amount: nothing or more, mostly up to `usual`.
    pub const fn amount(unit: &'static str, usual: f32) -> Self {
        Self {
            unit,
            bounds: [0.0, f32::INFINITY],
            usual: [0.0, usual],
        }
    }

    /// A share, from none to all.
    pub const fn share() -> Self {
        Self {
            unit: "",
            bounds: [0.0, 1.0],
            usual: [0.0, 1.0],
        }
    }
}

impl PartialEq for Product {
    fn eq(&self, other: &Self) -> bool {
        self.name() == other.name()
    }
}

impl Eq for Product {}

impl PartialOrd for Product {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Ord for Product {
    fn cmp(&self, other: &Self) -> Ordering {
        self.name().cmp(other.name())
    }
}

impl Hash for Product {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.name().hash(state);
    }
}

impl fmt::Debug for Product {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name())
    }
}

impl Serialize for Product {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.name())
    }
}

/// In a recipe a product is named where a field is read.
impl<'de> Deserialize<'de> for Product {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let name = Cow::<str>::deserialize(deserializer)?;
        let named = Self::named(&name).filter(|product| product.field().is_some());
        named.ok_or_else(|| {
            let known: Vec<_> = Self::fields().map(Self::name).collect();
            let known = known.join(", ");
            de::Error::custom(format!("no step leaves ‘{name}’; there are {known}"))
        })
    }
}

impl JsonSchema for Product {
    fn schema_name() -> Cow<'static, str> {
        "Product".into()
    }

    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        let one = |product: Self| {
            let Declared { name, about, .. } = product.declared();
            json_schema!({ "const": name, "description": about })
        };
        let all: Vec<Schema> = Self::fields().map(one).collect();
        json_schema!({ "description": "What a step left, by its name.", "oneOf": all })
    }
}
