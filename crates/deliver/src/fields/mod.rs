//! Fields, and the formats that they are written in.

mod field;
mod format;
mod writing;

pub use field::Field;
pub use format::{ColourFormat, FieldFormat};
pub(crate) use writing::{Named, write_field};
