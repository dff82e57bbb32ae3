//! Where a shape stands on the land.

/// A rectangle on the land that a shape fills: moved, scaled and turned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Placement {
    /// Centre, metres east.
    pub x_m: f64,
    /// Centre, metres north.
    pub y_m: f64,
    /// Full width along the shape's own u, metres; above 0.
    pub width_m: f64,
    /// Full depth along the shape's own v, metres; above 0.
    pub depth_m: f64,
    /// Turned clockwise as seen from above, degrees.
    pub turn_deg: f64,
}

impl Placement {
    /// The map from places to the shape's own coordinates.
    pub fn locator(&self) -> Locator {
        let (sin, cos) = self.turn_deg.to_radians().sin_cos();
        Locator {
            place: *self,
            sin,
            cos,
        }
    }
}

/// Turns places into a shape's own coordinates.
#[derive(Clone, Copy, Debug)]
pub struct Locator {
    place: Placement,
    sin: f64,
    cos: f64,
}

impl Locator {
    /// Metres from the centre along the shape's own axes.
    pub fn metres(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        let (dx, dy) = (x_m - self.place.x_m, y_m - self.place.y_m);
        (dx * self.cos - dy * self.sin, dx * self.sin + dy * self.cos)
    }

    /// (u, v): −1 to 1 over the width and the depth.
    pub fn uv(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        let (along, across) = self.metres(x_m, y_m);
        (
            2.0 * along / self.place.width_m,
            2.0 * across / self.place.depth_m,
        )
    }
}
