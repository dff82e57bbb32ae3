//! From a recipe to fields.
//!
//! Each step's result is kept under a hash of everything that it depends on
//! (`key`), in a cache of bounded size (`cache`). `grower` walks a strand from
//! the wanted end back to what is known already; a step sees the world
//! through its `site`.

mod assets;
mod books;
mod cache;
mod cascade;
mod cost;
mod error;
mod field;
mod ground;
mod grower;
mod in_order;
mod key;
mod land;
mod margins;
mod masked;
mod named;
mod plan;
mod products;
mod readings;
mod site;
mod state;
mod strata;
mod worked;

pub use assets::{Assets, Image, NoAssets};
pub use books::Books;
pub use cache::CacheUse;
pub use cascade::{GridBelow, Stage};
pub(crate) use cost::Size;
pub use cost::{Budget, Excess, Expense, Fit, TooCostly};
pub use error::GrowError;
pub use field::Field;
pub use ground::{Ground, cover_material, grow_shipped_materials};
pub use grower::{Grower, Part};
pub use land::{KnownOfWhole, Land};
pub use products::{ProductData, Products};
pub use site::Site;
pub use state::State;
pub use strata::Strata;
pub use worked::{ProcessOutput, balanced};
