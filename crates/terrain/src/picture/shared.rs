//! What shaders that draw the land have in common with the core.

use super::lit::KNEE;
use crate::ground::break_up::{GENTLE, LEAST_SHARE, SIDES, SKEW_BACK, SKEW_UP, TRIANGLES};
use crate::noise::hash::{ACROSS, MIX_FIRST, MIX_SECOND, UP};

/// Names and values, as they stand in the files of the page that are made from this:
/// how textures are broken up and laid from the side, the hash that this takes, and how
/// light becomes a colour on the screen.
pub fn shared_constants() -> [(&'static str, f64); 11] {
    [
        ("TRIANGLES", TRIANGLES),
        ("SKEW_BACK", SKEW_BACK),
        ("SKEW_UP", SKEW_UP),
        ("SIDES", f64::from(SIDES)),
        ("GENTLE", shortest(GENTLE)),
        ("LEAST_SHARE", shortest(LEAST_SHARE)),
        ("ACROSS", f64::from(ACROSS)),
        ("UP", f64::from(UP)),
        ("MIX_FIRST", f64::from(MIX_FIRST)),
        ("MIX_SECOND", f64::from(MIX_SECOND)),
        ("KNEE", shortest(KNEE)),
    ]
}

/// The number that prints as `value` does: 0.04 and not 0.03999999910593033.
fn shortest(value: f32) -> f64 {
    value.to_string().parse().unwrap_or(f64::from(value))
}
