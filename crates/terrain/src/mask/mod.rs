//! Masks: where, and how much, from 0 to 1.

mod brush;
mod combine;
mod range;
mod spread;
mod tone;

pub use crate::smooth::smooth;
pub use brush::{Brush, painted};
pub use combine::Combine;
pub use range::Range;
pub use spread::{grow_margin, grown};
pub use tone::{broken_up, ragged, toned};
