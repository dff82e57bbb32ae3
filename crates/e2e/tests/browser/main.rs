//! The real interface, driven by real clicks and keys in headless Chromium.

mod erosion;
mod files;
mod form;
mod ground;
mod ground_tools;
mod slice;
