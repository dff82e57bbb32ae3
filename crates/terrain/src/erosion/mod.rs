//! Running water that wears the land down and builds it up elsewhere.

mod cascade;
mod ledger;
mod schedule;
mod storm;
mod water;

pub use cascade::{Eroded, begin, refine};
pub use ledger::{Imbalance, Ledger};
pub use schedule::{Level, Schedule};
pub use storm::Storm;
