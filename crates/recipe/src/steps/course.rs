//! Drawn courses: valleys, ridges, ways and shores.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::Sampler;
use terrain::line::{Along, Course as Curve, CoursePoint, DVec2, Drawn};
use terrain::mask::smooth;
use terrain::noise::{Character, FractalNoise, carried};
use terrain::shape::{WallProfile, Walls, near_blur_margin, smooth_lowest};
use terrain::{Frame, Grid};

use super::{Kind, Made, Unfit};
use crate::document::{Declared, DrawnPoint, Form, Measure, Product};
use crate::grow::{GrowError, Products, Site};
use crate::steps::products::{ROCK_BROWN, WATER_BLUE};

/// A drawn line makes a valley, a ridge, a level way or a shore.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Course {
    /// What it makes.
    pub makes: CourseMakes,
    /// The points that it goes through.
    #[schemars(length(min = 2, max = 2000), extend("x-editor" = "course", "x-drawn-on" = [8000.0, 5600.0]))]
    pub points: Vec<DrawnPoint>,
    /// Of a valley's floor, of a way, of a ridge from foot to foot, of the slope of a shore.
    #[schemars(range(min = 0.1, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [5.0, 2000.0], "x-scale" = "log"))]
    pub width_m: f64,
    /// How deep a valley is below the land, how high a ridge above it, how far a shore sinks.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 800.0], "x-when" = ["makes", "valley", "ridge", "shore"]))]
    pub height_m: f64,
    /// How the floor meets its walls.
    #[schemars(extend("x-when" = ["makes", "valley"]))]
    pub section: ValleySection,
    /// How steep walls and banks are.
    #[schemars(range(min = 1, max = 89), extend("x-unit" = "°", "x-slider" = [10.0, 80.0], "x-when" = ["makes", "valley", "way"]))]
    pub walls_deg: f64,
    /// Thickness of the beds of rock in the walls, a hard and a soft one together: they stand
    /// out as steps. None at 0.
    #[schemars(range(min = 0, max = 5000), extend("x-unit" = "m", "x-slider" = [0.0, 200.0], "x-when" = ["makes", "valley"]))]
    pub beds_m: f64,
    /// Scree at the foot of the walls, as a share of the depth.
    #[schemars(range(min = 0, max = 1), extend("x-when" = ["makes", "valley"]))]
    pub scree: f64,
    /// The floor falls all the way from the first point to the last, with the least cutting
    /// that does it. Beyond the last point it goes on to the border, or to lower land.
    #[schemars(extend("x-when" = ["makes", "valley"]))]
    pub falls: bool,
    /// The first point is closed by a wall; else the valley goes on beyond it.
    #[schemars(extend("x-when" = ["makes", "valley"]))]
    pub closed: bool,
    /// How much of the valley's floor is left standing, as islands and spires.
    #[schemars(range(min = 0, max = 1), extend("x-slider" = [0.0, 0.5], "x-when" = ["makes", "valley"]))]
    pub islands: f64,
    /// How wide these are.
    #[schemars(range(min = 0.1, max = 100_000), extend("x-unit" = "m", "x-slider" = [10.0, 600.0], "x-when" = ["makes", "valley"]))]
    pub islands_m: f64,
    /// How much it wanders from side to side: 1 as rivers of its width do.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.0, 1.5]))]
    pub wander: f64,
    /// Straight from point to point.
    #[schemars(extend("x-more" = true))]
    pub straight: bool,
    /// How far its edges are moved in and out.
    #[schemars(range(min = 0, max = 100_000), extend("x-unit" = "m", "x-slider" = [0.0, 400.0]))]
    pub ragged_m: f64,
    /// Size of its largest bays and spurs.
    #[schemars(range(min = 0.1, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [50.0, 3000.0]))]
    pub ragged_feature_m: f64,
    /// Which of the endless edges.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// What a course makes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum CourseMakes {
    /// It is cut into the land.
    #[default]
    Valley,
    /// It is raised on the land.
    Ridge,
    /// A level way: cut where the land is high, filled where it is low.
    Way,
    /// Land on its left stays, on its right sinks.
    Shore,
}

/// How the floor of a valley meets its walls.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum ValleySection {
    /// A river's: hardly any floor.
    V,
    /// A glacier's: a round floor.
    U,
    /// A level floor.
    #[default]
    Flat,
}

