//! Readings of the land as it is at a step.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use terrain::erosion::{Drainage, drain};
use terrain::grid::{Beyond, refined};
use terrain::light::{Sun, sight_margin, sky_seen, sunlight, suns_of_day};
use terrain::line::{DVec2, LineIndex, LinePoint, Polyline};
use terrain::mask::painted;
use terrain::noise::FractalNoise;
use terrain::reading::{
    curvature_per_km, distance_m, facing_deg, position_m, position_margin, roughness_m, slope_deg,
};
use terrain::shape::blurred;
use terrain::{Extent, Frame, Grid, Run};

use super::assets::between;
use super::grower::Growth;
use super::key::Key;
use super::masked::mask_on;
use super::{Assets, Field, GrowError, Image, State};
use crate::document::{Cells, Mask, Reading, Strand, Term};
use crate::steps::{DEPTH, RIVERS, ranked};

/// Where in a recipe is looked, and what is there.
#[derive(Clone)]
pub(crate) struct LookedAt<'a> {
    /// The strand, after so many of its steps.
    pub(super) strand: &'a Strand,
    pub(super) steps: usize,
    /// The land there, with at least the margin of the mask that is taken.
    pub(super) state: Arc<State>,
    /// The land as a whole on the same lattice, with the margin of every named
    /// mask, for readings that need it.
    pub(super) whole: Option<Arc<State>>,
}

/// What masks can look at: the land at one place of a recipe.
#[derive(Clone)]
pub(crate) struct Beneath<'a> {
    growth: Growth<'a>,
    looked_at: LookedAt<'a>,
    /// What was taken of the land as a whole before.
    taken: Arc<Taken>,
    /// Masks that are named more than once, as they were taken.
    named: Arc<Mutex<HashMap<NamedOn, Arc<Grid>>>>,
}

/// The part of a lattice that a frame is.
type Window = (i64, i64, usize, usize);
/// A named mask on a part of the lattice.
type NamedOn = (String, Window);

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

impl<'a> Beneath<'a> {
    pub(super) fn of(growth: Growth<'a>, looked_at: LookedAt<'a>) -> Self {
        Self {
            growth,
            looked_at,
            taken: Arc::default(),
            named: Arc::default(),
        }
    }

    /// With what was taken of the same land before.
    pub(super) fn knowing(self, taken: Arc<Taken>) -> Self {
        Self { taken, ..self }
    }

