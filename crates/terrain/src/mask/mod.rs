//! Masks: where, and how much, from 0 to 1.

mod combine;
mod range;

pub use combine::Combine;
pub use range::{Range, smooth};
