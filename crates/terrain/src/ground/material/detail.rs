//! What a renderer needs of a material to show it close up.

use super::Material;
use crate::Grid;
use crate::ground::Colour;

/// A material as two pictures of four bytes a texel.
#[derive(Clone, Debug, PartialEq)]
pub struct Detail {
    /// Red, green and blue say how the colour differs from the material's mean:
    /// (2 v / 255)² times as much, in linear light; on the mean of all texels
    /// they are 127.5. The fourth is the height, 255 is the highest.
    pub grain: Grid<[u8; 4]>,
    /// Surface direction east and north (0 is −1, 255 is 1), roughness, and how
    /// open the texel is to light.
    pub surface: Grid<[u8; 4]>,
}

impl Material {
    /// The material with at most `side` texels along each side.
    pub fn detail(&self, side: usize) -> Detail {
        let near = self.coarser(side);
        let texels = near.texels();
        let mean = near.mean().colour;
        let grain = texels.map(|texel| {
            let Colour { r, g, b } = texel.colour;
            [
                (r / mean.r.max(1e-4)).sqrt(),
                (g / mean.g.max(1e-4)).sqrt(),
                (b / mean.b.max(1e-4)).sqrt(),
                texel.height,
            ]
        });
        // So that the mean of the bytes, which is what is seen from afar, leaves
        // the colour as it is.
        let count = grain.values().len() as f32;
        let mut centre = [0.0_f32; 3];
        for texel in grain.values() {
            for (centre, value) in centre.iter_mut().zip(texel) {
                *centre += value / count;
            }
        }
        let byte = |v: f32| (v.clamp(0.0, 1.0) * 255.0).round() as u8;
        let (normals, roughness, open) = (
            near.normal_map(),
            near.roughness_map(),
            near.occlusion_map(),
        );
        let surface = Grid::by_rows(texels.cols(), texels.rows(), |r, row: &mut [[u8; 4]]| {
            for (c, out) in row.iter_mut().enumerate() {
                let [east, north, _] = normals.at(c, r);
                *out = [east, north, roughness.at(c, r), open.at(c, r)];
            }
        });
        Detail {
            grain: grain.map(|[r, g, b, height]| {
                let [r, g, b] = [r / centre[0], g / centre[1], b / centre[2]];
                [byte(r * 0.5), byte(g * 0.5), byte(b * 0.5), byte(height)]
            }),
            surface,
        }
    }
}
