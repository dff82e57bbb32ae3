//! The page draws the land that the core has grown: its own arithmetic, run by itself,
//! beside the core's.

mod choosing;
mod contours;
mod curves;
mod framing;
mod patches;
mod relief;
mod standing;
mod support;
mod surface;
mod units;
