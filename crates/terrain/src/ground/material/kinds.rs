//! The materials that ship, each grown from a recipe of its own.

use super::Texel;
use super::tiling::{cells, gradient, layers};
use crate::ground::Colour;
use crate::smooth::smooth;

/// A kind of ground that ships with the program.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "MaterialKind")
)]
pub enum MaterialKind {
    /// Massive rock with few cracks.
    Granite,
    /// Rock in thin layers.
    Slate,
    /// Pale rock with pits.
    Limestone,
    /// Angular stones.
    Scree,
    /// Rounded stones.
    Gravel,
    /// Fine sand with ripples.
    Sand,
    /// Bare earth.
    Soil,
    /// Straw and bents.
    DryGrass,
    /// Green grass.
    LushGrass,
    /// Cushions of moss.
    Moss,
    /// Snow that has thawed, frozen and gathered dust.
    OldSnow,
    /// New snow.
    FreshSnow,
    /// Mud at the water's edge.
    WetSilt,
}

/// Three tones from dark to light, as sRGB bytes.
type Tones = [[u8; 3]; 3];

/// A shape of the surface, and what its tones and roughness follow.
struct Surface {
    height: f32,
    tone: f32,
    roughness: f32,
}

impl MaterialKind {
    /// Every kind.
    pub const ALL: [Self; 13] = [
        Self::Granite,
        Self::Slate,
        Self::Limestone,
        Self::Scree,
        Self::Gravel,
        Self::Sand,
        Self::Soil,
        Self::DryGrass,
        Self::LushGrass,
        Self::Moss,
        Self::OldSnow,
        Self::FreshSnow,
        Self::WetSilt,
    ];

