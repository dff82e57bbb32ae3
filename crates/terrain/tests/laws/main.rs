//! The laws that the kernels obey, one module for each room.

mod erosion;
mod grid;
mod ground;
mod mask;
mod noise;
mod picture;
mod reading;
mod shape;
mod support;
