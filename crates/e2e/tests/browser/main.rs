//! The real interface, driven by real clicks and keys in headless Chromium.

mod accessible;
mod courses;
mod erosion;
mod files;
mod form;
mod ground;
mod ground_tools;
mod hand_work;
mod keyboard;
mod many_covers;
mod mesh;
mod outage;
mod pace;
mod shading;
mod shelf;
mod sizes;
mod slice;
mod studio;
mod targets;
mod tools;
