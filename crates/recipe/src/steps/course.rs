//! Drawn courses: valleys, ridges, ways and shores.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::Sampler;
use terrain::line::{Along, Course as Curve, CoursePoint, DVec2, Drawn};
use terrain::mask::smooth;
use terrain::noise::{Character, FractalNoise, carried};
use terrain::shape::{Across, Beside, CrossSection, WallProfile, Walls, near_blur_margin};
use terrain::{Frame, Grid};

use super::{Kind, StepOutput, Unfit};
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
    form: Form::field(Measure::amount("m", 2000.0), ROCK_BROWN, 0.5).as_it_is(),
});

const ALONG_COURSE: Product = Product::of(&Declared {
    name: "along_course",
    title: "Distance along a course",
    about: "How far along the drawn course the place of it is that is nearest, metres.",
    form: Form::field(Measure::amount("m", 10_000.0), WATER_BLUE, 0.5).as_it_is(),
});

/// What lies under a course is read on so many cells of the whole land, whatever the
/// resolution: its floor is then the same.
const READ_ON: usize = 256;
/// A valley falls at least so much a metre.
const LEAST_FALL: f64 = 5e-4;

impl Default for Course {
    fn default() -> Self {
        let point = |x_m, y_m| DrawnPoint {
            x_m,
            y_m,
            wide: 1.0,
            high: 1.0,
            steep: 1.0,
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

/// Heights along a curve.
struct Profile {
    /// Every so many metres along it …
    step_m: f64,
    /// … the height of its floor, or of the way.
    heights_m: Vec<f64>,
}

impl Profile {
    fn at(&self, along_m: f64) -> f64 {
        let last = self.heights_m.len() - 1;
        let at = (along_m / self.step_m).clamp(0.0, last as f64);
        let k = (at as usize).min(last.saturating_sub(1));
        let (a, b) = (self.heights_m[k], self.heights_m[(k + 1).min(last)]);
        a + (at - k as f64) * (b - a)
    }
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
                    sides
                        .fill(frame, run)?
                        .map(|value| 2.0 * (value - middle) / (high - low))
                }
                _ => noise(3, 4.0, Character::Fractal).fill(frame, run)?,
            },
        })
    }

    /// Heights along the curve: what lies below, evened, less the depth of a valley, and
    /// falling where it is to.
    fn profile(&self, curve: &Curve, site: &Site) -> Result<Profile, GrowError> {
        let step_m = (self.width_m / 4.0).max(curve.length_m() / 4000.0);
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
        Ok(Profile {
            step_m,
            heights_m: profile,
        })
    }

    /// What it makes, and how.
    fn cross_section(&self, profile: &Profile, longest_m: f64, cell_m: f64) -> CrossSection {
        let ends = (f64::MAX, f64::MIN);
        let heights = profile.heights_m.iter();
        let (low, high) = heights.fold(ends, |(low, high), &height| {
            (low.min(height), high.max(height))
        });
        let slope = self.walls_deg.to_radians().tan();
        let walls = Walls {
            steep: slope as f32,
            bed_m: self.beds_m as f32,
            scree_m: (self.scree * self.height_m) as f32,
        };
        let above_m = 3.0 * self.height_m + longest_m.min(4000.0);
        CrossSection {
            makes: match (self.makes, self.section) {
                (CourseMakes::Valley, ValleySection::V) => Across::RiverValley,
                (CourseMakes::Valley, ValleySection::U) => Across::Trough,
                (CourseMakes::Valley, ValleySection::Flat) => Across::FlatValley,
                (CourseMakes::Ridge, _) => Across::Ridge,
                (CourseMakes::Way, _) => Across::Way,
                (CourseMakes::Shore, _) => Across::Shore,
            },
            width_m: self.width_m,
            height_m: self.height_m,
            bank: slope,
            walls: WallProfile::between(walls, low as f32 - 1.0, (high + above_m) as f32),
            least_half_m: 0.75 * cell_m,
        }
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

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let frame = *site.frame();
        let below = site.below_here();
        let longest_m = site.extent().longest_m();
        let Some(curve) = self.curve(longest_m) else {
            // Checked with the document; an unchecked one makes nothing.
            return Ok(below.into());
        };
        let profile = self.profile(&curve, site)?;
        let across = self.cross_section(&profile, longest_m, frame.cell_m);
        let noise = self.noises(site, &frame)?;
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
                let land_m = below.at(c, r);
                let (near_m, plain) = curve.nearest(at);
                // Not in the middle of the course: its floor stays where it was drawn.
                let middle_m = match self.makes {
                    CourseMakes::Ridge | CourseMakes::Shore => 0.0,
                    _ => 0.5 * self.width_m * plain.wide,
                };
                let outside = f64::from(smooth((near_m / middle_m.max(1e-6)) as f32));
                let [east, north] =
                    [&noise.east, &noise.north].map(|noise| f64::from(noise.at(c, r)));
                let at = at + outside * ragged * DVec2::new(east, north);
                let (away_m, along) = curve.nearest(at);
                let height_m = across.height(Beside {
                    away_m,
                    left: curve.side(at, along.along_m) > 0.0,
                    wide: along.wide,
                    high: along.high,
                    steep: along.steep,
                    base_m: profile.at(along.along_m),
                    land_m: f64::from(land_m),
                    detail_m: f64::from(land_m - soft.at(c, r)),
                    rough: f64::from(noise.rough.at(c, r)).clamp(-1.0, 1.0),
                    island: islands
                        .as_ref()
                        .map_or(0.0, |islands| f64::from(islands.at(c, r))),
                });
                *made = [height_m as f32, near_m as f32, plain.along_m as f32];
            }
        });
        site.run().check()?;
        let field = |k: usize| made.map(|made| made[k]);
        Ok(StepOutput {
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
