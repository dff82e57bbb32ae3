//! Shaping the land: primitives, outlines and fall-off; warp and other moves;
//! response curves, terraces, blur; images, stamps and displacement.

mod blur;
mod cross_section;
mod curve;
mod displace;
mod falloff;
mod image;
mod moves;
mod placement;
mod primitive;
mod response;
mod strew;
mod terrace;
mod wall;
mod warp;

pub use blur::{
    blur_halvings, blur_margin, blurred, blurred_to_the_edge, mean_around, near_blur_margin,
};
pub use cross_section::{Across, Beside, CrossSection};
pub use curve::{Curve, CurveError};
pub use displace::{displaced_along_normal, displacement_margin};
pub use falloff::{FallOff, Outline};
pub use image::PlacedImage;
pub use moves::Move;
pub use placement::{Locator, Placement};
pub use primitive::{Form, Primitive, Profile};
pub use response::{bias, ease_foot, gain, smooth_highest, smooth_lowest};
pub use strew::{Layout, Overlap, Strew, StrewnCopy};
pub use terrace::Terraces;
pub use wall::{WallProfile, Walls};
pub use warp::Warp;
