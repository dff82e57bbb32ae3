//! Materials from maps that somebody else made.

use super::{Material, Texel};
use crate::Grid;
use crate::grid::{Beyond, Pyramid};
use crate::ground::Colour;

/// Maps of one material, each of any size, with values from 0 to 1 as they
/// stand in the files. All of them show the same square, which tiles.
#[derive(Clone, Debug, Default)]
pub struct GivenMaps {
    /// Red, green and blue, sRGB; grey stone when absent.
    pub albedo: Option<[Grid; 3]>,
    /// Height, lowest to highest; as bright as the colour when absent.
    pub height: Option<Grid>,
    /// Roughness, linear.
    pub roughness: Option<Grid>,
    /// Surface directions, green towards the top of the picture.
    pub normal: Option<[Grid; 3]>,
    /// How open each place is to light.
    pub occlusion: Option<Grid>,
}

/// Roughness where no map says it.
const PLAIN_ROUGHNESS: f32 = 0.85;
/// Colour where no map says it, sRGB.
const PLAIN_GREY: f32 = 0.5;
/// Sides of the texture that is made of the maps.
const SIDES: std::ops::RangeInclusive<usize> = 64..=2048;

impl Material {
    /// A material of `maps`. Its side is the power of two that is nearest to
    /// the largest map, from 64 to 2048; maps that are not square are made so.
    pub fn given(maps: GivenMaps) -> Self {
        let colours = maps.albedo.iter().flatten();
        let others = [&maps.height, &maps.roughness, &maps.occlusion];
        let all = colours.chain(others.into_iter().flatten());
        let largest = all.map(|map| map.cols().max(map.rows())).max();
        let side = 2_usize.pow((largest.unwrap_or(1) as f64).log2().round() as u32);
        let side = side.clamp(*SIDES.start(), *SIDES.end());
        let over = |map: Grid| Resized::to(side, map);
        let albedo = maps.albedo.map(|channels| channels.map(over));
        let height = maps.height.map(over);
        let roughness = maps.roughness.map(over);
        let finest = Grid::by_rows(side, side, |r, row: &mut [Texel]| {
            for (c, texel) in row.iter_mut().enumerate() {
                let colour = match &albedo {
                    Some([r_map, g_map, b_map]) => {
                        Colour::from_srgb([r_map, g_map, b_map].map(|map| map.at(c, r)))
                    }
                    None => Colour::from_srgb([PLAIN_GREY; 3]),
                };
                *texel = Texel {
                    colour,
                    height: match &height {
                        Some(map) => map.at(c, r),
                        None => colour.luminance(),
                    },
                    roughness: roughness
                        .as_ref()
                        .map_or(PLAIN_ROUGHNESS, |map| map.at(c, r)),
                };
            }
        });
        let byte = |v: f32| (v * 255.0).round() as u8;
        let normal = maps.normal.map(|channels| {
            let [x, y, z] = channels.map(over);
            Grid::by_rows(side, side, |r, row: &mut [[u8; 3]]| {
                for (c, normal) in row.iter_mut().enumerate() {
                    *normal = [&x, &y, &z].map(|map| byte(map.at(c, r)));
                }
            })
        });
        let occlusion = maps.occlusion.map(over);
        let open = occlusion.map(|map| {
            Grid::by_rows(side, side, |r, row: &mut [u8]| {
                for (c, open) in row.iter_mut().enumerate() {
                    *open = byte(map.at(c, r));
                }
            })
        });
        Self::of(finest).with_maps(normal, open)
    }
}

/// A map on the texels of a material.
struct Resized {
    side: usize,
    map: Pyramid,
    pixels: f64,
}

impl Resized {
    fn to(side: usize, map: Grid) -> Self {
        let pixels = map.cols().max(map.rows()) as f64 / side as f64;
        Self {
            side,
            map: Pyramid::over(map),
            pixels,
        }
    }

    fn at(&self, c: usize, r: usize) -> f32 {
        let at = |i: usize| (i as f64 + 0.5) / self.side as f64;
        let value = self.map.at(at(c), at(r), self.pixels, Beyond::Repeat);
        value.clamp(0.0, 1.0)
    }
}
