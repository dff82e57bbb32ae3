//! The web service: landscapes, live sessions, imported files, exports.
//!
//! No terrain arithmetic here. Handlers (`routes`) are thin; what they say is
//! kept by `store` (SQL alone), computed on `compute` (a rayon pool behind a
//! bounded queue) and told to every viewer by `live`.

mod assets;
mod compute;
mod config;
mod demo;
mod error;
mod exports;
mod gallery;
mod guard;
mod live;
mod routes;
mod state;
mod store;

pub use config::{Config, Server, StartError};
pub use routes::openapi_json;
