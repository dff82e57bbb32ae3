//! What growing takes, told before it begins.
//!
//! [`walk`] goes the way that growth will go, but counts instead of growing;
//! [`fits`] looks for the nearest value that stays within the budget.

mod fits;
mod size;
mod walk;

use std::fmt;

use terrain::Frame;

pub(crate) use size::Size;
use walk::Walk;

use super::Part;
use crate::document::{Mask, Recipe};

/// What a piece of work may take.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Budget {
    /// Memory that one step, mask or ground may take at once, bytes.
    pub bytes: f64,
    /// Cells that may be gone over one by one, all steps together.
    pub work: f64,
}

impl Budget {
    /// About an hour on two cores.
    pub const USUAL_WORK: f64 = 4e11;

    /// What an export may take, for which nobody waits and of which only one is made
    /// at a time, where this is what anything else may.
    pub fn of_export(self) -> Self {
        Self {
            bytes: 3.0 * self.bytes,
            ..self
        }
    }
}

impl Default for Budget {
    /// A quarter of 16 GiB of memory, and about an hour.
    fn default() -> Self {
        Self {
            bytes: 4.0 * GIB,
            work: Self::USUAL_WORK,
        }
    }
}

const GIB: f64 = (1_u64 << 30) as f64;
/// How long it takes to go over one cell once, about, seconds.
const SECONDS_A_CELL: f64 = 1e-8;

/// Memory and work.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Cost {
    /// Bytes at once.
    pub(crate) bytes: f64,
    /// Cells gone over one by one.
    pub(crate) work: f64,
}

impl Cost {
    /// `fields` of a float for each of `cells`, gone over `passes` times.
    pub(crate) fn of(cells: f64, fields: f64, passes: f64) -> Self {
        Self {
            bytes: cells * fields * size_of::<f32>() as f64,
            work: cells * passes,
        }
    }
}

/// What is to be grown.
pub(crate) enum Wanted<'w> {
    /// A part of a recipe and what it is made of.
    Ground(Part<'w>),
    /// A mask, taken of a part.
    Mask(Part<'w>, &'w Mask),
    /// A part, and what each of its steps made.
    Stages(Part<'w>),
}

/// What is too much.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Excess {
    /// Memory, bytes.
    Bytes(f64),
    /// Cells gone over one by one.
    Work(f64),
    /// Ways in which masks and steps ask for one another.
    Ways,
}

/// Growing would take more than is allowed; nothing was begun.
#[derive(Clone, Debug, PartialEq)]
pub struct TooCostly {
    /// “step ‘Massif’”, “cover ‘Snow’”, “the land”.
    pub owner: String,
    /// What is too much of it.
    pub excess: Excess,
    /// How much is allowed.
    pub allowed: Budget,
    /// The parameter that can be changed so that it fits.
    pub parameter: Option<Fit>,
    /// The most cells along the longer side on which it fits as it is.
    pub cells: Option<usize>,
}

/// A parameter that takes too much, and how it would not.
#[derive(Clone, Debug, PartialEq)]
pub struct Fit {
    /// Its name.
    pub name: String,
    /// JSON Pointer (RFC 6901) to it.
    pub pointer: String,
    /// Its value.
    pub value: f64,
    /// The nearest value that fits.
    pub fits: f64,
}

impl std::error::Error for TooCostly {}

impl fmt::Display for TooCostly {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: ", self.owner)?;
        if let Some(Fit { name, value, .. }) = &self.parameter {
            write!(f, "{name} is {value}; ")?;
        }
        match self.excess {
            Excess::Bytes(bytes) => write!(
                f,
                "this would take {} of memory, {} are allowed",
                memory(bytes),
                memory(self.allowed.bytes)
            )?,
            Excess::Work(work) => write!(
                f,
                "this would take about {} of computing, {} are allowed",
                time(work),
                time(self.allowed.work)
            )?,
            Excess::Ways => write!(f, "masks and steps refer to one another in too many ways")?,
        }
        match (&self.parameter, self.cells) {
            (Some(Fit { fits, .. }), _) => write!(f, "; the nearest value that fits is {fits}"),
            (None, Some(cells)) => {
                write!(f, "; {cells} cells along the longer side would fit")
            }
            (None, None) => Ok(()),
        }
    }
}

fn memory(bytes: f64) -> String {
    let (unit, name) = match bytes {
        b if b < 1e9 => (1e6, "MB"),
        b if b < 1e12 => (1e9, "GB"),
        _ => (1e12, "TB"),
    };
    rounded(bytes / unit, name)
}

fn time(work: f64) -> String {
    let seconds = work * SECONDS_A_CELL;
    let (unit, name) = match seconds {
        s if s < 120.0 => (1.0, "seconds"),
        s if s < 2.0 * 3600.0 => (60.0, "minutes"),
        _ => (3600.0, "hours"),
    };
    rounded(seconds / unit, name)
}

fn rounded(value: f64, unit: &str) -> String {
    match value < 10.0 {
        true => format!("{value:.1} {unit}"),
        false => format!("{value:.0} {unit}"),
    }
}

/// What growing takes, about.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Expense {
    /// The most memory that one step, mask or ground takes at once, bytes.
    pub bytes: f64,
    /// How long it takes on a machine of two cores, seconds.
    pub seconds: f64,
}

/// What growing this takes, if it keeps to the budget.
pub(crate) fn check(
    recipe: &Recipe,
    budget: Budget,
    wanted: &Wanted,
    frame: &Frame,
) -> Result<Expense, Box<TooCostly>> {
    match Walk::over(recipe, budget, wanted, Size::of(frame)) {
        Ok(Cost { bytes, work }) => Ok(Expense {
            bytes,
            seconds: work * SECONDS_A_CELL,
        }),
        Err(found) => {
            let explained = fits::explained(recipe, budget, wanted, frame, *found);
            Err(Box::new(explained))
        }
    }
}
