//! What the land is made of: covers laid over each other.

mod finish;
mod layer;
mod materials;

use terrain::ground::{Blend, Colour, SpotRow, Texel, Weights, height_blend};
use terrain::reading::for_each_gradient;
use terrain::{Frame, Grid};

use super::GrowError;
use super::readings::Beneath;
use crate::document::{Cover, Finish};
use layer::{LaidLayer, Layer};
use materials::PLAIN_ROUGHNESS;
pub use materials::{cover_material, grow_shipped_materials};

/// What the ground is where a recipe names no cover.
const BARE: Colour = Colour {
    r: 0.30,
    g: 0.285,
    b: 0.26,
};

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
    /// How far the surface stands above the land's heights, metres.
    pub displacement: Grid,
}

/// Where and on what covers are laid.
pub(super) struct Place<'a> {
    /// The land, with the margin of all masks.
    pub(super) beneath: Beneath<'a>,
    /// Heights with an apron of one cell.
    pub(super) near: Grid,
    pub(super) frame: Frame,
}

impl<'r> Ground<'r> {
    /// Lays `covers` over each other, bottom first, each where its mask says,
    /// and finishes the ground as a whole.
    pub(super) fn lay(
        covers: Vec<&'r Cover>,
        masks: Vec<Grid>,
        finish: &Finish,
        place: &Place,
    ) -> Result<Self, GrowError> {
        let Place {
            beneath,
            near,
            frame,
        } = place;
        let (cols, rows) = (frame.cols, frame.rows);
        if covers.is_empty() {
            let bare = Self {
                covers,
                weights: Weights::stacked(&[Grid::filled(cols, rows, 1.0)]),
                albedo: Grid::filled(cols, rows, BARE),
                roughness: Grid::filled(cols, rows, PLAIN_ROUGHNESS),
                displacement: Grid::filled(cols, rows, 0.0),
            };
            return bare.finished(finish, beneath, frame);
        }
        let layers = covers
            .iter()
            .zip(masks)
            .zip(1..)
            .map(|((cover, mask), seed)| Layer::of(cover, mask, seed, beneath, frame))
            .collect::<Result<Vec<_>, GrowError>>()?;
        beneath.run().check()?;
        let layers: Vec<LaidLayer> = layers
            .iter()
            .map(|layer| layer.laid(frame.cell_m))
            .collect();
        let gradients = for_each_gradient(near, frame.cell_m, |east, north, out| {
            for (out, (east, north)) in out.iter_mut().zip(east.iter().zip(north)) {
                *out = [*east, *north];
            }
        });
        let x_m: Vec<f64> = (0..cols).map(|c| frame.x_m(c)).collect();
        // What each cell is, and after that how much of each layer shows in it.
        let stride = SURFACE + layers.len();
        let cells = Grid::by_rows(cols * stride, rows, |r, row| {
            let spots = SpotRow {
                x_m: &x_m,
                y_m: frame.y_m(r),
                heights_m: &near.row(r + 1)[1..=cols],
                gradients: gradients.row(r),
            };
            lay_row(&layers, r, spots, row);
        });
        beneath.run().check()?;
        let plane = |k: usize| {
            Grid::by_rows(cols, rows, |r, row| {
                for (value, cell) in row.iter_mut().zip(cells.row(r).chunks_exact(stride)) {
                    *value = cell[k];
                }
            })
        };
        let shown: Vec<Grid> = (SURFACE..stride).map(plane).collect();
        let albedo = Grid::by_rows(cols, rows, |r, row| {
            for (colour, cell) in row.iter_mut().zip(cells.row(r).chunks_exact(stride)) {
                let [r, g, b] = [cell[0], cell[1], cell[2]];
                *colour = Colour { r, g, b };
            }
        });
        let ground = Self {
            weights: Weights::stacked(&shown),
            albedo,
            roughness: plane(3),
            displacement: plane(4),
            covers,
        };
        ground.finished(finish, beneath, frame)
    }
}

/// Numbers of a surface: red, green, blue, roughness, displacement.
const SURFACE: usize = 5;

/// Lays all layers along a row of cells, the lowest one everywhere. Each cell
/// of `out` is the surface and how much of each layer shows in it.
fn lay_row(layers: &[LaidLayer], r: usize, spots: SpotRow, out: &mut [f32]) {
    let cols = spots.x_m.len();
    // What lies under a layer that hides it needs not be looked at.
    let hides = |laid: &LaidLayer, c: usize| {
        let (cover, mask) = (laid.layer.cover, &laid.layer.mask);
        cover.opacity >= 1.0 && cover.blend == Blend::Normal && mask.at(c, r) >= 1.0
    };
    let lowest: Vec<usize> = (0..cols)
        .map(|c| layers.iter().rposition(|laid| hides(laid, c)).unwrap_or(0))
        .collect();
    let materials: Vec<Vec<Texel>> = layers
        .iter()
        .enumerate()
        .map(|(i, laid)| {
            let lies =
                |c: usize| i == lowest[c] || (i > lowest[c] && laid.layer.mask.at(c, r) > 0.0);
            let wanted: Vec<bool> = (0..cols).map(lies).collect();
            let mut texels = vec![Texel::default(); cols];
            laid.along(spots, &wanted, &mut texels);
            texels
        })
        .collect();
    for (c, cell) in out.chunks_exact_mut(SURFACE + layers.len()).enumerate() {
        let (surface, shown) = cell.split_at_mut(SURFACE);
        let of = |i: usize| layers[i].texel(c, r, materials[i][c]);
        let (laid, displacement) = lay_cell(layers, (c, r), lowest[c], of, shown);
        let Colour { r, g, b } = laid.colour;
        surface.copy_from_slice(&[r, g, b, laid.roughness, displacement]);
    }
}

/// Lays the layers from the `lowest` on in one cell, and says how far the
/// surface stands above the land. How much of each layer shows is written into
/// `shown`.
fn lay_cell(
    layers: &[LaidLayer],
    (c, r): (usize, usize),
    lowest: usize,
    of: impl Fn(usize) -> Texel,
    shown: &mut [f32],
) -> (Texel, f32) {
    shown[..lowest].fill(0.0);
    let (mut texel, mut displacement) = (Texel::default(), 0.0);
    for (i, (laid, shown)) in layers.iter().zip(shown).enumerate().skip(lowest) {
        let cover = laid.layer.cover;
        let mask = laid.layer.mask.at(c, r);
        if i > lowest && mask <= 0.0 {
            *shown = 0.0;
            continue;
        }
        let own = of(i);
        let stands = (own.height - 0.5) * cover.displacement_m;
        if i == lowest {
            (texel, displacement, *shown) = (own, stands, 1.0);
            continue;
        }
        let share =
            cover.opacity * height_blend(mask, own.height, texel.height, cover.height_blend);
        *shown = share;
        displacement += share * (stands - displacement);
        texel = Texel {
            colour: cover.blend.over(texel.colour, own.colour, share),
            height: texel.height + share * (own.height - texel.height),
            roughness: texel.roughness + share * (own.roughness - texel.roughness),
        };
    }
    (texel, displacement)
}
