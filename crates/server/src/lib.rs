//! The web service: landscapes, live sessions, imported files, exports.
//!
//! No terrain arithmetic here. Handlers (`routes`) are thin. `documents` are put
//! together from the patches that `store` (SQL alone) keeps; work is done on the
//! threads of `compute`, as `admission` lets it begin; what was committed is told to every viewer by
//! `live`, in order.

mod admission;
mod assets;
mod bulk;
mod compute;
mod config;
mod connections;
mod demo;
mod desk;
mod document;
mod documents;
mod error;
mod exports;
mod extract;
mod gallery;
mod guard;
mod limits;
mod live;
mod measures;
mod patching;
mod routes;
mod start;
mod state;
mod store;
mod tidying;

pub use config::{Archives, Config, StartError};
pub use limits::Limits;
pub use routes::{has_page, openapi_json};
pub use start::Server;
