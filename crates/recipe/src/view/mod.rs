//! What is shown of a landscape while an artist works on it.

mod bands;
mod picture;

pub use bands::{Band, bands};
pub use picture::{Picture, Shading, Watched, picture};
