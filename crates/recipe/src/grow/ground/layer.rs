//! One cover, ready to be laid.

use std::sync::Arc;

use terrain::ground::{Colour, Gradient, Laid, Material, SpotRow, Texel};
use terrain::{Frame, Grid};

use super::BARE;
use super::materials::material_of;
use crate::document::{Cover, CoverGradient, linear_colour};
use crate::grow::GrowError;
use crate::grow::readings::{Beneath, patches};

/// A cover's material and the fields that colour it.
pub(super) struct Layer<'r> {
    pub(super) cover: &'r Cover,
    pub(super) mask: Grid,
    colour: Colour,
    material: Arc<Material>,
    /// Lightness of each cell, where it differs.
    tone: Option<Grid>,
    /// The cover's own colour in each cell, where it follows a gradient.
    own: Option<Grid<Colour>>,
    /// Another colour and how much of it is in each cell.
    patches: Option<(Colour, Grid)>,
}

/// A layer over cells of one size.
pub(super) struct LaidLayer<'l> {
    pub(super) layer: &'l Layer<'l>,
    laid: Laid<'l>,
    /// The texel without what differs from cell to cell, where that is all the
    /// same: from afar.
    plain: Option<Texel>,
    mean_light: f32,
}

impl<'r> Layer<'r> {
    pub(super) fn of(
        cover: &'r Cover,
        mask: Grid,
        seed: u32,
        beneath: &Beneath,
        frame: &Frame,
    ) -> Result<Self, GrowError> {
        let run = beneath.run();
        let colour = cover.linear_colour().unwrap_or(BARE);
        let amount = cover.mottle.amount;
        let tone = match amount > 0.0 {
            false => None,
            true => {
                let noise = patches(cover.mottle.feature_m, seed).fill(frame, run)?;
                Some(noise.map(|v| (1.0 + v * amount).max(0.0)))
            }
        };
        let own = match &cover.gradient {
            None => None,
            Some(gradient) => Some(gradient_on(gradient, beneath, frame)?),
        };
        let tint = match &cover.patches {
            None => None,
            Some(tint) => {
                let noise = patches(tint.feature_m, tint.seed).fill(frame, run)?;
                let there = noise.map(|v| tint.amount * terrain::mask::smooth(0.5 + 2.0 * v));
                linear_colour(&tint.colour).map(|colour| (colour, there))
            }
        };
        Ok(Self {
            cover,
            mask,
            colour,
            material: material_of(cover, colour, frame.cell_m, beneath.assets())?,
            tone,
            own,
            patches: tint,
        })
    }

    /// The layer over cells of `cell_m`.
    pub(super) fn laid(&self, cell_m: f64) -> LaidLayer<'_> {
        let laid = self.material.laid(self.cover.texture.laying(), cell_m);
        let mut layer = LaidLayer {
            layer: self,
            laid,
            plain: None,
            mean_light: self.material.mean().colour.luminance().max(1e-4),
        };
        if self.own.is_none() {
            layer.plain = laid
                .everywhere()
                .map(|texel| layer.coloured(texel, self.colour));
        }
        layer
    }
}

impl LaidLayer<'_> {
    /// Its material in the cells of a row where it is wanted.
    pub(super) fn along(&self, row: SpotRow, wanted: &[bool], out: &mut [Texel]) {
        match self.laid.everywhere() {
            Some(texel) => out.fill(texel),
            None => self.laid.along(row, wanted, out),
        }
    }

    /// What the layer is in a cell where its material is `texel`.
    pub(super) fn texel(&self, c: usize, r: usize, texel: Texel) -> Texel {
        let layer = self.layer;
        let mut texel = match (self.plain, &layer.own) {
            (Some(plain), _) => plain,
            (None, None) => self.coloured(texel, layer.colour),
            (None, Some(own)) => self.coloured(texel, own.at(c, r)),
        };
        if let Some((colour, there)) = &layer.patches {
            let grain = texel.colour.luminance() / self.mean_light;
            let other = match layer.cover.material {
                None => *colour,
                Some(_) => colour.scaled(grain),
            };
            texel.colour = texel.colour.towards(other, there.at(c, r));
        }
        if let Some(tone) = &layer.tone {
            texel.colour = texel.colour.scaled(tone.at(c, r));
        }
        texel
    }

    /// A texel of the material with what the cover does to its colour; `own`
    /// is the cover's own.
    fn coloured(&self, texel: Texel, own: Colour) -> Texel {
        let cover = self.layer.cover;
        let texture = &cover.texture;
        let mut colour = texel.colour;
        if cover.material.is_none() {
            return Texel {
                colour: own,
                ..texel
            };
        }
        if texture.tint > 0.0 {
            // The cover's own colour, with the grain of the material.
            let grain = own.scaled(colour.luminance() / self.mean_light);
            colour = colour.towards(grain, texture.tint);
        }
        Texel {
            colour: colour.adjusted(texture.hue_deg, texture.saturation, texture.lightness),
            ..texel
        }
    }
}

/// The colours of a gradient on the cells of `frame`.
fn gradient_on(
    gradient: &CoverGradient,
    beneath: &Beneath,
    frame: &Frame,
) -> Result<Grid<Colour>, GrowError> {
    let stops = gradient.stops.iter();
    let stops = stops.filter_map(|stop| Some((stop.at, linear_colour(&stop.colour)?)));
    let Some(colours) = Gradient::through(stops.collect()) else {
        return Ok(Grid::filled(frame.cols, frame.rows, BARE));
    };
    let reading = beneath.reading(&gradient.by, frame)?;
    let scale = 1.0 / (gradient.to - gradient.from);
    let place = |value: f32| (value - gradient.from) * scale;
    Ok(match &gradient.broken {
        None => reading.map(|value| colours.at(place(value))),
        Some(broken) => {
            let noise = patches(broken.feature_m, broken.seed).fill(frame, beneath.run())?;
            reading.zip_map(&noise, |value, noise| {
                colours.at(place(value) + broken.amount * noise)
            })
        }
    })
}
