//! The land as triangles: reduced within a bound, closed to a solid, cut into tiles.
//!
//! A [`Lattice`] is what is known of the land: heights where columns and rows cross, up
//! to the very edge of its extent. A [`Mesh`] is made on some of these places; how far it
//! is from the others is measured upright, in metres ([`Distance`]). The nearest place of
//! the mesh is never farther than that.

mod axis;
mod baked;
mod cliffs;
mod distance;
mod facets;
mod lattice;
mod missed;
mod pictured;
mod refined;
mod solid;
mod tiles;
mod triangles;
mod within;

pub use baked::east_along;
pub use cliffs::{Edges, Parted, parted};
pub use distance::Distance;
pub use lattice::Lattice;
pub use pictured::{Camera, Drawn, pictured};
pub use refined::{Goal, refined, refined_in_levels};
pub use solid::closed;
pub use tiles::{Tile, tiled};
pub use triangles::{Mesh, Open};
