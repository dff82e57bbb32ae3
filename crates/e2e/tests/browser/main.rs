//! The real interface, driven by real clicks and keys in headless Chromium.

mod files;
mod form;
mod slice;