const FROM_COURSE: Product = Product::of(&Declared {
    name: "from_course",
    title: "Distance from a course",
    about: "How far a place is from the drawn course, metres.",
    form: Form::field(Measure::amount("m", 2000.0), ROCK_BROWN, 0.5),
});

const ALONG_COURSE: Product = Product::of(&Declared {
    name: "along_course",
    title: "Distance along a course",
    about: "How far along the drawn course the place of it is that is nearest, metres.",
    form: Form::field(Measure::amount("m", 10_000.0), WATER_BLUE, 0.5),
});

/// What lies under a course is read on so many cells of the whole land, whatever the
/// resolution: its floor is then the same.
const READ_ON: usize = 256;
/// A valley falls at least so much a metre.
const LEAST_FALL: f64 = 5e-4;
/// Its floor is so much lower in the middle, a metre.
const DISH: f64 = 0.012;

impl Default for Course {
    fn default() -> Self {
        let point = |x_m, y_m| DrawnPoint {
            x_m,
            y_m,
            wide: 1.0,
            high: 1.0,
        };
        Self {
            makes: CourseMakes::Valley,
            points: vec![
                point(1400.0, 4300.0),
                point(3000.0, 3600.0),
                point(4300.0, 2300.0),
                point(6800.0, 1500.0),
            ],
            width_m: 350.0,
            height_m: 260.0,
            section: ValleySection::Flat,
            walls_deg: 58.0,
            beds_m: 0.0,
            scree: 0.2,
            falls: true,
            closed: true,
            islands: 0.0,
            islands_m: 120.0,
            wander: 0.0,
            straight: false,
            ragged_m: 150.0,
            ragged_feature_m: 700.0,
            seed: 1,
        }
    }
}

/// The course on one land, with what was read along it.
struct Laid<'a> {
    course: &'a Course,
    curve: Curve,
    /// Every so many metres along the curve …
    step_m: f64,
    /// … the height of its floor, its crest's foot, or the way.
    profile_m: Vec<f64>,
    walls: WallProfile,
    noise: Noises,
    /// A floor is half as wide at least: cells must be able to show it, or water would stand
    /// where it runs between two of them.
    least_half_m: f64,
}

/// Fields of noise on the cells that are made.
struct Noises {
    east: Grid,
    north: Grid,
    rough: Grid,
}

impl Course {
    fn curve(&self, longest_m: f64) -> Option<Curve> {
        let mut points: Vec<CoursePoint> = self.points.iter().map(|&point| point.into()).collect();
        if self.makes == CourseMakes::Valley && points.len() > 1 {
            // On beyond its last point, past the border: what cannot run out is no valley.
            points.extend(beyond(&points[points.len() - 2..], longest_m));
            if !self.closed {
                points.reverse();
                points.extend(beyond(&points[points.len() - 2..], longest_m));
                points.reverse();
            }
        }
        let drawn = Drawn {
            smooth: !self.straight,
            spacing_m: self.width_m / 24.0,
            wander: self.wander,
            width_m: self.width_m,
        };
        Curve::through(&points, drawn)
    }

    /// Noise that moves places about, and that roughens, on the cells of `frame`.
    fn noises(&self, site: &Site, frame: &Frame) -> Result<Noises, GrowError> {
        let noise = |seed: u32, octaves, character| FractalNoise {
            character,
            feature_m: self.ragged_feature_m,
            octaves,
            gain: 0.45,
            seed: self.seed.wrapping_mul(7).wrapping_add(seed),
            ..FractalNoise::default()
        };
        let run = site.run().quietly();
        Ok(Noises {
            east: noise(1, 6.0, Character::Fractal).fill(frame, run)?,
            north: noise(2, 6.0, Character::Fractal).fill(frame, run)?,
            rough: match self.makes {
                CourseMakes::Ridge => {
                    let sides = FractalNoise {
                        feature_m: 0.4 * self.width_m,
                        slope_damping: 0.3,
                        ..noise(3, 8.0, Character::Ridged)
                    };
                    let (low, high) = sides.spread();
                    let middle = 0.5 * (low + high);
                    sides.fill(frame, run)?.map(|value| 2.0 * (value - middle) / (high - low))
                }
                _ => noise(3, 4.0, Character::Fractal).fill(frame, run)?,
            },
        })
    }

