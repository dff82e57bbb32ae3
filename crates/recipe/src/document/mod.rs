//! The document: what is written in a recipe, and what makes it valid.

mod check;
mod cover;
mod error;
mod mask;
mod ranges;
mod recipe;
mod starter;
mod step;

pub use cover::{Cover, Mottle};
pub use error::{Fault, RecipeError};
pub use mask::{Joined, Mask, Reading, Term};
pub use recipe::{LAND, LandExtent, Recipe, Strand, SunPosition};
pub use starter::Starter;
pub use step::{Combine, Step, Trace};
