//! Lattice gradient noise and its layering into octaves.

mod fractal;
mod gradient;
mod hash;

pub use fractal::{Character, FractalNoise};
pub use gradient::{gradient_noise, lattice_value};
pub use hash::{hash, unit};
