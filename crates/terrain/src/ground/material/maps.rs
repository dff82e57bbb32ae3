//! Maps of a material for other software.

use super::Material;
use crate::Grid;

/// How far the lowest lies below the highest, as a share of the texture's side:
/// a texture of ten metres is four decimetres deep.
pub const DEPTH_SHARE: f32 = 0.04;

impl Material {
    /// Colour, sRGB.
    pub fn albedo_map(&self) -> Grid<[u8; 3]> {
        self.texels().map(|texel| texel.colour.to_srgb8())
    }

    /// Surface directions, green towards the top of the picture.
    pub fn normal_map(&self) -> Grid<[u8; 3]> {
        if let (Some(own), _) = self.own_maps() {
            return own.clone();
        }
        let texels = self.texels();
        let side = texels.cols();
        let steep = DEPTH_SHARE * side as f32 * 0.5;
        let height = |c: usize, r: usize| texels.at(c % side, r % side).height;
        Grid::by_rows(side, side, |r, row| {
            for (c, normal) in row.iter_mut().enumerate() {
                let east = (height(c + 1, r) - height(c + side - 1, r)) * steep;
                let up = (height(c, r + side - 1) - height(c, r + 1)) * steep;
                let scale = 1.0 / (1.0 + east * east + up * up).sqrt();
                let byte = |v: f32| ((v * scale * 0.5 + 0.5) * 255.0).round() as u8;
                *normal = [byte(-east), byte(-up), byte(1.0)];
            }
        })
    }

    /// Roughness, 255 is chalk.
    pub fn roughness_map(&self) -> Grid<u8> {
        self.texels().map(|texel| byte(texel.roughness))
    }

    /// Height, 255 is the highest.
    pub fn height_map(&self) -> Grid<u8> {
        self.texels().map(|texel| byte(texel.height))
    }

    /// How open each texel is to light from all around, 255 is fully: how far
    /// it stands below its surroundings, near and a little farther.
    pub fn occlusion_map(&self) -> Grid<u8> {
        /// Repeats of the texture over which the surroundings are taken, and
        /// how much standing below them by the full height darkens.
        const AROUND: [f64; 3] = [0.01, 0.03, 0.08];
        const DARKENS: f32 = 0.9;
        if let (_, Some(own)) = self.own_maps() {
            return own.clone();
        }
        let side = self.texels().cols();
        Grid::by_rows(side, side, |r, row| {
            for (c, open) in row.iter_mut().enumerate() {
                let (u, v) = (
                    (c as f64 + 0.5) / side as f64,
                    (r as f64 + 0.5) / side as f64,
                );
                let here = self.texels().at(c, r).height;
                let below = AROUND
                    .iter()
                    .map(|size| (self.around(u, v, *size).height - here).max(0.0))
                    .sum::<f32>();
                *open = byte(1.0 - DARKENS * below);
            }
        })
    }
}

fn byte(value: f32) -> u8 {
    (value.clamp(0.0, 1.0) * 255.0).round() as u8
}
