//! The artist's document and how it grows.
//!
//! A landscape is a [`Recipe`]: a small, open, versioned JSON document. Growing
//! it is a pure function: same recipe, same assets, same frame, same bits.
//!
//! | room | what is in it |
//! |---|---|
//! | [`document`] | recipe, strand, step, mask, cover; reading and checking them |
//! | [`steps`] | one file for each kind of step |
//! | [`grow`] | from a recipe to fields, with a cache |
//! | [`view`] | what is shown: the picture, bands, sheets, the core sample |
//! | [`survey`] | likely mistakes, and a way out of each |
//! | [`changes`] | what differs between two recipes, in words |
//! | [`presets`] | whole landscapes to begin with |
//! | [`lands`] | kinds of country, on a piece of ground of any size |
//! | [`combinations`] | steps that are often used together |
//!
//! To add a kind of step, write its file in `steps/` and name it in the list
//! in `steps/mod.rs`; its schema, checks and controls follow from the struct.

pub mod changes;
pub mod combinations;
pub mod document;
pub mod grow;
pub mod lands;
pub mod presets;
mod reference;
mod schema;
pub mod steps;
pub mod survey;
pub mod view;

pub use document::{Recipe, RecipeError};
pub use grow::{Assets, GrowError, Grower, Land};
pub use reference::reference_page;
pub use schema::{catalogue, core_sample_schema, recipe_schema, words};
