//! Maps of the ground, laid and written a strip of rows at a time: the memory
//! that they take does not grow with the land.

use formats::{PixelKind, write_exr_colour};
use recipe::document::Recipe;
use recipe::grow::Ground;
use recipe::{GrowError, Land};
use serde_json::{Value, json};
use terrain::ground::Colour;
use terrain::picture::{Light, lit, normal_map};
use terrain::{Frame, Grid, Run};

use crate::folder::Folder;
use crate::manifest::Facts;
use crate::packed::{PackedMap, displacement_range_m};
use crate::tiles::{TiledPng, Tiling};
use crate::{ColourFormat, DeliverError, Layer};

/// Cells of a strip: some tens of megabytes for each of its fields.
const STRIP_CELLS: usize = 1 << 21;

/// What is written of the ground.
pub(crate) struct GroundMaps<'a> {
    pub(crate) recipe: &'a Recipe,
    pub(crate) land: &'a Land<'a>,
    pub(crate) layers: &'a [Layer],
    pub(crate) tiling: Tiling,
    /// The light on the whole land, for the plan.
    pub(crate) light: Option<Light>,
    /// How colour without light is written.
    pub(crate) colour: ColourFormat,
    /// Pictures that hold a map in each channel.
    pub(crate) packed: &'a [PackedMap],
}

/// One strip of the land and what it is made of.
struct Strip<'a> {
    ground: Ground<'a>,
    /// Heights of the strip with its displacement, with an apron of one cell.
    surface: Grid,
    /// Rows of the land before the strip, and rows of `ground` before it.
    first: usize,
    skip: usize,
    rows: usize,
}

/// One map being written.
struct Map {
    layer: Layer,
    /// Which of the layer's pictures.
    part: usize,
    png: TiledPng,
}

