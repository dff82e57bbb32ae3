//! The document: what is written in a recipe, and what makes it valid.

mod check;
mod cover;
mod declared;
mod error;
mod finish;
mod graph;
mod mask;
mod material;
mod product;
mod reading;
mod reading_sheets;
mod recipe;
mod renaming;
mod starter;
mod step;
mod stroke;
mod texture;
mod versions;

pub(crate) use cover::linear_colour;
pub use cover::{ColourStop, Cover, CoverGradient, Mottle, TintPatches};
pub use error::{Fault, RecipeError};
pub use finish::{Finish, Hollows, Shore, Wash};
pub(crate) use graph::{Knot, ordered};
pub use mask::{Broken, Mask, NamedMask, Term};
pub use material::{CoverMaterial, ImageSet};
pub use product::{Declared, Field, Form, Measure, Product};
pub(crate) use reading::Cells;
pub use reading::Reading;
pub use reading_sheets::{ReadingSheet, reading_sheets};
pub use recipe::{LAND, LandExtent, Recipe, Strand, SunPosition};
pub use renaming::Named;
pub use starter::Starter;
pub use step::{Combine, Step};
pub use stroke::Stroke;
pub use texture::Texture;