    /// Heights along the curve: what lies below, evened, less the depth of a valley, and
    /// falling where it is to.
    fn profile(&self, curve: &Curve, step_m: f64, site: &Site) -> Result<Vec<f64>, GrowError> {
        let frame = Frame::with_cells(site.extent(), READ_ON);
        let below = site.below_on(&frame)?;
        let land = Sampler::new(&below, &frame);
        let count = (curve.length_m() / step_m).ceil() as usize + 1;
        let places: Vec<(DVec2, Along)> = curve.places().collect();
        let heights: Vec<f64> = (0..count)
            .map(|k| {
                let along_m = k as f64 * step_m;
                let after = places.partition_point(|(_, place)| place.along_m < along_m);
                let at = places[after.min(places.len() - 1)].0;
                f64::from(land.bicubic(at.x, at.y))
            })
            .collect();
        let evened = evened(&heights, (2.0 * self.width_m / step_m).ceil() as usize);
        let deep = match self.makes {
            CourseMakes::Valley => self.height_m,
            _ => 0.0,
        };
        let mut profile: Vec<f64> = evened
            .iter()
            .zip(0..)
            .map(|(height, k)| height - deep * curve.at(f64::from(k) * step_m).high)
            .collect();
        if self.makes == CourseMakes::Valley && self.falls {
            for k in 1..profile.len() {
                profile[k] = profile[k].min(profile[k - 1] - LEAST_FALL * step_m);
            }
        }
        Ok(profile)
    }

    /// How far water would have to climb along a valley on `land`, at most, metres; nothing
    /// for what is no valley.
    pub(crate) fn climbs_m(&self, land: &Grid, frame: &Frame) -> f64 {
        let longest_m = frame.cell_m * frame.cols.max(frame.rows) as f64;
        let Some(curve) = self.curve(longest_m) else {
            return 0.0;
        };
        if self.makes != CourseMakes::Valley {
            return 0.0;
        }
        let land = Sampler::new(land, frame);
        let ([west, south], [east, north]) = frame.corners_m();
        let inside = |at: DVec2| (west..east).contains(&at.x) && (south..north).contains(&at.y);
        let on_land = curve.places().filter(|(at, _)| inside(*at));
        let (_, climbs_m) = on_land.fold((f64::INFINITY, 0.0_f64), |(lowest, climbs), (at, _)| {
            let here = f64::from(land.bicubic(at.x, at.y));
            (lowest.min(here), climbs.max(here - lowest.min(here)))
        });
        climbs_m
    }

    /// What the course makes at a place where the land has the height `land_m`, and its own
    /// detail `detail_m`.
    fn height(&self, laid: &Laid, place: Place) -> f64 {
        match self.makes {
            CourseMakes::Valley => laid.valley(place),
            CourseMakes::Ridge => laid.ridge(place),
            CourseMakes::Way => laid.way(place),
            CourseMakes::Shore => laid.shore(place),
        }
    }
}

/// The point so far beyond the second of two.
fn beyond(ends: &[CoursePoint], far_m: f64) -> Option<CoursePoint> {
    let out = (ends[1].at - ends[0].at).normalize_or_zero();
    let at = ends[1].at + far_m * out;
    (out != DVec2::ZERO).then_some(CoursePoint { at, ..ends[1] })
}

/// The mean around each of a row of values, twice, so that no corners are left.
fn evened(values: &[f64], around: usize) -> Vec<f64> {
    let once = |values: &[f64]| -> Vec<f64> {
        let last = values.len() - 1;
        (0..values.len())
            .map(|k| {
                // As far on either side, so that ends keep their slope.
                let reach = around.min(k).min(last - k);
                let near = &values[k - reach..=k + reach];
                near.iter().sum::<f64>() / near.len() as f64
            })
            .collect()
    };
    once(&once(values))
}

/// A place that is looked at.
#[derive(Clone, Copy)]
struct Place {
    /// Where it is, moved about as ragged edges want it.
    at: DVec2,
    /// How far that is from the course.
    away_m: f64,
    along: Along,
    land_m: f64,
    detail_m: f64,
    /// Noise, about −1 to 1.
    rough: f64,
    island: f64,
}

