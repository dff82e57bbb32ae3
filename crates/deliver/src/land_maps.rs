//! Maps that do not ask what the ground is made of.

use std::cell::OnceCell;

use formats::PixelKind;
use recipe::{GrowError, Land, Recipe};
use terrain::light::{SKY_REACH_M, Sun, sky_seen};
use terrain::picture::hillshade;
use terrain::reading::slope_deg;
use terrain::{Grid, Run};

use crate::fields::{FieldFormat, Named, write_field};
use crate::folder::Folder;
use crate::manifest::Facts;
use crate::tiles::{TiledPng, Tiling};
use crate::{DeliverError, Layer, Order};

/// What maps of a land are made of.
pub(crate) struct LandMaps<'a> {
    pub(crate) recipe: &'a Recipe,
    pub(crate) order: &'a Order,
    land: &'a Land<'a>,
    tiling: Tiling,
    /// How much of the sky is seen, once it is asked for: it takes longest of all maps.
    sky: OnceCell<Grid<u8>>,
}

impl<'a> LandMaps<'a> {
    pub(crate) fn of(
        (recipe, land): (&'a Recipe, &'a Land<'a>),
        order: &'a Order,
        tiling: Tiling,
    ) -> Self {
        Self {
            recipe,
            order,
            land,
            tiling,
            sky: OnceCell::new(),
        }
    }

    /// Writes a layer.
    pub(crate) fn write(
        &self,
        folder: &mut Folder,
        layer: &Layer,
        run: Run,
    ) -> Result<(), DeliverError> {
        match layer {
            Layer::Recipe => folder.write_text("recipe.json", &self.recipe.to_json()),
            Layer::Occlusion | Layer::Hillshade => {
                let grey = self.grey(layer);
                let facts = Facts::map(layer.name()).between((0.0, 1.0));
                let kind = PixelKind::Grey8;
                let stem = self.order.stem(layer).to_owned();
                let mut png = TiledPng::new(stem, kind, self.tiling, facts);
                png.push(folder, grey.values())
            }
            // The same file, ordered twice.
            Layer::Height16
                if self.order.fields == FieldFormat::Png16
                    && self.order.layers.contains(&Layer::Height) =>
            {
                Ok(())
            }
            _ => self.write_field(folder, layer, run),
        }
    }

    fn write_field(
        &self,
        folder: &mut Folder,
        layer: &Layer,
        run: Run,
    ) -> Result<(), DeliverError> {
        let format = match layer {
            Layer::Height16 => FieldFormat::Png16,
            _ => self.order.fields,
        };
        let named = Named {
            stem: self.order.stem(layer),
            layer: &layer.name(),
            unit: layer.unit(),
            heights: matches!(layer, Layer::Height | Layer::Height16),
        };
        let values = self.field(layer, run)?;
        write_field(
            folder,
            &named,
            (&values, self.land.frame()),
            (self.tiling, self.recipe),
            (format, self.order.range),
        )
    }

    /// The values of a layer of one number a cell.
    pub(crate) fn field(&self, layer: &Layer, run: Run) -> Result<Grid, GrowError> {
        field((self.recipe, self.land), layer, run)
    }

    /// A layer that is grey in 255 steps.
    pub(crate) fn grey(&self, layer: &Layer) -> Grid<u8> {
        let wide = self.land.heights_with_apron();
        let cell_m = self.land.frame().cell_m;
        match layer {
            Layer::Occlusion => {
                let byte = |share: f32| (share.clamp(0.0, 1.0) * 255.0).round() as u8;
                let sky = || sky_seen(wide, 1, SKY_REACH_M, cell_m).map(byte);
                self.sky.get_or_init(sky).clone()
            }
            _ => hillshade(wide, cell_m, Sun::from(self.recipe.sun), 1.0),
        }
    }
}

/// The values of a layer of one number a cell that the landscape has.
pub(crate) fn field(
    (recipe, land): (&Recipe, &Land),
    layer: &Layer,
    run: Run,
) -> Result<Grid, GrowError> {
    let frame = *land.frame();
    Ok(match layer {
        Layer::Height | Layer::Height16 => land.heights(),
        Layer::Slope => slope_deg(land.heights_with_apron(), frame.cell_m),
        Layer::Product(product) => {
            // A step that is set so that it leaves nothing has nothing of it everywhere.
            let none = || Grid::filled(frame.cols, frame.rows, 0.0);
            land.product(*product).unwrap_or_else(none)
        }
        Layer::Mask(name) => {
            let named = Layer::mask_called(name, recipe).expect("checked before");
            land.mask(&named.mask, run)?
        }
        _ => unreachable!("not a field"),
    })
}
