//! Colours laid over colours.

use super::Colour;

/// How a colour lies on the one below: the separable blend modes of W3C
/// Compositing and Blending Level 1, section 9.1, on sRGB values as there.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "CoverBlend")
)]
pub enum Blend {
    /// Covers it.
    #[default]
    Normal,
    /// Darkens it.
    Multiply,
    /// Lightens it.
    Screen,
    /// Deepens its darks and lightens its lights.
    Overlay,
    /// The same, gently.
    SoftLight,
}

impl Blend {
    /// `source` on `backdrop`, each one channel from 0 to 1.
    pub fn channel(self, backdrop: f32, source: f32) -> f32 {
        let screen = |b: f32, s: f32| b + s - b * s;
        match self {
            Blend::Normal => source,
            Blend::Multiply => backdrop * source,
            Blend::Screen => screen(backdrop, source),
            // Hard light with the layers exchanged.
            Blend::Overlay => match backdrop <= 0.5 {
                true => source * 2.0 * backdrop,
                false => screen(source, 2.0 * backdrop - 1.0),
            },
            Blend::SoftLight => {
                if source <= 0.5 {
                    backdrop - (1.0 - 2.0 * source) * backdrop * (1.0 - backdrop)
                } else {
                    let light = match backdrop <= 0.25 {
                        true => ((16.0 * backdrop - 12.0) * backdrop + 4.0) * backdrop,
                        false => backdrop.sqrt(),
                    };
                    backdrop + (2.0 * source - 1.0) * (light - backdrop)
                }
            }
        }
    }

    /// `source` on `backdrop`, covering the share `cover` of it.
    pub fn over(self, backdrop: Colour, source: Colour, cover: f32) -> Colour {
        // What covers needs no detour through sRGB.
        if self == Blend::Normal {
            return backdrop.towards(source, cover);
        }
        let channel = |b: f32, s: f32| {
            let blended = self.channel(super::colour::to_srgb(b), super::colour::to_srgb(s));
            super::colour::to_linear(blended)
        };
        let blended = Colour {
            r: channel(backdrop.r, source.r),
            g: channel(backdrop.g, source.g),
            b: channel(backdrop.b, source.b),
        };
        backdrop.towards(blended, cover)
    }
}

/// How much of a cover shows where it meets the one below: the higher texture
/// pokes through. `mask` is the cover's own share, `above` and `below` are the
/// two texture heights from 0 to 1, and `width` is over how much of that they
/// go over into one another; 0 leaves the mask as it is. Where the mask is 0
/// or 1 it stays so.
pub fn height_blend(mask: f32, above: f32, below: f32, width: f32) -> f32 {
    if width <= 0.0 {
        return mask;
    }
    // Heights of both, raised by how much there is of each.
    let lead = (above + mask) - (below + 1.0 - mask);
    let shown = crate::smooth::smooth(0.5 + 0.5 * lead / width);
    // Sure places stay sure.
    let unsure = (4.0 * mask * (1.0 - mask)).min(1.0);
    mask + unsure * (shown - mask)
}
