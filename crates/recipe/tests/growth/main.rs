//! Recipes: reading and checking them, growing them.

mod document;
mod growing;
mod random;
mod support;