    /// Its name in recipes and files.
    pub fn name(self) -> &'static str {
        match self {
            Self::Granite => "granite",
            Self::Slate => "slate",
            Self::Limestone => "limestone",
            Self::Scree => "scree",
            Self::Gravel => "gravel",
            Self::Sand => "sand",
            Self::Soil => "soil",
            Self::DryGrass => "dry_grass",
            Self::LushGrass => "lush_grass",
            Self::Moss => "moss",
            Self::OldSnow => "old_snow",
            Self::FreshSnow => "fresh_snow",
            Self::WetSilt => "wet_silt",
        }
    }

    fn tones(self) -> Tones {
        match self {
            Self::Granite => [[74, 70, 67], [128, 122, 115], [171, 164, 154]],
            Self::Slate => [[52, 55, 60], [92, 95, 98], [131, 133, 133]],
            Self::Limestone => [[110, 106, 96], [170, 165, 150], [206, 202, 188]],
            Self::Scree => [[70, 67, 62], [132, 127, 118], [178, 172, 161]],
            Self::Gravel => [[78, 75, 70], [142, 137, 128], [190, 184, 172]],
            Self::Sand => [[150, 132, 100], [190, 171, 134], [214, 198, 163]],
            Self::Soil => [[48, 38, 28], [86, 69, 51], [120, 100, 76]],
            Self::DryGrass => [[92, 80, 46], [147, 131, 80], [192, 176, 122]],
            Self::LushGrass => [[34, 48, 20], [70, 92, 38], [112, 134, 62]],
            Self::Moss => [[36, 46, 18], [74, 86, 34], [122, 128, 58]],
            Self::OldSnow => [[190, 194, 196], [222, 226, 229], [240, 242, 243]],
            Self::FreshSnow => [[224, 232, 240], [240, 244, 248], [250, 251, 252]],
            Self::WetSilt => [[44, 40, 34], [70, 64, 54], [98, 90, 76]],
        }
    }

    /// The material at (`u`, `v`) of its unit square, in its tones.
    #[inline(always)]
    fn at(self, [dark, middle, light]: [Colour; 3], u: f32, v: f32) -> Texel {
        let surface = self.surface(u, v);
        let tone = surface.tone.clamp(0.0, 1.0);
        let colour = match tone < 0.5 {
            true => dark.towards(middle, 2.0 * tone),
            false => middle.towards(light, 2.0 * tone - 1.0),
        };
        Texel {
            colour,
            height: surface.height.clamp(0.0, 1.0),
            roughness: surface.roughness.clamp(0.05, 1.0),
        }
    }

    /// Numbers of lattice cells are such that a texture of about ten metres
    /// has stones and blades of about their true size.
    #[inline(always)]
    fn surface(self, u: f32, v: f32) -> Surface {
        let grain = 0.5 + 0.5 * gradient(u, v, (180, 180), 90);
        match self {
            Self::Granite => {
                let body = 0.5 + 0.5 * layers(u, v, (4, 4), 7, 0.55, 1);
                let bent = 0.07 * layers(u, v, (5, 5), 5, 0.55, 7);
                let block = cells(u + bent, v - 0.7 * bent, 4, 2);
                // Cracks come and go along their length.
                let open = smooth(layers(u, v, (5, 5), 3, 0.5, 3) * 2.5 + 0.4);
                let crack = 1.0 - open * (1.0 - smooth((block.second - block.nearest) * 16.0));
                let speck = 0.5 + 0.5 * layers(u, v, (90, 90), 2, 0.7, 4);
                Surface {
                    height: body * (0.55 + 0.45 * crack) + 0.1 * block.own,
                    tone: 0.1 + 0.6 * body + 0.3 * (speck - 0.5) + 0.2 * grain
                        - 0.3 * (1.0 - crack),
                    roughness: 0.72 + 0.2 * grain,
                }
            }
            Self::Slate => {
                let bent = 0.05 * layers(u, v, (3, 3), 4, 0.5, 11);
                let leaf = layers(u, v + bent, (3, 26), 4, 0.6, 12);
                let edge = 1.0 - (2.0 * leaf).abs().min(1.0);
                let body = 0.5 + 0.5 * layers(u, v, (6, 6), 5, 0.5, 13);
                Surface {
                    height: 0.5 + 0.45 * leaf - 0.2 * edge * edge,
                    tone: 0.05 + 0.35 * body + 0.75 * (0.5 + leaf * 0.5) - 0.25 * edge * edge
                        + 0.15 * grain,
                    roughness: 0.55 + 0.25 * body,
                }
            }
            Self::Limestone => {
                let body = 0.5 + 0.5 * layers(u, v, (5, 5), 6, 0.5, 21);
                let bent = 0.03 * layers(u, v, (8, 8), 4, 0.6, 24);
                let pit = layers(u + bent, v - bent, (16, 16), 4, 0.6, 22).abs();
                let hole = 1.0 - smooth(pit * 6.0);
                let runnel = 1.0 - layers(u + bent, v, (14, 4), 3, 0.5, 23).abs();
                Surface {
                    height: 0.7 * body + 0.3 * runnel - 0.25 * hole,
                    tone: 0.15 + 0.6 * body + 0.15 * runnel + 0.2 * grain - 0.22 * hole,
                    roughness: 0.8 + 0.15 * grain,
                }
            }
            Self::Scree => stones(u, v, 15, 31, grain, 0.35, 0.85),
            Self::Gravel => stones(u, v, 34, 41, grain, 0.9, 0.7),
            Self::Sand => {
                let bent = 0.03 * layers(u, v, (4, 4), 3, 0.5, 51);
                let ripple = ((v + bent) * 24.0 * std::f32::consts::TAU).sin();
                let body = 0.5 + 0.5 * layers(u, v, (5, 5), 4, 0.5, 52);
                let fine = 0.5 + 0.5 * gradient(u, v, (400, 400), 53);
                Surface {
                    height: 0.5 + 0.2 * ripple * body + 0.2 * (body - 0.5),
                    tone: 0.2 + 0.25 * body + 0.12 * ripple * body + 0.35 * fine,
                    roughness: 0.9,
                }
            }
            Self::Soil => {
                let clod = cells(u, v, 30, 61);
                let lump = smooth(1.0 - clod.nearest * 1.3);
                let body = 0.5 + 0.5 * layers(u, v, (6, 6), 7, 0.6, 62);
                Surface {
                    height: 0.55 * body + 0.45 * lump * (0.4 + 0.6 * clod.own),
                    tone: 0.1 + 0.5 * body + 0.2 * lump * clod.own + 0.25 * grain,
                    roughness: 0.95,
                }
            }
            Self::DryGrass => blades(u, v, 71, 0.55, 0.95),
            Self::LushGrass => blades(u, v, 81, 0.4, 0.85),
            Self::Moss => {
                let cushion = cells(u, v, 18, 91);
                let round = (1.0 - cushion.nearest * cushion.nearest).max(0.0);
                let fine = 0.5 + 0.5 * layers(u, v, (60, 60), 3, 0.6, 92);
                Surface {
                    height: 0.65 * round + 0.25 * fine,
                    tone: 0.05 + 0.35 * round + 0.35 * fine + 0.2 * cushion.own,
                    roughness: 0.95,
                }
            }
            Self::OldSnow => {
                let body = 0.5 + 0.5 * layers(u, v, (5, 5), 5, 0.5, 101);
                let cup = cells(u, v, 12, 102);
                let dust = smooth(layers(u, v, (8, 8), 5, 0.6, 103) * 3.0 - 0.4);
                Surface {
                    height: 0.4 * body + 0.5 * smooth(cup.nearest),
                    tone: 0.45 + 0.35 * body + 0.2 * grain - 0.55 * dust,
                    roughness: 0.6,
                }
            }
            Self::FreshSnow => {
                let body = 0.5 + 0.5 * layers(u, v, (3, 3), 4, 0.4, 111);
                Surface {
                    height: body,
                    tone: 0.4 + 0.4 * body + 0.2 * grain,
                    roughness: 0.5,
                }
            }
            Self::WetSilt => {
                let body = 0.5 + 0.5 * layers(u, v, (4, 4), 5, 0.45, 121);
                let rill = layers(u, v, (6, 18), 3, 0.5, 122).abs();
                Surface {
                    height: 0.6 * body + 0.3 * rill,
                    tone: 0.2 + 0.45 * body + 0.2 * rill + 0.1 * grain,
                    roughness: 0.15 + 0.35 * body,
                }
            }
        }
    }
}

