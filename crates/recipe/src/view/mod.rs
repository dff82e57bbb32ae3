//! What is shown of a landscape while an artist works on it.

mod bands;
mod core_sample;
mod difference;
mod flow_lines;
mod histogram;
mod ledger_sums;
mod mask_place;
mod picture;
mod sheet;
mod sketch;
mod trace_colours;

pub use bands::{Band, bands};
pub use core_sample::{CoreGround, CoreSample, CoreStep, CoreTrace, core_sample};
pub use difference::Difference;
pub use flow_lines::{flow_lines, way_of_water};
pub use histogram::Histogram;
pub use ledger_sums::{AdjustedSum, LedgerSums};
pub use mask_place::{MaskPlace, TermStudy, mask_picture, study_term};
pub use picture::{BLOCK, CoverSeen, Picture, Shading, View, Watched, picture};
pub use sheet::{SheetError, Sweep, Variant, shape_only, sheet, variants};
pub use sketch::{Sketch, Sketchbook};
pub use trace_colours::TraceView;
