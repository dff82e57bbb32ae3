//! Colours in linear light, and the colour of blended ground.

use super::Weights;
use crate::Grid;

/// A colour in linear light, 0 to 1 for each of red, green and blue.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Colour {
    /// Red.
    pub r: f32,
    /// Green.
    pub g: f32,
    /// Blue.
    pub b: f32,
}

/// From an sRGB value to linear light (IEC 61966-2-1).
fn to_linear(srgb: f32) -> f32 {
    match srgb <= 0.040_45 {
        true => srgb / 12.92,
        false => ((srgb + 0.055) / 1.055).powf(2.4),
    }
}

/// From linear light to an sRGB value (IEC 61966-2-1).
fn to_srgb(linear: f32) -> f32 {
    match linear <= 0.003_130_8 {
        true => linear * 12.92,
        false => 1.055 * linear.powf(1.0 / 2.4) - 0.055,
    }
}

impl Colour {
    /// The colour of three 8-bit sRGB values.
    pub fn from_srgb8([r, g, b]: [u8; 3]) -> Self {
        let linear = |v: u8| to_linear(f32::from(v) / 255.0);
        Self {
            r: linear(r),
            g: linear(g),
            b: linear(b),
        }
    }

    /// The nearest 8-bit sRGB values.
    pub fn to_srgb8(self) -> [u8; 3] {
        let byte = |v: f32| (to_srgb(v.clamp(0.0, 1.0)) * 255.0).round() as u8;
        [byte(self.r), byte(self.g), byte(self.b)]
    }

    /// The colour times `factor`.
    #[inline(always)]
    pub fn scaled(self, factor: f32) -> Self {
        Self {
            r: self.r * factor,
            g: self.g * factor,
            b: self.b * factor,
        }
    }

    /// The sum of two lights.
    #[inline(always)]
    pub fn plus(self, other: Self) -> Self {
        Self {
            r: self.r + other.r,
            g: self.g + other.g,
            b: self.b + other.b,
        }
    }

    /// Light of this colour on a surface of that one.
    #[inline(always)]
    pub fn times(self, other: Self) -> Self {
        Self {
            r: self.r * other.r,
            g: self.g * other.g,
            b: self.b * other.b,
        }
    }

    /// The colour `share` of the way to `other`.
    #[inline(always)]
    pub fn towards(self, other: Self, share: f32) -> Self {
        self.scaled(1.0 - share).plus(other.scaled(share))
    }
}

/// The colour of each cell: the layers' colours, mixed by weight in linear
/// light. `tones[i]` brightens (above 0) or darkens layer `i` from place to
/// place: −0.2 is a fifth darker.
///
/// # Panics
/// When `colours` or `tones` is not one for each layer.
pub fn albedo(weights: &Weights, colours: &[Colour], tones: &[Option<Grid>]) -> Grid<Colour> {
    assert_eq!(weights.layers().len(), colours.len(), "one colour a layer");
    assert_eq!(weights.layers().len(), tones.len(), "one tone a layer");
    let bottom = &weights.layers()[0];
    Grid::by_rows(bottom.cols(), bottom.rows(), |r, out: &mut [Colour]| {
        for ((layer, &colour), tone) in weights.layers().iter().zip(colours).zip(tones) {
            for (c, (out, &weight)) in out.iter_mut().zip(layer.row(r)).enumerate() {
                let tone = tone
                    .as_ref()
                    .map_or(1.0, |tone| (1.0 + tone.at(c, r)).max(0.0));
                *out = out.plus(colour.scaled(weight * tone));
            }
        }
    })
}

#[cfg(test)]
mod tests {
    use super::Colour;

    #[test]
    fn srgb_follows_the_standard_and_comes_back() {
        // IEC 61966-2-1: 8-bit 188 is very nearly half of linear white.
        let half = Colour::from_srgb8([188, 188, 188]).g;
        assert!((half - 0.5029).abs() < 1e-3, "got {half}");
        // The straight part near black: 10 / 255 / 12.92.
        let dark = Colour::from_srgb8([10, 10, 10]).g;
        assert!((dark - 0.003_035_3).abs() < 1e-6, "got {dark}");
        for v in 0..=255 {
            assert_eq!(Colour::from_srgb8([v, v, v]).to_srgb8(), [v, v, v]);
        }
    }
}
