//! From a recipe to fields.
//!
//! Each step's result is kept under a hash of everything that it depends on
//! (`key`), in a cache of bounded size (`cache`). `grower` walks a strand from
//! the wanted end back to what is known already; a step sees the world
//! through its `site`.

mod assets;
mod cache;
mod error;
mod ground;
mod grower;
mod key;
mod land;
mod masked;
mod readings;
mod site;
mod state;
mod worked;

pub use assets::{Assets, Image, NoAssets};
pub use cache::CacheUse;
pub use error::GrowError;
pub use ground::{Ground, cover_material, grow_shipped_materials};
pub use grower::{Grower, Part};
pub use land::Land;
pub use site::Site;
pub use state::State;
pub use worked::{Stage, Worked};
