//! The program itself, as a user runs it.

mod against_gdal;
mod command_line;
mod killed;
mod support;
