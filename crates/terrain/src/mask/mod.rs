//! Masks: where, and how much, from 0 to 1.

mod combine;
mod painted;
mod range;
mod spread;
mod tone;

pub use crate::smooth::smooth;
pub use combine::Combine;
pub use painted::{Coat, painted};
pub use range::Range;
pub use spread::{grow_margin, grown};
pub use tone::{broken_up, ragged, toned};
