//! Colours in linear light.

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
pub(super) fn to_linear(srgb: f32) -> f32 {
    match srgb <= 0.040_45 {
        true => srgb / 12.92,
        false => ((srgb + 0.055) / 1.055).powf(2.4),
    }
}

/// From linear light to an sRGB value (IEC 61966-2-1).
pub(super) fn to_srgb(linear: f32) -> f32 {
    match linear <= 0.003_130_8 {
        true => linear * 12.92,
        false => 1.055 * linear.powf(1.0 / 2.4) - 0.055,
    }
}

impl Colour {
    /// The colour of three 8-bit sRGB values.
    pub fn from_srgb8(bytes: [u8; 3]) -> Self {
        Self::from_srgb(bytes.map(|v| f32::from(v) / 255.0))
    }

    /// The colour of three sRGB values from 0 to 1.
    pub fn from_srgb([r, g, b]: [f32; 3]) -> Self {
        Self {
            r: to_linear(r),
            g: to_linear(g),
            b: to_linear(b),
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

    /// How bright it is (luminance of ITU-R BT.709).
    #[inline(always)]
    pub fn luminance(self) -> f32 {
        0.2126 * self.r + 0.7152 * self.g + 0.0722 * self.b
    }

    /// With its hue turned by `hue_deg`, and its saturation and its lightness
    /// times these. Hue is turned around the axis of greys, saturation is the
    /// distance from it.
    pub fn adjusted(self, hue_deg: f32, saturation: f32, lightness: f32) -> Self {
        if hue_deg == 0.0 && saturation == 1.0 && lightness == 1.0 {
            return self;
        }
        let (sin, cos) = hue_deg.to_radians().sin_cos();
        // Rodrigues' formula around (1, 1, 1).
        let side = sin / 3.0_f32.sqrt();
        let rest = (1.0 - cos) / 3.0;
        let turn =
            |a: f32, b: f32, c: f32| a * (cos + rest) + b * (rest - side) + c * (rest + side);
        let turned = Self {
            r: turn(self.r, self.g, self.b),
            g: turn(self.g, self.b, self.r),
            b: turn(self.b, self.r, self.g),
        };
        let grey = self.luminance();
        let channel = |v: f32| ((grey + saturation * (v - grey)) * lightness).max(0.0);
        Self {
            r: channel(turned.r),
            g: channel(turned.g),
            b: channel(turned.b),
        }
    }

    /// The colour `share` of the way to `other`.
    #[inline(always)]
    pub fn towards(self, other: Self, share: f32) -> Self {
        self.scaled(1.0 - share).plus(other.scaled(share))
    }
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
