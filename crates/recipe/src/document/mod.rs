//! The document: what is written in a recipe, and what makes it valid.

mod check;
mod cover;
mod error;
mod finish;
mod mask;
mod material;
mod ranges;
mod reading;
mod recipe;
mod starter;
mod step;
mod stroke;
mod texture;

pub(crate) use cover::linear_colour;
pub use cover::{ColourStop, Cover, CoverBlend, CoverGradient, Mottle, TintPatches};
pub use error::{Fault, RecipeError};
pub use finish::{Finish, Hollows, Shore, Wash};
pub(crate) use mask::lookup;
pub use mask::{Broken, Joined, Mask, NamedMask, Term};
pub use material::{CoverMaterial, ImageSet};
pub use reading::{CurvatureBend, Reading};
pub use recipe::{LAND, LandExtent, Recipe, Strand, SunPosition};
pub use starter::Starter;
pub use step::{Combine, Step, Trace};
pub use stroke::Stroke;
pub use texture::Texture;
