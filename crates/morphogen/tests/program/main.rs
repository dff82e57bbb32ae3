//! The program itself, as a user runs it.

mod against_gdal;
mod against_python;
mod ahead;
mod command_line;
mod killed;
mod maps;
mod memory;
mod meshes;
mod served;
mod support;