impl Laid<'_> {
    fn profile_at(&self, along_m: f64) -> f64 {
        let at = (along_m / self.step_m).max(0.0);
        let k = (at as usize).min(self.profile_m.len().saturating_sub(2));
        let (a, b) = (self.profile_m[k], self.profile_m[(k + 1).min(self.profile_m.len() - 1)]);
        a + (at - k as f64).min(1.0) * (b - a)
    }

    fn valley(&self, place: Place) -> f64 {
        let course = self.course;
        let floor_m = self.profile_at(place.along.along_m);
        let depth_m = course.height_m * place.along.high;
        let (share, round) = match course.section {
            ValleySection::V => (0.12, 0.0),
            ValleySection::U => (1.0, 0.22),
            ValleySection::Flat => (1.0, 0.0),
        };
        let uneven = 1.0 + 0.3 * place.rough;
        let half_m = 0.5 * course.width_m * place.along.wide * share * uneven;
        let half_m = half_m.max(self.least_half_m);
        // Near its middle nothing is rough, so that water runs there.
        let inside = (place.away_m / half_m.max(1e-6)).min(1.0);
        let dish = DISH * place.away_m.min(half_m) + round * depth_m * inside * inside;
        let shown = 1.0 - self.least_half_m / half_m;
        let bars = (0.02 * half_m * place.rough + 0.25 * place.detail_m) * inside.powi(4) * shown;
        let beyond_m = place.away_m - half_m;
        let floor_m = floor_m + dish + bars;
        let mut cut_m = floor_m;
        if beyond_m > 0.0 {
            // Walls draw back where the land's own valleys come down, and stand out between
            // them, the more the farther they are.
            let own = (2.0 * place.detail_m / depth_m.max(1.0)).clamp(-0.6, 0.6);
            let stands = (1.05 + 0.6 * place.rough + own).clamp(0.3, 2.5);
            let wall_m = self.walls.height(floor_m as f32, (beyond_m * stands) as f32);
            let up = ((f64::from(wall_m) - floor_m) / depth_m.max(1.0)).clamp(0.0, 1.0);
            let own_m = place.detail_m.clamp(-0.2 * depth_m, 0.2 * depth_m);
            cut_m = f64::from(wall_m) + up * 0.7 * own_m;
            let blend_m = (0.1 * depth_m * up) as f32;
            cut_m = f64::from(smooth_lowest(cut_m as f32, place.land_m as f32, blend_m));
        }
        let standing = place.island * f64::from(smooth((inside / 0.3) as f32));
        let top_m = place.land_m.min(floor_m + 0.92 * depth_m + 0.4 * place.detail_m);
        cut_m.max(cut_m + standing * (top_m - cut_m))
    }

    fn ridge(&self, place: Place) -> f64 {
        let course = self.course;
        let reach_m = 0.5 * course.width_m * place.along.wide;
        let up = (1.0 - place.away_m / reach_m.max(1e-6)).max(0.0);
        // Sharp at the crest and hollow at the foot, with crests and valleys of its own on
        // its sides.
        let shape = up.powf(1.6);
        let sides = 0.55 * place.rough * (up * (1.35 - up)).max(0.0);
        place.land_m + course.height_m * place.along.high * (shape + sides).max(0.0)
    }

    fn way(&self, place: Place) -> f64 {
        let course = self.course;
        let level_m = self.profile_at(place.along.along_m);
        let beyond_m = (place.away_m - 0.5 * course.width_m * place.along.wide).max(0.0);
        let bank_m = beyond_m * course.walls_deg.to_radians().tan();
        place.land_m.clamp(level_m - bank_m, level_m + bank_m)
    }

    fn shore(&self, place: Place) -> f64 {
        let course = self.course;
        let left = self.curve.side(place.at, place.along.along_m) > 0.0;
        if left {
            return place.land_m;
        }
        let out = place.away_m / (course.width_m * place.along.wide).max(1e-6);
        // A cliff, and a shelf before it.
        let sinks = 0.6 * f64::from(smooth((out / 0.15) as f32)) + 0.4 * f64::from(smooth(out as f32));
        place.land_m - sinks * (course.height_m * place.along.high)
    }
}

