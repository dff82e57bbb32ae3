//! What a drawn course makes of the land across it: a valley, a ridge, a way, a shore.

use super::{WallProfile, smooth_lowest};
use crate::smooth::smooth;

/// What a course makes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Across {
    /// A valley with the narrow floor of a river.
    RiverValley,
    /// A valley with the round floor that a glacier leaves.
    Trough,
    /// A valley with a level floor.
    FlatValley,
    /// A ridge.
    Ridge,
    /// A level way, cut and filled.
    Way,
    /// Land on the left, a shelf before a cliff on the right.
    Shore,
}

/// The cross-section of a course.
#[derive(Clone, Debug)]
pub struct CrossSection {
    /// What it is of.
    pub makes: Across,
    /// Width of a floor or a way, of a ridge from foot to foot, of a shelf, metres.
    pub width_m: f64,
    /// Depth of a valley, height of a ridge, how far a shelf sinks, metres.
    pub height_m: f64,
    /// Tangent of the slope of a way's banks.
    pub bank: f64,
    /// The walls of a valley.
    pub walls: WallProfile,
    /// A floor is half as wide at least, metres: cells must be able to show it, or water
    /// would stand where it runs between two of them.
    pub least_half_m: f64,
}

/// A place beside a course.
#[derive(Clone, Copy, Debug)]
pub struct Beside {
    /// How far it is from the course, metres.
    pub away_m: f64,
    /// Whether it is on its left.
    pub left: bool,
    /// Factors on width and height, where the course is nearest.
    pub wide: f64,
    /// The same for the height.
    pub high: f64,
    /// The same for how steep walls, banks and sides are.
    pub steep: f64,
    /// Height of the floor or of the way there, metres.
    pub base_m: f64,
    /// Height of the land, and of its detail alone, metres.
    pub land_m: f64,
    /// The same for its detail.
    pub detail_m: f64,
    /// Noise, about −1 to 1.
    pub rough: f64,
    /// How much of an island stands here, 0 to 1.
    pub island: f64,
}

/// A valley's floor is so much lower in the middle, a metre.
const DISH: f64 = 0.012;

impl CrossSection {
    /// The height of the land with the course, metres.
    pub fn height(&self, place: Beside) -> f64 {
        match self.makes {
            Across::RiverValley => self.valley(place, 0.12, 0.0),
            Across::Trough => self.valley(place, 1.0, 0.22),
            Across::FlatValley => self.valley(place, 1.0, 0.0),
            Across::Ridge => self.ridge(place),
            Across::Way => self.way(place),
            Across::Shore => self.shore(place),
        }
    }

    /// A valley whose floor has this share of the width, and rises to its edges by that share
    /// of the depth.
    fn valley(&self, place: Beside, share: f64, round: f64) -> f64 {
        let depth_m = self.height_m * place.high;
        let uneven = 1.0 + 0.3 * place.rough;
        let half_m = 0.5 * self.width_m * place.wide * share * uneven;
        let half_m = half_m.max(self.least_half_m);
        // Near its middle nothing is rough, so that water runs there.
        let inside = (place.away_m / half_m.max(1e-6)).min(1.0);
        let dish = DISH * place.away_m.min(half_m) + round * depth_m * inside * inside;
        let shown = 1.0 - self.least_half_m / half_m;
        let bars = (0.02 * half_m * place.rough + 0.25 * place.detail_m) * inside.powi(4) * shown;
        let floor_m = place.base_m + dish + bars;
        let beyond_m = place.away_m - half_m;
        let mut cut_m = floor_m;
        if beyond_m > 0.0 {
            // Walls draw back where the land's own valleys come down, and stand out between
            // them, the more the farther they are.
            let own = (2.0 * place.detail_m / depth_m.max(1.0)).clamp(-0.6, 0.6);
            let stands = place.steep * (1.05 + 0.6 * place.rough + own).clamp(0.3, 2.5);
            let wall = self
                .walls
                .height(floor_m as f32, (beyond_m * stands) as f32);
            let up = ((f64::from(wall) - floor_m) / depth_m.max(1.0)).clamp(0.0, 1.0);
            let own_m = place.detail_m.clamp(-0.2 * depth_m, 0.2 * depth_m);
            cut_m = f64::from(wall) + up * 0.7 * own_m;
            let blend_m = (0.1 * depth_m * up) as f32;
            cut_m = f64::from(smooth_lowest(cut_m as f32, place.land_m as f32, blend_m));
        }
        let standing = place.island * f64::from(smooth((inside / 0.3) as f32));
        let top_m = (floor_m + 0.92 * depth_m + 0.4 * place.detail_m).min(place.land_m);
        cut_m.max(cut_m + standing * (top_m - cut_m))
    }

    /// Sharp at the crest and hollow at the foot, with crests and valleys of its own on its
    /// sides.
    fn ridge(&self, place: Beside) -> f64 {
        let reach_m = 0.5 * self.width_m * place.wide;
        let up = (1.0 - place.away_m / reach_m.max(1e-6)).max(0.0);
        let shape = up.powf(1.6 * place.steep);
        let sides = 0.55 * place.rough * (up * (1.35 - up)).max(0.0);
        place.land_m + self.height_m * place.high * (shape + sides).max(0.0)
    }

    fn way(&self, place: Beside) -> f64 {
        let beyond_m = (place.away_m - 0.5 * self.width_m * place.wide).max(0.0);
        let bank_m = beyond_m * self.bank * place.steep;
        place
            .land_m
            .clamp(place.base_m - bank_m, place.base_m + bank_m)
    }

    /// A cliff, and a shelf before it.
    fn shore(&self, place: Beside) -> f64 {
        if place.left {
            return place.land_m;
        }
        let out = place.steep * place.away_m / (self.width_m * place.wide).max(1e-6);
        let part = |reach: f64| f64::from(smooth((out / reach) as f32));
        let sinks = 0.6 * part(0.15) + 0.4 * part(1.0);
        place.land_m - sinks * self.height_m * place.high
    }
}
