//! Readings of the land as it is at a step.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use terrain::erosion::{Drainage, drain};
use terrain::mask::painted;
use terrain::noise::FractalNoise;
use terrain::picture::Sun;
use terrain::reading::{
    LinePoint, Lines, curvature_per_km, distance_m, facing_deg, position_m, roughness_m, sky_seen,
    slope_deg, sunlight, suns_of_day,
};
use terrain::shape::blurred;
use terrain::{Extent, Frame, Grid, Run};

use super::assets::between;
use super::masked::mask_on;
use super::{Assets, GrowError, Image, State};
use crate::document::{NamedMask, Reading, Trace, lookup};
use crate::steps::lines_of;

/// What masks can look at: the land at one place of a recipe.
#[derive(Clone)]
pub(crate) struct Beneath<'a> {
    /// The land, with at least the margin of the mask that is taken.
    pub(super) state: &'a State,
    /// The land as a whole on the same lattice, with the margin of every named
    /// mask, for readings that need it.
    pub(super) whole: Option<Arc<State>>,
    pub(super) extent: Extent,
    pub(super) sea_level_m: f32,
    pub(super) named: &'a [NamedMask],
    pub(super) assets: &'a dyn Assets,
    pub(super) run: Run<'a>,
    /// What was taken of the land as a whole before.
    pub(super) taken: Arc<Taken>,
}

/// Fields and the drainage of the land as a whole, each taken once.
#[derive(Default)]
pub(super) struct Taken {
    fields: Mutex<HashMap<String, Arc<Grid>>>,
    drainage: Mutex<Option<Arc<Drainage>>>,
}

/// Stands in for a distance where there is nothing to be distant from, metres.
const NOWHERE_M: f32 = 1e9;
/// Water deeper than this counts as water, metres.
const WET_M: f32 = 0.05;
/// The least slope for the wetness index, which a level place would make endless.
const LEAST_TANGENT: f32 = 1e-3;

