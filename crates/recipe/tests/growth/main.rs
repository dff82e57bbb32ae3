//! Recipes: reading and checking them, growing them.

mod ages;
mod caching;
mod changes;
mod conformance;
mod costs;
mod courses;
mod covers;
mod document;
mod eroding;
mod finishing;
mod generated;
mod growing;
mod isotropy;
mod lands;
mod masks;
mod presets;
mod random;
mod sketching;
mod strands;
mod studies;
mod support;
mod surveying;
mod versions;
