//! Verbs on grids: the computation behind Morphogen, without any interface.
//!
//! Every function here is pure: no I/O, no clock, no global state, and the
//! same bits for any number of threads. Work is spread over the current
//! [rayon] pool; [`Run`] carries the wish to stop and the progress.
//!
//! # Conventions
//!
//! * World axes: x east, y north, z up, all in metres. Heights are metres
//!   above the datum.
//! * Grids are row-major `f32`; row 0 is the north edge; samples stand at
//!   cell centres; cells are square. [`Frame`] says where the centres are.
//! * Angles are radians inside functions and degrees where a name ends in
//!   `_deg`. An aspect is a compass bearing: 0° north, 90° east.
//! * A *window* of a frame has bit for bit the values of the whole there,
//!   for every function that says it is local.
//! * Kernels that look at neighbours take a grid with an *apron*: extra cells
//!   on each side, which the result does not have.
//!
//! # The rooms
//!
//! | room | what is in it |
//! |---|---|
//! | [`grid`] | grids, frames, resampling, aprons |
//! | [`noise`] | gradient noise and its layering |
//! | [`shape`] | edge fall-off, warp, response curve |
//! | [`erosion`] | running water, with its ledger |
//! | [`reading`] | slope, aspect |
//! | [`mask`] | ranges with soft ends and how they combine |
//! | [`ground`] | weights of the materials, colour |
//! | [`picture`] | hillshade, baked light, normal maps |

pub mod erosion;
pub mod grid;
pub mod ground;
pub mod mask;
pub mod noise;
pub mod picture;
pub mod reading;
mod run;
pub mod shape;

pub use grid::{Extent, Frame, Grid, GridError};
pub use run::{Cancel, Cancelled, Run};