impl Beneath<'_> {
    /// A reading on the cells of `frame`.
    pub(super) fn reading(&self, reading: &Reading, frame: &Frame) -> Result<Grid, GrowError> {
        let cell_m = frame.cell_m;
        let near = frame.grown(reading.margin(cell_m));
        let heights = || self.on(&self.state.heights, &near);
        let by_place = |of: &(dyn Fn(f64, f64) -> f32 + Sync)| {
            Grid::by_rows(frame.cols, frame.rows, |r, row| {
                let y_m = frame.y_m(r);
                for (c, value) in row.iter_mut().enumerate() {
                    *value = of(frame.x_m(c), y_m);
                }
            })
        };
        Ok(match reading {
            Reading::Height => heights(),
            Reading::Slope => slope_deg(&heights(), cell_m),
            Reading::Facing { bearing_deg } => facing_deg(&heights(), cell_m, *bearing_deg),
            Reading::Curvature { bend, scale_m } => {
                let smooth = blurred(&heights(), *scale_m, cell_m);
                curvature_per_km(&smooth, cell_m, (*bend).into())
            }
            Reading::Position { scale_m } => position_m(&heights(), *scale_m, cell_m),
            Reading::Roughness { scale_m } => roughness_m(&heights(), *scale_m, cell_m),
            Reading::Occlusion { reach_m } => {
                sky_seen(&heights(), *reach_m, cell_m).map(|seen| 1.0 - seen)
            }
            Reading::Sunlight {
                bearing_deg,
                altitude_deg,
            } => {
                let sun = Sun {
                    bearing_deg: *bearing_deg,
                    altitude_deg: *altitude_deg,
                };
                sunlight(&heights(), Reading::SHADOW_REACH_M, cell_m, sun)
            }
            Reading::SunDay { latitude_deg, day } => {
                self.sun_of_day(&heights(), frame, *latitude_deg, *day)?
            }
            Reading::Area => self.of_whole(frame, "area", |whole| {
                const HECTARE_M2: f32 = 10_000.0;
                let area = self.area_cells(whole)?;
                let per_cell = (whole.frame.cell_area_m2() as f32) / HECTARE_M2;
                Ok(area.map(|cells| cells * per_cell))
            })?,
            Reading::Wetness => self.of_whole(frame, "wetness", |whole| self.wetness(whole))?,
            Reading::WaterDepth => self.water_depth_m(&near),
            Reading::Water => self.of_whole(frame, "water", |whole| {
                let wet = self.is_water(whole);
                Ok(distance_m(&wet, |wet| wet > 0.0, cell_m).map(|m| m.min(NOWHERE_M)))
            })?,
            Reading::Near { mask } => self.of_whole(frame, &format!("near {mask}"), |whole| {
                let there = self.whole_mask(mask, &whole.frame)?;
                Ok(distance_m(&there, |share| share >= 0.5, cell_m).map(|m| m.min(NOWHERE_M)))
            })?,
            Reading::East => by_place(&|x_m, _| x_m as f32),
            Reading::North => by_place(&|_, y_m| y_m as f32),
            Reading::Point { x_m, y_m } => by_place(&|x, y| (x - x_m).hypot(y - y_m) as f32),
            Reading::Line { points } => {
                let point = |[x_m, y_m]: &[f64; 2]| LinePoint {
                    x_m: *x_m,
                    y_m: *y_m,
                    value: 0.0,
                };
                let points: Vec<LinePoint> = points.iter().map(point).collect();
                let lines = Lines::new([points.as_slice()]);
                by_place(&|x_m, y_m| distance_to(&lines, x_m, y_m))
            }
            Reading::Noise { feature_m, seed } => {
                patches(*feature_m, *seed).fill(frame, self.run)?
            }
            Reading::Image {
                asset,
                channel,
                of_rest,
            } => self.image(asset, usize::from(*channel), *of_rest, frame)?,
            Reading::Painted { strokes } => {
                let strokes: Vec<_> = strokes.iter().map(Into::into).collect();
                painted(&strokes, frame)
            }
            Reading::Named { mask } => match lookup(self.named, mask) {
                Some(mask) => mask_on(mask, self, frame)?,
                None => Grid::filled(frame.cols, frame.rows, 0.0),
            },
            Reading::Trace(trace) => match self.state.traces.get(trace) {
                Some(grid) => self.on(grid, &near),
                None => Grid::filled(frame.cols, frame.rows, 0.0),
            },
            Reading::River { least_order } => {
                let rivers = self.state.rivers.as_ref();
                let rivers = rivers.map_or(&[][..], |rivers| rivers.as_slice());
                let lines = lines_of(rivers, *least_order);
                by_place(&|x_m, y_m| distance_to(&lines, x_m, y_m))
            }
        })
    }

    /// The part of a field of the land that stands on `frame`.
    fn on(&self, field: &Grid, frame: &Frame) -> Grid {
        let (col, row) = self
            .state
            .frame
            .offset_of(frame)
            .expect("the land reaches the mask's margin");
        field.cropped(col, row, frame.cols, frame.rows)
    }

    /// What `of` makes of the land as a whole, on the cells of `frame`; cells
    /// beyond the land have the value of the nearest one of it.
    ///
    /// `name` is the field's, unlike that of all others: it is taken once.
    pub(super) fn of_whole(
        &self,
        frame: &Frame,
        name: &str,
        of: impl FnOnce(&State) -> Result<Grid, GrowError>,
    ) -> Result<Grid, GrowError> {
        let whole = self.whole.as_ref();
        let whole = whole.expect("a mask that needs it was given it");
        let over = Frame::covering(self.extent, frame.cell_m);
        let known = lock(&self.taken.fields).get(name).cloned();
        let field = match known {
            Some(field) => field,
            None => {
                // Not under the lock: a thread that waits for others here may be
                // given work that wants the same lock.
                let field = Arc::new(of(&whole.cropped(&over))?);
                lock(&self.taken.fields).insert(name.to_owned(), field.clone());
                field
            }
        };
        let at = |first: i64, i: usize, count: usize| {
            (first + i as i64).clamp(0, count as i64 - 1) as usize
        };
        let (col0, row0) = (frame.col0 - over.col0, frame.row0 - over.row0);
        Ok(Grid::by_rows(frame.cols, frame.rows, |r, row| {
            let from = field.row(at(row0, r, field.rows()));
            for (c, value) in row.iter_mut().enumerate() {
                *value = from[at(col0, c, from.len())];
            }
        }))
    }

    /// How water runs over the land as a whole.
    pub(super) fn drainage(&self, whole: &State) -> Result<Arc<Drainage>, GrowError> {
        let known = lock(&self.taken.drainage).clone();
        if let Some(drainage) = known {
            return Ok(drainage);
        }
        let drainage = Arc::new(drain(&whole.heights, self.sea_level_m, self.run)?);
        *lock(&self.taken.drainage) = Some(drainage.clone());
        Ok(drainage)
    }

    /// The same, looking at the land as a whole.
    pub(super) fn on_whole(&self) -> Beneath<'_> {
        Beneath {
            state: self
                .whole
                .as_ref()
                .expect("a mask that needs it was given it"),
            ..self.clone()
        }
    }

    fn area_cells(&self, whole: &State) -> Result<Grid, GrowError> {
        let drainage = self.drainage(whole)?;
        let area = drainage.area_infinity_cells();
        Ok(Grid::from_vec(whole.frame.cols, whole.frame.rows, area).expect("one a cell"))
    }

    /// ln(a / tan β) (Beven and Kirkby 1979), with a the drained land for each
    /// metre of contour.
    fn wetness(&self, whole: &State) -> Result<Grid, GrowError> {
        let cell_m = whole.frame.cell_m;
        let wide = terrain::grid::with_apron(&whole.heights);
        let tangent = slope_deg(&wide, cell_m).map(|deg| deg.to_radians().tan());
        let area = self.area_cells(whole)?;
        Ok(area.zip_map(&tangent, |cells, tangent| {
            (cells * cell_m as f32 / tangent.max(LEAST_TANGENT)).ln()
        }))
    }

    /// Depth of the sea, or of the water that a step has left.
    fn water_depth_m(&self, frame: &Frame) -> Grid {
        let sea = self.sea_level_m;
        let under = self
            .on(&self.state.heights, frame)
            .map(|height| (sea - height).max(0.0));
        match self.state.traces.get(&Trace::Depth) {
            None => under,
            Some(depth) => under.zip_map(&self.on(depth, frame), f32::max),
        }
    }

    fn is_water(&self, whole: &State) -> Grid {
        let sea = self.sea_level_m;
        let sunken = whole.heights.map(|height| f32::from(height < sea));
        match whole.traces.get(&Trace::Depth) {
            None => sunken,
            Some(depth) => {
                sunken.zip_map(depth, |sunken, depth| sunken.max(f32::from(depth > WET_M)))
            }
        }
    }

    /// A named mask over the whole land.
    fn whole_mask(&self, name: &str, frame: &Frame) -> Result<Grid, GrowError> {
        match lookup(self.named, name) {
            Some(mask) => mask_on(mask, &self.on_whole(), frame),
            None => Ok(Grid::filled(frame.cols, frame.rows, 0.0)),
        }
    }

    fn sun_of_day(
        &self,
        heights: &Grid,
        frame: &Frame,
        latitude_deg: f64,
        day: u32,
    ) -> Result<Grid, GrowError> {
        let suns = suns_of_day(latitude_deg, day);
        let mut sum = Grid::filled(frame.cols, frame.rows, 0.0);
        for sun in &suns {
            self.run.check()?;
            let light = sunlight(heights, Reading::SHADOW_REACH_M, frame.cell_m, *sun);
            sum = sum.zip_map(&light, |sum, light| sum + light);
        }
        // The most that any face could get: the sun always straight on it.
        let most = suns.len().max(1) as f32;
        Ok(sum.map(|sum| sum / most))
    }

    /// An imported picture over the whole land.
    fn image(
        &self,
        asset: &str,
        channel: usize,
        of_rest: bool,
        frame: &Frame,
    ) -> Result<Grid, GrowError> {
        let nothing = || Grid::filled(frame.cols, frame.rows, 0.0);
        // Not chosen yet.
        if asset.is_empty() {
            return Ok(nothing());
        }
        let missing = || GrowError::MissingAsset {
            step: "a mask".to_owned(),
            asset: asset.to_owned(),
        };
        let image = self.assets.image(asset).ok_or_else(missing)?;
        if channel >= image.channels.len() {
            return Ok(nothing());
        }
        let value = self.stretched(&image, channel, frame);
        if !of_rest {
            return Ok(value);
        }
        // What covers laid above this one have left of the cell.
        let below = (0..channel).map(|k| self.stretched(&image, k, frame));
        let rest = below.fold(value.clone(), |sum, one| sum.zip_map(&one, |a, b| a + b));
        Ok(value.zip_map(&rest, |value, rest| value / rest.max(f32::MIN_POSITIVE)))
    }

    /// A channel of an image over the whole land, 0 to 1, on the cells of
    /// `frame`.
    fn stretched(&self, image: &Image, channel: usize, frame: &Frame) -> Grid {
        let share = between(image.ends(channel));
        let image = &image.channels[channel];
        let (cols, rows) = (image.cols() as f64, image.rows() as f64);
        let over = self.extent;
        Grid::by_rows(frame.cols, frame.rows, |r, row| {
            let v = (1.0 - frame.y_m(r) / over.depth_m) * rows - 0.5;
            for (c, value) in row.iter_mut().enumerate() {
                let u = frame.x_m(c) / over.width_m * cols - 0.5;
                *value = share(bilinear(image, u, v));
            }
        })
    }
}

