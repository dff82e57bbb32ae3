//! Noise, and its layering into octaves.
//!
//! A `Basis` is one kind of noise; `FractalNoise` lays octaves of it over one
//! another, joined as its `Character` says (`layers`).

mod basis;
mod carried;
mod cellular;
mod fractal;
mod gradient;
pub(crate) mod hash;
mod lattice;
mod layers;
mod simplex;
mod spread;
mod value;

pub use basis::Basis;
pub use carried::carried;
pub use cellular::{CellDistance, CellFeature};
pub use fractal::FractalNoise;
pub use gradient::{gradient_noise, lattice_value};
pub use hash::{hash, light_hash, unit};
pub use lattice::Sample;
pub use layers::Character;
