//! Recipes: reading and checking them, growing them.

mod document;
mod generated;
mod growing;
mod random;
mod support;