fn lock<T>(mutex: &Mutex<T>) -> std::sync::MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

/// The value of an image between its cells; beyond its edge that of the edge.
fn bilinear(image: &Grid, u: f64, v: f64) -> f32 {
    let (u, v) = (
        u.clamp(0.0, (image.cols() - 1) as f64),
        v.clamp(0.0, (image.rows() - 1) as f64),
    );
    let (c, r) = (u as usize, v as usize);
    let (c1, r1) = ((c + 1).min(image.cols() - 1), (r + 1).min(image.rows() - 1));
    let (s, t) = ((u - c as f64) as f32, (v - r as f64) as f32);
    let above = image.at(c, r) + s * (image.at(c1, r) - image.at(c, r));
    let below = image.at(c, r1) + s * (image.at(c1, r1) - image.at(c, r1));
    above + t * (below - above)
}

fn distance_to(lines: &Lines, x_m: f64, y_m: f64) -> f32 {
    let nearest = lines.nearest(x_m, y_m, f64::INFINITY);
    nearest.map_or(NOWHERE_M, |near| near.distance_m as f32)
}

/// The noise that breaks up masks and tints.
pub(crate) fn patches(feature_m: f64, seed: u32) -> FractalNoise {
    FractalNoise {
        feature_m,
        octaves: 6.0,
        gain: 0.6,
        seed,
        ..FractalNoise::default()
    }
}