    pub(super) fn run(&self) -> Run<'a> {
        self.growth.run
    }

    pub(super) fn assets(&self) -> &'a dyn Assets {
        self.growth.assets
    }

    pub(super) fn cells(&self, frame: &Frame) -> Cells {
        self.growth.cells(frame)
    }

    fn extent(&self) -> Extent {
        self.growth.recipe.extent.into()
    }

    fn sea_level_m(&self) -> f32 {
        self.growth.recipe.sea_level_m as f32
    }

    /// The same place of the recipe, seen on coarser cells: as much around `frame`
    /// as `mask` needs there.
    pub(super) fn on_coarser(&self, mask: &Mask, frame: &Frame) -> Result<Self, GrowError> {
        let (growth, at) = (&self.growth, &self.looked_at);
        let masks = &growth.plan.masks;
        let wide = frame.grown(masks.margin(mask, growth.cells(frame)));
        let state = growth.state(at.strand, at.steps, &wide)?;
        let looked_at = growth.looked_at((at.strand, at.steps), state, mask, frame)?;
        Ok(Self::of(growth.clone(), looked_at))
    }

    /// A reading that smooths the land over so many cells that it is taken of the
    /// land on coarser ones.
    fn wide_reading(
        &self,
        reading: &Reading,
        halvings: u32,
        frame: &Frame,
    ) -> Result<Grid, GrowError> {
        let coarse = frame.coarser(halvings);
        let alone = Mask::of(vec![Term::of(reading.clone())]);
        let over = self.on_coarser(&alone, &coarse)?;
        if let Reading::Position { scale_m } = reading {
            let margin = position_margin(*scale_m, coarse.cell_m);
            let around = over.heights_on(&coarse.grown(margin));
            let level = refined(&blurred(&around, *scale_m, coarse.cell_m), halvings, frame);
            let here = self.heights_on(frame);
            return Ok(here.zip_map(&level, |height, level| height - level));
        }
        Ok(refined(&over.reading(reading, &coarse)?, halvings, frame))
    }

    /// A mask by its name; kept while others are taken when more than one asks.
    fn named(&self, name: &str, frame: &Frame) -> Result<Grid, GrowError> {
        let masks = &self.growth.plan.masks;
        let Some(mask) = masks.get(name) else {
            return Ok(Grid::filled(frame.cols, frame.rows, 0.0));
        };
        if !masks.is_shared(name) {
            return mask_on(mask, self, frame);
        }
        let window = (frame.col0, frame.row0, frame.cols, frame.rows);
        let key = (name.to_owned(), window);
        if let Some(known) = lock(&self.named).get(&key).cloned() {
            return Ok(Grid::clone(&known));
        }
        // Not under the lock, as below.
        let taken = Arc::new(mask_on(mask, self, frame)?);
        lock(&self.named).insert(key, taken.clone());
        Ok(Grid::clone(&taken))
    }

    /// A reading on the cells of `frame`.
    pub(super) fn reading(&self, reading: &Reading, frame: &Frame) -> Result<Grid, GrowError> {
        let cell_m = frame.cell_m;
        let halvings = reading.scale_halvings(cell_m);
        if halvings > 0 {
            return self.wide_reading(reading, halvings, frame);
        }
        let on = self.cells(frame);
        let near = frame.grown(reading.margin(on));
        let heights = || self.heights_on(&near);
        let by_place = |of: &(dyn Fn(f64, f64) -> f32 + Sync)| {
            Grid::by_rows(frame.cols, frame.rows, |r, row| {
                let y_m = frame.y_m(r);
                for (c, value) in row.iter_mut().enumerate() {
                    *value = of(frame.x_m(c), y_m);
                }
            })
        };
        Ok(match reading {
            Reading::Height => Arc::unwrap_or_clone(heights()),
            Reading::Slope => slope_deg(&heights(), cell_m),
            Reading::Facing { bearing_deg } => facing_deg(&heights(), cell_m, *bearing_deg),
            Reading::Curvature { bend, scale_m } => {
                let smooth = blurred(&heights(), *scale_m, cell_m);
                curvature_per_km(&smooth, cell_m, *bend)
            }
            Reading::Position { scale_m } => position_m(&heights(), *scale_m, cell_m),
            Reading::Roughness { scale_m } => roughness_m(&heights(), *scale_m, cell_m),
            Reading::Occlusion { reach_m } => {
                let reach_m = on.within_land(*reach_m);
                sky_seen(&heights(), sight_margin(reach_m, cell_m), reach_m, cell_m)
                    .map(|seen| 1.0 - seen)
            }
            Reading::Sunlight {
                bearing_deg,
                altitude_deg,
            } => {
                let sun = Sun {
                    bearing_deg: *bearing_deg,
                    altitude_deg: *altitude_deg,
                };
                let reach_m = on.within_land(Reading::SHADOW_REACH_M);
                sunlight(
                    &heights(),
                    sight_margin(reach_m, cell_m),
                    reach_m,
                    cell_m,
                    sun,
                )
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
                let points = points.iter().map(|&[x, y]| LinePoint::plain(x, y));
                let line = LineIndex::over([&points.collect::<Polyline>()]);
                by_place(&|x_m, y_m| distance_to(&line, x_m, y_m))
            }
            Reading::Noise { feature_m, seed } => {
                patches(*feature_m, *seed).fill(frame, self.run())?
            }
            Reading::Image {
                asset,
                channel,
                of_rest,
            } => self.image(asset, usize::from(*channel), *of_rest, frame)?,
            Reading::Painted { strokes } => {
                let strokes: Vec<_> = strokes.iter().map(Into::into).collect();
                painted(&strokes, frame, self.run())?
            }
            Reading::Named { mask } => self.named(mask, frame)?,
            Reading::Trace(product) => match self.looked_at.state.field(*product) {
                Some(field) => self.part_of(&field, &near),
                None => Grid::filled(frame.cols, frame.rows, 0.0),
            },
            Reading::River { least_order } => {
                let rivers = self.looked_at.state.products.lines(RIVERS);
                let lines = ranked(rivers, *least_order);
                by_place(&|x_m, y_m| distance_to(&lines, x_m, y_m))
            }
        })
    }

    /// The heights of the land that stand on `frame`.
    fn heights_on(&self, frame: &Frame) -> Arc<Grid> {
        let heights = self.looked_at.state.heights_on(frame);
        heights.expect("the land reaches the mask's margin")
    }

    /// The part of a field of the land that stands on `frame`.
    fn part_of(&self, field: &Field, frame: &Frame) -> Grid {
        let offset = self.looked_at.state.frame.offset_of(frame);
        let offset = offset.expect("the land reaches the mask's margin");
        field.cropped(offset, frame).into_grid()
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
        let whole = self.looked_at.whole.as_ref();
        let whole = whole.expect("a mask that needs it was given it");
        let over = Frame::covering(self.extent(), frame.cell_m);
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
        let drainage = Arc::new(drain(&whole.heights, self.sea_level_m(), self.run())?);
        *lock(&self.taken.drainage) = Some(drainage.clone());
        Ok(drainage)
    }

    /// The same, looking at the land as a whole.
    pub(super) fn on_whole(&self) -> Self {
        let whole = self.looked_at.whole.clone();
        let looked_at = LookedAt {
            state: whole.expect("a mask that needs it was given it"),
            ..self.looked_at.clone()
        };
        Self {
            looked_at,
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
        let sea = self.sea_level_m();
        let under = self.heights_on(frame).map(|height| (sea - height).max(0.0));
        match self.looked_at.state.products.field(DEPTH) {
            None => under,
            Some(depth) => under.zip_map(&self.part_of(depth, frame), f32::max),
        }
    }

    fn is_water(&self, whole: &State) -> Grid {
        let sea = self.sea_level_m();
        let sunken = whole.heights.map(|height| f32::from(height < sea));
        match whole.products.field(DEPTH) {
            None => sunken,
            Some(depth) => sunken.zip_map(&depth.grid(), |sunken, depth| {
                sunken.max(f32::from(depth > WET_M))
            }),
        }
    }

    /// A named mask over the whole land.
    fn whole_mask(&self, name: &str, frame: &Frame) -> Result<Grid, GrowError> {
        match self.growth.plan.masks.get(name) {
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
        let reach_m = self.cells(frame).within_land(Reading::SHADOW_REACH_M);
        let margin = sight_margin(reach_m, frame.cell_m);
        let mut sum = Grid::filled(frame.cols, frame.rows, 0.0);
        for sun in &suns {
            self.run().check()?;
            let light = sunlight(heights, margin, reach_m, frame.cell_m, *sun);
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
        let image = self.assets().image(asset).ok_or_else(missing)?;
        if channel >= image.channels.len() {
            return Ok(nothing());
        }
        let of_channel = |k: usize| self.stretched(asset, &image, k, frame);
        let value = of_channel(channel)?;
        if !of_rest {
            return Ok(value);
        }
        // What covers laid above this one have left of the cell.
        let mut rest = value.clone();
        for below in 0..channel {
            rest = rest.zip_map(&of_channel(below)?, |a, b| a + b);
        }
        Ok(value.zip_map(&rest, |value, rest| value / rest.max(f32::MIN_POSITIVE)))
    }

    /// A channel of an image over the whole land, 0 to 1, on the cells of `frame`:
    /// averaged where these are larger than its own.
    fn stretched(
        &self,
        asset: &str,
        image: &Image,
        channel: usize,
        frame: &Frame,
    ) -> Result<Grid, GrowError> {
        let share = between(image.ends(channel));
        let values = &image.channels[channel];
        let key = Key::of_asset(asset).with(&("channel", channel));
        let pyramid = self.growth.kept_image(key, || Ok(Grid::clone(values)))?;
        let over = self.extent();
        let pixels = frame.cell_m
            * (values.cols() as f64 / over.width_m).max(values.rows() as f64 / over.depth_m);
        Ok(Grid::by_rows(frame.cols, frame.rows, |r, row| {
            let v = 1.0 - frame.y_m(r) / over.depth_m;
            for (c, value) in row.iter_mut().enumerate() {
                let u = frame.x_m(c) / over.width_m;
                *value = share(pyramid.linear_at(u, v, pixels, Beyond::Edge));
            }
        }))
    }
}

fn lock<T>(mutex: &Mutex<T>) -> std::sync::MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

fn distance_to(lines: &LineIndex, x_m: f64, y_m: f64) -> f32 {
    let nearest = lines.nearest(DVec2::new(x_m, y_m));
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