impl Kind for Course {
    fn products(&self) -> &'static [Product] {
        &[FROM_COURSE, ALONG_COURSE]
    }

    fn margin(&self, cell_m: f64) -> usize {
        near_blur_margin(self.blurs_m(), cell_m)
    }

    fn blurs_m(&self) -> f64 {
        0.5 * self.width_m
    }

    fn check(&self) -> Result<(), Unfit> {
        let differ = self.curve(1.0).is_some();
        match differ {
            true => Ok(()),
            false => Err((
                "points",
                format!("{} points", self.points.len()),
                "a course goes through two places at least".to_owned(),
            )),
        }
    }

    /// Land, its blur, three fields of noise, and what is made.
    fn fields(&self) -> f64 {
        10.0
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let frame = *site.frame();
        let below = site.below_here();
        let longest_m = site.extent().longest_m();
        let Some(curve) = self.curve(longest_m) else {
            // Checked with the document; an unchecked one makes nothing.
            return Ok(below.into());
        };
        let step_m = (self.width_m / 4.0).max(curve.length_m() / 4000.0);
        let profile_m = self.profile(&curve, step_m, site)?;
        let (low, high) = profile_m.iter().fold((f64::MAX, f64::MIN), |(low, high), &height| {
            (low.min(height), high.max(height))
        });
        let walls = Walls {
            steep: self.walls_deg.to_radians().tan() as f32,
            bed_m: self.beds_m as f32,
            scree_m: (self.scree * self.height_m) as f32,
        };
        let above_m = 3.0 * self.height_m + longest_m.min(4000.0);
        let laid = Laid {
            walls: WallProfile::between(walls, low as f32 - 1.0, (high + above_m) as f32),
            noise: self.noises(site, &frame)?,
            least_half_m: 0.75 * frame.cell_m,
            course: self,
            curve,
            step_m,
            profile_m,
        };
        let soft = site.blurred_below(self.blurs_m(), 0)?;
        let islands = self.islands_on(site, &frame)?;
        let ragged = self.ragged_m * f64::from(carried(self.ragged_feature_m / frame.cell_m));
        let run = site.run().quietly();
        // Height, distance from and along, in one look at each place.
        let made = Grid::by_rows(frame.cols, frame.rows, |r, row: &mut [[f32; 3]]| {
            for (c, made) in row.iter_mut().enumerate() {
                if run.check().is_err() {
                    return;
                }
                let at = DVec2::new(frame.x_m(c), frame.y_m(r));
                let (noise, land_m) = (&laid.noise, below.at(c, r));
                let (near_m, plain) = laid.curve.nearest(at);
                // Not in the middle of the course: its floor stays where it was drawn.
                let push = ragged * DVec2::new(f64::from(noise.east.at(c, r)), f64::from(noise.north.at(c, r)));
                let middle_m = match self.makes {
                    CourseMakes::Ridge | CourseMakes::Shore => 0.0,
                    _ => 0.5 * self.width_m * plain.wide,
                };
                let outside = f64::from(smooth((near_m / middle_m.max(1e-6)) as f32));
                let at = at + outside * push;
                let (away_m, along) = laid.curve.nearest(at);
                let place = Place {
                    at,
                    away_m,
                    along,
                    land_m: f64::from(land_m),
                    detail_m: f64::from(land_m - soft.at(c, r)),
                    rough: f64::from(noise.rough.at(c, r)).clamp(-1.0, 1.0),
                    island: islands.as_ref().map_or(0.0, |islands| f64::from(islands.at(c, r))),
                };
                *made = [self.height(&laid, place) as f32, near_m as f32, plain.along_m as f32];
            }
        });
        site.run().check()?;
        let field = |k: usize| made.map(|made| made[k]);
        Ok(Made {
            heights: field(0),
            products: Products::default()
                .with(FROM_COURSE, field(1))
                .with(ALONG_COURSE, field(2)),
            ledger: None,
        })
    }
}

impl Course {
    /// Where islands and spires are left standing, 0 to 1.
    fn islands_on(&self, site: &Site, frame: &Frame) -> Result<Option<Grid>, GrowError> {
        if self.islands <= 0.0 || self.makes != CourseMakes::Valley {
            return Ok(None);
        }
        let noise = FractalNoise {
            feature_m: 2.2 * self.islands_m,
            octaves: 4.0,
            gain: 0.45,
            seed: self.seed.wrapping_mul(7).wrapping_add(4),
            ..FractalNoise::default()
        };
        let (low, high) = noise.spread();
        let field = noise.fill(frame, site.run().quietly())?;
        // The higher the noise must be, the fewer and smaller they are.
        let least = high - (high - low) * self.islands as f32;
        let edge = 0.22 * (high - low);
        Ok(Some(field.map(|value| smooth((value - least) / edge))))
    }
}
