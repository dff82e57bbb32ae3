//! Grids of values and where in the world they stand.

mod apron;
mod border;
mod frame;
mod georeference;
mod pyramid;
mod resample;
mod values;

pub use apron::{ApronBands, with_apron, with_edge_repeated, without_apron};
pub(crate) use border::{on_border, sides};
pub use frame::{Extent, Frame};
pub use georeference::Georeference;
pub use pyramid::{Beyond, Pyramid, seamless};
pub use resample::{Sampler, halve, refined, resample, stretch};
pub use values::{Grid, GridError};
