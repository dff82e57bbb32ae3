//! What the land is made of: covers laid over each other.

use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use terrain::ground::{
    Blend, Colour, Laying, Material, MaterialKind, Spot, Texel, Weights, height_blend,
};
use terrain::reading::for_each_gradient;
use terrain::{Frame, Grid, Run};

use super::GrowError;
use super::readings::patches;
use crate::document::Cover;

/// What the ground is where a recipe names no cover.
const BARE: Colour = Colour {
    r: 0.30,
    g: 0.285,
    b: 0.26,
};
/// Roughness of a cover that has no material.
const PLAIN_ROUGHNESS: f32 = 0.85;

/// What the land is made of.
pub struct Ground<'r> {
    /// The covers that are on, bottom first; none means bare ground.
    pub covers: Vec<&'r Cover>,
    /// A layer for each cover, or one of bare ground.
    pub weights: Weights,
    /// Colour in linear light, without any light on it.
    pub albedo: Grid<Colour>,
    /// Roughness, 0 mirror to 1 chalk.
    pub roughness: Grid,
    /// Height of the textures, 0 to 1.
    pub relief: Grid,
}

/// One cover, ready to be laid.
struct Layer<'r> {
    cover: &'r Cover,
    colour: Colour,
    material: Arc<Material>,
    laying: Laying,
    mask: Grid,
    tone: Option<Grid>,
}

impl<'r> Ground<'r> {
    /// Lays `covers` over each other, bottom first, each where its mask says.
    /// `near` are heights with an apron of one cell.
    pub(super) fn lay(
        covers: Vec<&'r Cover>,
        masks: Vec<Grid>,
        near: &Grid,
        frame: Frame,
        run: Run,
    ) -> Result<Self, GrowError> {
        let (cols, rows) = (frame.cols, frame.rows);
        if covers.is_empty() {
            return Ok(Self {
                covers,
                weights: Weights::stacked(&[Grid::filled(cols, rows, 1.0)]),
                albedo: Grid::filled(cols, rows, BARE),
                roughness: Grid::filled(cols, rows, PLAIN_ROUGHNESS),
                relief: Grid::filled(cols, rows, 0.5),
            });
        }
        let layers = covers
            .iter()
            .zip(masks)
            .zip(1..)
            .map(|((cover, mask), seed)| Layer::of(cover, mask, seed, &frame, run))
            .collect::<Result<Vec<_>, GrowError>>()?;
        run.check()?;
        let gradients = for_each_gradient(near, frame.cell_m, |east, north, out| {
            for (out, (east, north)) in out.iter_mut().zip(east.iter().zip(north)) {
                *out = [*east, *north];
            }
        });
        // What each cell is, and after that how much of each layer shows in it.
        let stride = TEXEL + layers.len();
        let cells = Grid::by_rows(cols * stride, rows, |r, row| {
            for (c, cell) in row.chunks_exact_mut(stride).enumerate() {
                let spot = Spot {
                    place_m: [frame.x_m(c), frame.y_m(r), f64::from(near.at(c + 1, r + 1))],
                    gradient: gradients.at(c, r),
                    cell_m: frame.cell_m,
                };
                let (texel, shown) = cell.split_at_mut(TEXEL);
                let laid = lay_cell(&layers, c, r, spot, shown);
                let Colour { r, g, b } = laid.colour;
                texel.copy_from_slice(&[r, g, b, laid.roughness, laid.height]);
            }
        });
        run.check()?;
        let plane = |k: usize| {
            Grid::by_rows(cols, rows, |r, row| {
                for (value, cell) in row.iter_mut().zip(cells.row(r).chunks_exact(stride)) {
                    *value = cell[k];
                }
            })
        };
        let shown: Vec<Grid> = (TEXEL..stride).map(plane).collect();
        let albedo = Grid::by_rows(cols, rows, |r, row| {
            for (colour, cell) in row.iter_mut().zip(cells.row(r).chunks_exact(stride)) {
                let [r, g, b] = [cell[0], cell[1], cell[2]];
                *colour = Colour { r, g, b };
            }
        });
        Ok(Self {
            weights: Weights::stacked(&shown),
            albedo,
            roughness: plane(3),
            relief: plane(4),
            covers,
        })
    }
}