impl GroundMaps<'_> {
    /// Writes all maps; `report` is told the share that is done.
    pub(crate) fn write(
        &self,
        folder: &mut Folder,
        report: &dyn Fn(f32),
        run: Run,
    ) -> Result<(), DeliverError> {
        let in_floats = |layer: &Layer| *layer == Layer::Albedo && self.colour.floats().is_some();
        let pictures = self.layers.iter().filter(|layer| !in_floats(layer));
        let mut maps: Vec<Map> = pictures.flat_map(|layer| self.maps(layer)).collect();
        let mut packed: Vec<TiledPng> = self
            .packed
            .iter()
            .map(|map| self.begin_packed(map))
            .collect();
        // A format that is not written by rows waits until all of them are there.
        let mut albedo: Option<Vec<Colour>> = self.layers.iter().any(in_floats).then(Vec::new);
        self.strip_by_strip(report, run, |strip, steps| {
            for map in &mut maps {
                let bytes = self.bytes(strip, &map.layer, map.part, steps);
                map.png.push(folder, &bytes)?;
            }
            for (map, png) in self.packed.iter().zip(&mut packed) {
                let weights = steps.of(&strip.ground, u16::from(u8::MAX));
                let rows = (strip.first, strip.skip, strip.rows);
                png.push(folder, &map.bytes(&strip.ground, weights, rows))?;
            }
            if let Some(albedo) = &mut albedo {
                albedo.extend(strip.part(&strip.ground.albedo));
            }
            Ok(())
        })?;
        if let Some(albedo) = albedo {
            self.write_albedo(folder, albedo)?;
        }
        for layer in self.layers {
            self.describe(folder, layer)?;
        }
        for map in self.packed {
            let said = map.described(&self.files(&map.name));
            folder.write_json(&format!("{}.json", map.name), &said)?;
        }
        Ok(())
    }

    fn begin_packed(&self, map: &PackedMap) -> TiledPng {
        let kind = match map.channels.len() {
            3 => PixelKind::Rgb8,
            _ => PixelKind::Rgba8,
        };
        let facts = Facts::map("packed");
        TiledPng::new(map.name.clone(), kind, self.tiling, facts)
    }

    /// Writes colour in linear light.
    fn write_albedo(&self, folder: &mut Folder, albedo: Vec<Colour>) -> Result<(), DeliverError> {
        let frame = self.land.frame();
        let floats = self.colour.floats().expect("asked for");
        let whole = Grid::from_vec(frame.cols, frame.rows, albedo).expect("one for each cell");
        for tile in self.tiling.tiles() {
            let name = self.tiling.name("albedo", "exr", tile.at);
            let part;
            let colours = match self.tiling.side {
                None => &whole,
                Some(_) => {
                    part = whole.cropped(tile.col, tile.row, tile.cols, tile.rows);
                    &part
                }
            };
            folder.write(&name, |out| {
                write_exr_colour(out, colours, frame.cell_m, floats)
            })?;
            folder.note(&name, Facts::map("albedo").of_size((tile.cols, tile.rows)));
        }
        Ok(())
    }

    /// The names of the files of a picture, one or a list.
    fn files(&self, stem: &str) -> Value {
        let tiles = self.tiling.tiles().into_iter();
        let named = tiles.map(|tile| self.tiling.name(stem, "png", tile.at));
        let mut named: Vec<String> = named.collect();
        match self.tiling.side {
            None => json!(named.remove(0)),
            Some(_) => json!(named),
        }
    }

    /// The bytes of one picture of each layer, as their files have them.
    pub(crate) fn bytes_of_each(&self, run: Run) -> Result<Vec<Vec<u8>>, DeliverError> {
        let mut pictures = vec![Vec::new(); self.layers.len()];
        self.strip_by_strip(&|_| (), run, |strip, steps| {
            for (picture, layer) in pictures.iter_mut().zip(self.layers) {
                picture.extend(self.bytes(strip, layer, 0, steps));
            }
            Ok(())
        })?;
        Ok(pictures)
    }

    /// Lays the ground of one strip after the other, from the north.
    fn strip_by_strip(
        &self,
        report: &dyn Fn(f32),
        run: Run,
        mut take: impl FnMut(&Strip, &mut Steps) -> Result<(), DeliverError>,
    ) -> Result<(), DeliverError> {
        let frame = *self.land.frame();
        let rows = (STRIP_CELLS / frame.cols).clamp(1, frame.rows);
        for first in (0..frame.rows).step_by(rows) {
            run.check().map_err(GrowError::from)?;
            let strip = self.strip(&frame, first, rows.min(frame.rows - first), run)?;
            take(&strip, &mut Steps::default())?;
            report((first + strip.rows) as f32 / frame.rows as f32);
        }
        Ok(())
    }

    /// The names of the covers that are on, bottom first.
    fn names(&self) -> Vec<&str> {
        let covers = self.recipe.covers.iter().filter(|cover| cover.on);
        covers.map(|cover| cover.name.as_str()).collect()
    }

    fn maps(&self, layer: &Layer) -> Vec<Map> {
        // Bare ground counts as one cover.
        let covers = self.names().len().max(1);
        let parts = match layer {
            Layer::Weights => covers.div_ceil(4),
            Layer::Covers => covers,
            _ => 1,
        };
        let kind = match layer {
            Layer::Weights => PixelKind::Rgba8,
            Layer::Covers | Layer::Displacement => PixelKind::Grey16,
            Layer::Roughness | Layer::Id => PixelKind::Grey8,
            Layer::Albedo | Layer::Plan => PixelKind::Srgb8,
            _ => PixelKind::Rgb8,
        };
        let range_m = displacement_range_m(self.recipe);
        let range = match layer {
            Layer::Displacement => (-0.5 * range_m, 0.5 * range_m),
            _ => (0.0, 1.0),
        };
        let facts = Facts::map(layer.name()).in_unit(layer.unit());
        let facts = match layer {
            // Numbers that stand for something else.
            Layer::Id | Layer::Albedo | Layer::Plan | Layer::Normal | Layer::NormalDown => facts,
            _ => facts.between(range),
        };
        let map = |part: usize| Map {
            layer: layer.clone(),
            part,
            png: TiledPng::new(stem(layer, part), kind, self.tiling, facts.clone()),
        };
        (0..parts).map(map).collect()
    }

    fn displaces(&self) -> bool {
        let mut covers = self.recipe.covers.iter();
        covers.any(|cover| cover.on && cover.displacement_m > 0.0)
    }

    fn strip(
        &self,
        frame: &Frame,
        first: usize,
        rows: usize,
        run: Run,
    ) -> Result<Strip<'_>, GrowError> {
        // Surface directions look at the rows next to the strip.
        let directions = [Layer::Normal, Layer::NormalDown];
        let looks = self.displaces() && directions.iter().any(|d| self.layers.contains(d));
        let around = usize::from(looks);
        let from = first.saturating_sub(around);
        let to = (first + rows + around).min(frame.rows);
        let wide = frame.window(0, from, frame.cols, to - from);
        let ground = self.land.ground_in(self.recipe, &wide, run)?;
        let window = frame.window(0, first, frame.cols, rows);
        let near = self.land.heights_around(&window);
        let surface = match looks {
            false => near,
            // Beyond the land the ground goes on as it is at its edge.
            true => Grid::by_rows(near.cols(), near.rows(), |r, row| {
                let at = (first + r).saturating_sub(1).clamp(from, to - 1) - from;
                let raised = ground.displacement.row(at);
                for (c, value) in row.iter_mut().enumerate() {
                    let col = c.saturating_sub(1).min(frame.cols - 1);
                    *value = near.at(c, r) + raised[col];
                }
            }),
        };
        Ok(Strip {
            ground,
            surface,
            first,
            skip: first - from,
            rows,
        })
    }

    fn bytes(&self, strip: &Strip, layer: &Layer, part: usize, steps: &mut Steps) -> Vec<u8> {
        let ground = &strip.ground;
        let cell_m = self.land.frame().cell_m;
        match layer {
            Layer::Weights => {
                let steps = steps.of(ground, u16::from(u8::MAX));
                let four = &steps[4 * part..steps.len().min(4 * part + 4)];
                let packed =
                    Grid::by_rows(four[0].cols(), four[0].rows(), |r, out: &mut [[u8; 4]]| {
                        for (channel, grid) in four.iter().enumerate() {
                            for (out, &value) in out.iter_mut().zip(grid.row(r)) {
                                out[channel] = value as u8;
                            }
                        }
                    });
                strip.part(&packed).as_flattened().to_vec()
            }
            Layer::Covers => {
                let layer = &steps.of(ground, u16::MAX)[part];
                big_endian(strip.part(layer))
            }
            Layer::Id => strip.part(&ground.weights.dominant()).to_vec(),
            Layer::Albedo => {
                let albedo = ground.albedo.map(|colour| colour.to_srgb8());
                strip.part(&albedo).as_flattened().to_vec()
            }
            Layer::Roughness => {
                let roughness = strip.part(&ground.roughness).iter();
                roughness
                    .map(|v| (v.clamp(0.0, 1.0) * 255.0).round() as u8)
                    .collect()
            }
            Layer::Displacement => {
                let scale = 1.0 / displacement_range_m(self.recipe);
                let grey = strip.part(&ground.displacement).iter();
                let grey: Vec<u16> = grey
                    .map(|m| ((m * scale + 0.5).clamp(0.0, 1.0) * 65_535.0).round() as u16)
                    .collect();
                big_endian(&grey)
            }
            Layer::Normal => {
                let normals = normal_map(&strip.surface, cell_m);
                normals.values().as_flattened().to_vec()
            }
            Layer::NormalDown => {
                let normals = normal_map(&strip.surface, cell_m).map(|[x, y, z]| [x, 255 - y, z]);
                normals.values().as_flattened().to_vec()
            }
            Layer::Plan => self.plan(strip),
            _ => unreachable!("not a map of the ground"),
        }
    }

    fn plan(&self, strip: &Strip) -> Vec<u8> {
        let light = self.light.as_ref().expect("baked for the plan");
        let cols = self.land.frame().cols;
        let here = |grid: &Grid| grid.cropped(0, strip.first, cols, strip.rows);
        let lights = Light {
            sun: here(&light.sun),
            sky: here(&light.sky),
        };
        let window = self.land.frame().window(0, strip.first, cols, strip.rows);
        let heights = terrain::grid::without_apron(&self.land.heights_around(&window), 1);
        let albedo = strip.ground.albedo.cropped(0, strip.skip, cols, strip.rows);
        let plan = lit(&heights, &albedo, &lights, self.recipe.lighting());
        plan.values().as_flattened().to_vec()
    }

    /// Writes what says how to read a layer's pictures.
    fn describe(&self, folder: &mut Folder, layer: &Layer) -> Result<(), DeliverError> {
        let names = self.names();
        let file = |part: usize| self.files(&stem(layer, part));
        match layer {
            Layer::Weights => {
                let pictures = names.chunks(4).enumerate().map(
                    |(part, covers)| json!({ "file": file(part), "red_green_blue_alpha": covers }),
                );
                let side = json!({
                    "pictures": pictures.collect::<Vec<_>>(),
                    "note": "over all pictures the values of a cell sum to 255; alpha is a weight too",
                });
                folder.write_json("weights.json", &side)
            }
            Layer::Covers => {
                let covers = names.iter().enumerate();
                let covers = covers.map(|(i, name)| json!({ "file": file(i), "cover": name }));
                let side = json!({
                    "files": covers.collect::<Vec<_>>(),
                    "note": "over all files the values of a cell sum to 65535; linear, no gamma",
                });
                folder.write_json("covers.json", &side)
            }
            Layer::Id => {
                let side = json!({ "file": file(0), "covers": names });
                folder.write_json("id.json", &side)
            }
            Layer::Displacement => {
                let half = displacement_range_m(self.recipe) / 2.0;
                let side = json!({
                    "file": file(0),
                    "black_m": -half,
                    "white_m": half,
                    "note": "mid-grey leaves the surface where it is; linear, no gamma",
                });
                folder.write_json("displacement.json", &side)
            }
            _ => Ok(()),
        }
    }
}

impl Strip<'_> {
    /// The strip's part of a field of its ground.
    fn part<'g, T: Copy + Send + Sync>(&self, grid: &'g Grid<T>) -> &'g [T] {
        let cols = grid.cols();
        &grid.values()[self.skip * cols..(self.skip + self.rows) * cols]
    }
}

/// Weights in whole steps, taken once a strip.
#[derive(Default)]
struct Steps {
    bytes: Option<Vec<Grid<u16>>>,
    words: Option<Vec<Grid<u16>>>,
}

impl Steps {
    fn of(&mut self, ground: &Ground, full: u16) -> &[Grid<u16>] {
        let slot = match full {
            u16::MAX => &mut self.words,
            _ => &mut self.bytes,
        };
        slot.get_or_insert_with(|| ground.weights.in_steps(full))
    }
}

/// The name of a picture without its ending.
fn stem(layer: &Layer, part: usize) -> String {
    match layer {
        Layer::Weights => format!("weights-{}", part + 1),
        Layer::Covers => format!("cover-{}", part + 1),
        _ => layer.stem(),
    }
}

fn big_endian(values: &[u16]) -> Vec<u8> {
    values.iter().flat_map(|v| v.to_be_bytes()).collect()
}
