//! The land's colour under sun and sky, baked for display.

use crate::Grid;
use crate::ground::Colour;
use crate::light::{SKY_REACH_M, Sun, sky_seen, sunlight};

/// What the land is lit by.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Lighting {
    /// Where the sun stands.
    pub sun: Sun,
    /// Water stands up to here, metres.
    pub sea_level_m: f32,
}

/// Light of the sun, a little warm, where it stands [`USUAL_DEG`] high, and of the sky, a
/// little blue. Together a level white surface under a high sun comes out just below white.
const SUNLIGHT: Colour = Colour {
    r: 1.46,
    g: 1.33,
    b: 1.14,
};
const SKYLIGHT: Colour = Colour {
    r: 0.21,
    g: 0.26,
    b: 0.36,
};
/// A usual height of the sun.
const USUAL_DEG: f64 = 40.0;
/// What air takes of red, green and blue light (0.65, 0.55, 0.45 µm) that falls straight
/// down: scattering by the air itself (Hansen and Travis 1974), not by dust.
const TAKEN: [f64; 3] = [0.0493, 0.0972, 0.2213];

/// How many times as much air sunlight goes through as straight down (Kasten and Young 1989).
fn air_mass(altitude_deg: f64) -> f64 {
    let altitude_deg = altitude_deg.max(0.0);
    let low = 0.505_72 * (altitude_deg + 6.079_95).powf(-1.636_4);
    1.0 / (altitude_deg.to_radians().sin() + low)
}

/// Light of the sun from this height: the lower it stands, the weaker and the redder.
fn sunlight_from(altitude_deg: f64) -> Colour {
    let more = air_mass(altitude_deg) - air_mass(USUAL_DEG);
    let [r, g, b] = TAKEN.map(|taken| (-taken * more).exp() as f32);
    SUNLIGHT.times(Colour { r, g, b })
}

/// Light thrown back by the land around, where the sky is shut out.
const BOUNCE: Colour = Colour {
    r: 0.06,
    g: 0.055,
    b: 0.045,
};

/// Deep water, and the depth over which the ground fades from view, metres.
const DEEP_WATER: Colour = Colour {
    r: 0.012,
    g: 0.048,
    b: 0.066,
};
const SHALLOW_WATER: Colour = Colour {
    r: 0.045,
    g: 0.13,
    b: 0.14,
};
const CLEAR_M: f32 = 7.0;
const DEEP_M: f32 = 90.0;

/// Light that falls on each cell of the land, or of its water.
#[derive(Clone, Debug, PartialEq)]
pub struct Light {
    /// Light of the sun: the cosine of its angle to the surface, cast shadows
    /// taken off, 0 to 1.
    pub sun: Grid,
    /// Share of the sky that is seen, 0 to 1.
    pub sky: Grid,
}

impl Light {
    /// The part that begins at (`col`, `row`).
    pub fn cropped(&self, col: usize, row: usize, cols: usize, rows: usize) -> Self {
        Self {
            sun: self.sun.cropped(col, row, cols, rows),
            sky: self.sky.cropped(col, row, cols, rows),
        }
    }
}

/// Bakes the light on the land. `heights` has an apron of one cell, the result
/// does not. Nothing is known of the land beyond `heights`, so the light is not local.
pub fn light(heights: &Grid, cell_m: f64, lighting: Lighting) -> Light {
    let surface = heights.map(|h| h.max(lighting.sea_level_m));
    // Shadows are thrown over the whole land.
    let across_m = (heights.cols() as f64).hypot(heights.rows() as f64) * cell_m;
    Light {
        sun: sunlight(&surface, 1, across_m, cell_m, lighting.sun),
        sky: sky_seen(&surface, 1, SKY_REACH_M, cell_m),
    }
}

/// The colour of each cell as 8-bit sRGB, lit and under its water. All grids
/// have the same size.
///
/// # Panics
/// When the grids differ in size.
pub fn lit(
    heights: &Grid,
    albedo: &Grid<Colour>,
    light: &Light,
    lighting: Lighting,
) -> Grid<[u8; 3]> {
    let (cols, rows) = (heights.cols(), heights.rows());
    for other in [&light.sun, &light.sky] {
        assert_eq!((cols, rows), (other.cols(), other.rows()));
    }
    assert_eq!((cols, rows), (albedo.cols(), albedo.rows()));
    let sunlight_here = sunlight_from(lighting.sun.altitude_deg);
    let sea_level_m = lighting.sea_level_m;
    Grid::by_rows(cols, rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            let sunlight = sunlight_here.scaled(light.sun.at(c, r));
            let open = light.sky.at(c, r);
            let light = sunlight.plus(SKYLIGHT.scaled(open * open)).plus(BOUNCE);
            let ground = albedo.at(c, r);
            let depth_m = sea_level_m - heights.at(c, r);
            let seen = if depth_m > 0.0 {
                under_water(ground, depth_m)
            } else {
                ground
            };
            *out = shoulder(seen.times(light)).to_srgb8();
        }
    })
}

/// Ground seen through `depth_m` metres of water (Beer and Lambert).
fn under_water(ground: Colour, depth_m: f32) -> Colour {
    let water = DEEP_WATER.towards(SHALLOW_WATER, (-depth_m / DEEP_M).exp());
    // Never fully clear: the surface itself has a colour.
    water.towards(ground, 0.75 * (-depth_m / CLEAR_M).exp())
}

/// Colours brighter than this are bent towards white.
pub(crate) const KNEE: f32 = 0.5;

/// Leaves colours alone up to the knee and bends brighter ones towards white,
/// so that sunlit snow keeps its form.
fn shoulder(colour: Colour) -> Colour {
    let bend = |v: f32| {
        let over = (v - KNEE).max(0.0);
        v.min(KNEE) + (1.0 - KNEE) * (1.0 - (-over / (1.0 - KNEE)).exp())
    };
    Colour {
        r: bend(colour.r),
        g: bend(colour.g),
        b: bend(colour.b),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Kasten and Young's (1989) own table, from memory: 38 air masses at the horizon, 1 in
    /// the zenith, 2 at 30°.
    #[test]
    fn low_light_goes_through_much_air() {
        for (altitude_deg, masses, within) in
            [(90.0, 1.0, 0.001), (30.0, 2.0, 0.01), (0.0, 38.0, 0.3)]
        {
            let found = air_mass(altitude_deg);
            assert!((found - masses).abs() < within, "{altitude_deg}°: {found}");
        }
    }

    #[test]
    fn the_lower_the_sun_the_redder_and_the_weaker() {
        let usual = sunlight_from(USUAL_DEG);
        assert_eq!(
            [usual.r, usual.g, usual.b],
            [SUNLIGHT.r, SUNLIGHT.g, SUNLIGHT.b]
        );
        let mut before = sunlight_from(90.0);
        for altitude_deg in [60.0, 30.0, 15.0, 8.0, 4.0, 2.0, 1.0] {
            let now = sunlight_from(altitude_deg);
            assert!(now.r < before.r && now.r > 0.0, "{altitude_deg}°");
            assert!(now.r / now.b > before.r / before.b, "{altitude_deg}°");
            before = now;
        }
        // At 10° a third of the blue and most of the red is left: an evening's light.
        let evening = sunlight_from(10.0);
        assert!(evening.r / usual.r > 0.75 && evening.b / usual.b < 0.45);
    }
}
