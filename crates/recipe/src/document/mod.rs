//! The document: what is written in a recipe, and what makes it valid.

mod check;
mod cover;
mod error;
mod mask;
mod ranges;
mod reading;
mod recipe;
mod starter;
mod step;
mod stroke;

pub use cover::{Cover, CoverBlend, CoverMaterial, Mottle, Texture};
pub use error::{Fault, RecipeError};
pub(crate) use mask::lookup;
pub use mask::{Broken, Joined, Mask, NamedMask, Term};
pub use reading::{CurvatureBend, Reading};
pub use recipe::{LAND, LandExtent, Recipe, Strand, SunPosition};
pub use starter::Starter;
pub use step::{Combine, Step, Trace};
pub use stroke::Stroke;