/// A row of texels across the unit square at `v`.
#[multiversion::multiversion(targets = "simd")]
pub(super) fn grow_row(kind: MaterialKind, v: f32, row: &mut [Texel]) {
    let side = row.len() as f32;
    let tones = kind.tones().map(Colour::from_srgb8);
    for (c, texel) in row.iter_mut().enumerate() {
        *texel = kind.at(tones, (c as f32 + 0.5) / side, v);
    }
}

/// Stones side by side, large ones with small ones between; `round` 0 is
/// angular, 1 like pebbles.
#[inline(always)]
fn stones(u: f32, v: f32, count: i32, seed: u32, grain: f32, round: f32, tint: f32) -> Surface {
    let large = cells(u, v, count, seed);
    let small = cells(u, v, 3 * count, seed ^ 0x55);
    let dome = |cell: &super::tiling::Cell| {
        let bowl = (1.0 - cell.nearest * cell.nearest * 1.6).max(0.0).sqrt();
        let face = ((cell.second - cell.nearest) * 2.2).min(1.0);
        face + round * (bowl * smooth(face * 3.0) - face)
    };
    let (stone, pebble) = (dome(&large), dome(&small));
    let big = smooth(stone * 4.0 - 0.35) * f32::from(large.own > 0.25);
    let height = big * (0.45 + 0.5 * stone * large.own) + (1.0 - big) * 0.35 * pebble;
    let own = big * large.own + (1.0 - big) * small.own;
    let open = big * smooth(stone * 3.0) + (1.0 - big) * smooth(pebble * 2.0);
    Surface {
        height,
        tone: 0.12 + tint * (0.55 * own + 0.1) * open + 0.22 * grain * open + 0.1 * open,
        roughness: 0.75 + 0.2 * grain,
    }
}

/// Blades that lie in many directions: streaks over one another, in tufts.
#[inline(always)]
fn blades(u: f32, v: f32, seed: u32, lying: f32, roughness: f32) -> Surface {
    let tuft = 0.5 + 0.5 * layers(u, v, (9, 9), 4, 0.55, seed);
    let bent = 0.03 * layers(u, v, (8, 8), 2, 0.5, seed + 1);
    let streak = |across: i32, up: i32, salt: u32| {
        1.0 - layers(u + bent, v - bent, (across, up), 2, 0.5, seed + salt).abs()
    };
    let upright = streak(110, 22, 2).max(streak(90, 26, 3));
    let lying_ones = streak(24, 100, 4);
    let blade = upright + lying * (lying_ones - upright) * tuft;
    let sharp = smooth(blade * 2.4 - 1.3);
    Surface {
        height: 0.45 * tuft + 0.5 * sharp,
        tone: 0.08 + 0.42 * sharp + 0.42 * tuft,
        roughness,
    }
}