/// Numbers of a texel: red, green, blue, roughness, height.
const TEXEL: usize = 5;

/// Lays all layers in one cell, the lowest one everywhere. How much of each
/// one shows is written into `shown`.
fn lay_cell(layers: &[Layer], c: usize, r: usize, spot: Spot, shown: &mut [f32]) -> Texel {
    let mut texel = Texel::default();
    for (i, (layer, shown)) in layers.iter().zip(shown).enumerate() {
        let mask = layer.mask.at(c, r);
        if i > 0 && mask <= 0.0 {
            *shown = 0.0;
            continue;
        }
        let own = layer.texel(c, r, spot);
        if i == 0 {
            (texel, *shown) = (own, 1.0);
            continue;
        }
        let cover = layer.cover;
        let share =
            cover.opacity * height_blend(mask, own.height, texel.height, cover.height_blend);
        *shown = share;
        texel = Texel {
            colour: Blend::from(cover.blend).over(texel.colour, own.colour, share),
            height: texel.height + share * (own.height - texel.height),
            roughness: texel.roughness + share * (own.roughness - texel.roughness),
        };
    }
    texel
}

impl<'r> Layer<'r> {
    fn of(
        cover: &'r Cover,
        mask: Grid,
        seed: u32,
        frame: &Frame,
        run: Run,
    ) -> Result<Self, GrowError> {
        let colour = cover.linear_colour().unwrap_or(BARE);
        let texture = cover.texture;
        let laying = Laying {
            size_m: texture.size_m,
            turn_rad: texture.turn_deg.to_radians(),
            broken_up: texture.broken_up,
            from_the_side: texture.from_the_side,
        };
        let material = match cover.material {
            None => Arc::new(Material::plain(colour, PLAIN_ROUGHNESS)),
            Some(kind) => material(kind.into(), texture.size_m, frame.cell_m),
        };
        let amount = cover.mottle.amount;
        let tone = match amount > 0.0 {
            false => None,
            true => {
                let patches = patches(cover.mottle.feature_m, seed);
                Some(
                    patches
                        .fill(frame, run)?
                        .map(|v| (1.0 + v * amount).max(0.0)),
                )
            }
        };
        Ok(Self {
            cover,
            colour,
            material,
            laying,
            mask,
            tone,
        })
    }

    fn texel(&self, c: usize, r: usize, spot: Spot) -> Texel {
        let texel = self.material.laid(self.laying, spot);
        let texture = &self.cover.texture;
        let mut colour = texel.colour;
        if self.cover.material.is_some() {
            if texture.tint > 0.0 {
                // The cover's own colour, with the grain of the material.
                let mean = self.material.mean().colour.luminance().max(1e-4);
                let grain = self.colour.scaled(colour.luminance() / mean);
                colour = colour.towards(grain, texture.tint);
            }
            colour = colour.adjusted(texture.hue_deg, texture.saturation, texture.lightness);
        }
        if let Some(tone) = &self.tone {
            colour = colour.scaled(tone.at(c, r));
        }
        Texel { colour, ..texel }
    }
}

/// Texels along each side of a material: enough to be looked at closely, or to
/// have its mean.
const NEAR_SIDE: usize = 1024;
const FAR_SIDE: usize = 128;

/// A material that ships, grown once. From afar only its mean is asked for,
/// which a small texture tells at once.
fn material(kind: MaterialKind, size_m: f64, cell_m: f64) -> Arc<Material> {
    type Slots = [Mutex<Option<Arc<Material>>>; 2 * MaterialKind::ALL.len()];
    static GROWN: LazyLock<Slots> = LazyLock::new(|| std::array::from_fn(|_| Mutex::new(None)));
    let near = size_m / cell_m > FAR_SIDE as f64 / 4.0;
    let side = if near { NEAR_SIDE } else { FAR_SIDE };
    let slot = &GROWN[2 * kind as usize + usize::from(near)];
    let known = || slot.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(grown) = known().clone() {
        return grown;
    }
    // Not under the lock: while a thread waits for others here, it may be given
    // work that asks for the same material.
    let grown = Arc::new(Material::grown(kind, side));
    known().get_or_insert(grown).clone()
}
