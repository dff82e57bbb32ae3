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
//! | [`grid`] | grids, frames, windows; resampling, pyramids, aprons |
//! | [`mod@line`] | lines and outlines in metres, and the distance to them |
//! | [`noise`] | lattice, simplex, value and cellular noise, in layers |
//! | [`shape`] | primitives, copies, displacement; warps and other moves; curves and terraces |
//! | [`erosion`] | drainage; running water, rivers, crumbling, settling, snow, with their ledger |
//! | [`reading`] | slope, aspect, curvature, position, distance |
//! | [`light`] | what sun and sky reach past the land around |
//! | [`mask`] | ranges with soft ends, how they combine, what is painted |
//! | [`hand`] | strokes of a brush, and what they do to the land |
//! | [`ground`] | materials and their textures, weights, colour |
//! | [`mesh`] | the land as triangles, reduced within a bound; solids, tiles |
//! | [`picture`] | hillshade, baked light, normal maps |

pub mod erosion;
pub mod grid;
pub mod ground;
pub mod hand;
pub mod light;
pub mod line;
pub mod mask;
pub mod mesh;
pub mod noise;
pub mod picture;
pub mod reading;
mod run;
pub mod shape;
mod smooth;

pub use grid::{Extent, Frame, Grid, GridError};
pub use run::{Cancel, Cancelled, Run};
