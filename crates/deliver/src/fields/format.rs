//! Formats for maps.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// In which format a field is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FieldFormat {
    /// GeoTIFF of floats, deflated.
    #[default]
    Tif,
    /// The same in square tiles, from which a part is read without the rest.
    TifTiled,
    /// GeoTIFF as it is, not deflated: for readers that know nothing else.
    TifPlain,
    /// OpenEXR of floats.
    Exr,
    /// OpenEXR of half floats.
    ExrHalf,
    /// PNG of 65,536 steps, with a file beside it that says what they are.
    Png16,
    /// 65,536 steps without a header, the lower byte first, with a file beside them.
    Raw16,
    /// ESRI ASCII grid: text.
    Asc,
}

impl FieldFormat {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Self::Tif,
        Self::TifTiled,
        Self::TifPlain,
        Self::Exr,
        Self::ExrHalf,
        Self::Png16,
        Self::Raw16,
        Self::Asc,
    ];

    /// Its name on the command line and in requests.
    pub fn name(self) -> &'static str {
        match self {
            Self::Tif => "tif",
            Self::TifTiled => "tif_tiled",
            Self::TifPlain => "tif_plain",
            Self::Exr => "exr",
            Self::ExrHalf => "exr_half",
            Self::Png16 => "png16",
            Self::Raw16 => "raw16",
            Self::Asc => "asc",
        }
    }

    /// What it is, for people.
    pub fn title(self) -> &'static str {
        match self {
            Self::Tif => "GeoTIFF, float32, deflated",
            Self::TifTiled => "GeoTIFF, float32, in tiles inside",
            Self::TifPlain => "GeoTIFF, float32, not deflated",
            Self::Exr => "OpenEXR, float32",
            Self::ExrHalf => "OpenEXR, half floats",
            Self::Png16 => "PNG, 16 bits",
            Self::Raw16 => "raw, 16 bits, low byte first",
            Self::Asc => "ESRI ASCII grid",
        }
    }

    /// The ending of its files.
    pub fn ending(self) -> &'static str {
        match self {
            Self::Tif | Self::TifTiled | Self::TifPlain => "tif",
            Self::Exr | Self::ExrHalf => "exr",
            Self::Png16 => "png",
            Self::Raw16 => "raw",
            Self::Asc => "asc",
        }
    }

    /// Whether it holds steps instead of the values themselves.
    pub fn in_steps(self) -> bool {
        matches!(self, Self::Png16 | Self::Raw16)
    }

    /// Bytes that a value takes, about.
    pub fn bytes_a_value(self) -> f64 {
        match self {
            Self::Tif | Self::TifTiled => 3.0,
            Self::Exr | Self::TifPlain => 4.0,
            Self::ExrHalf | Self::Png16 | Self::Raw16 => 2.0,
            Self::Asc => 10.0,
        }
    }

    /// The format called `name`.
    pub fn named(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|format| format.name() == name)
    }

    /// The format that a file with this ending is usually in.
    pub fn of_ending(ending: &str) -> Option<Self> {
        match ending.to_ascii_lowercase().as_str() {
            "tif" | "tiff" => Some(Self::Tif),
            "exr" => Some(Self::Exr),
            "png" => Some(Self::Png16),
            "raw" | "r16" => Some(Self::Raw16),
            "asc" => Some(Self::Asc),
            _ => None,
        }
    }
}

/// In which format colour without light is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ColourFormat {
    /// PNG, as screens have it (sRGB).
    #[default]
    Png,
    /// OpenEXR of half floats, in linear light.
    ExrHalf,
    /// OpenEXR of floats, in linear light.
    Exr,
}

impl ColourFormat {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Png, Self::ExrHalf, Self::Exr];

    /// Its name on the command line and in requests.
    pub fn name(self) -> &'static str {
        match self {
            Self::Png => "png",
            Self::ExrHalf => "exr_half",
            Self::Exr => "exr",
        }
    }

    /// What it is, for people.
    pub fn title(self) -> &'static str {
        match self {
            Self::Png => "PNG, as screens have it",
            Self::ExrHalf => "OpenEXR, half floats, linear light",
            Self::Exr => "OpenEXR, float32, linear light",
        }
    }

    /// How many bits each of its numbers has, when they are floats.
    pub(crate) fn floats(self) -> Option<formats::ExrFloats> {
        match self {
            Self::Png => None,
            Self::ExrHalf => Some(formats::ExrFloats::Half),
            Self::Exr => Some(formats::ExrFloats::Whole),
        }
    }
}
