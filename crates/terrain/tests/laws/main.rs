//! The laws that the kernels obey, one module for each room.

mod age;
mod balance;
mod courses;
mod dam_break;
mod erosion;
mod grid;
mod ground;
mod hand;
mod landforms;
mod light;
mod mask;
mod materials;
mod mesh;
mod moves;
mod nature;
mod noise;
mod noise_families;
mod picture;
mod reading;
mod readings;
mod rivers;
mod shape;
mod spectrum;
mod stamps;
mod support;
mod washing;
