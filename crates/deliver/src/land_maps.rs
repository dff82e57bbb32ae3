//! Maps that do not ask what the ground is made of.

use formats::PixelKind;
use recipe::{Land, Recipe};
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
#[derive(Clone, Copy)]
pub(crate) struct LandMaps<'a> {
    pub(crate) recipe: &'a Recipe,
    pub(crate) land: &'a Land<'a>,
    pub(crate) order: &'a Order,
    pub(crate) tiling: Tiling,
}

impl LandMaps<'_> {
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
                let mut png = TiledPng::new(layer.stem(), kind, self.tiling, facts);
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
            stem: &layer.stem(),
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
    pub(crate) fn field(&self, layer: &Layer, run: Run) -> Result<Grid, DeliverError> {
        let frame = *self.land.frame();
        Ok(match layer {
            Layer::Height | Layer::Height16 => self.land.heights(),
            Layer::Slope => slope_deg(self.land.heights_with_apron(), frame.cell_m),
            Layer::Left(product) => {
                // A step that is set so that it leaves nothing has nothing of it everywhere.
                let none = || Grid::filled(frame.cols, frame.rows, 0.0);
                self.land.product(*product).unwrap_or_else(none)
            }
            Layer::Mask(name) => {
                let named = Layer::mask_called(name, self.recipe).expect("checked before");
                self.land.mask(&named.mask, run)?
            }
            _ => unreachable!("not a field"),
        })
    }

    /// A layer that is grey in 255 steps.
    pub(crate) fn grey(&self, layer: &Layer) -> Grid<u8> {
        let wide = self.land.heights_with_apron();
        let cell_m = self.land.frame().cell_m;
        match layer {
            Layer::Occlusion => {
                let byte = |share: f32| (share.clamp(0.0, 1.0) * 255.0).round() as u8;
                sky_seen(wide, 1, SKY_REACH_M, cell_m).map(byte)
            }
            _ => hillshade(wide, cell_m, Sun::from(self.recipe.sun), 1.0),
        }
    }
}
