//! Plain shapes.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::shape::{self, Placement, Profile};

use super::{Kind, StepOutput};
use crate::grow::{GrowError, Site};

/// A cone, dome, ridge, crater or plateau, or a gradient: placed, scaled,
/// turned, repeated.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Primitive {
    /// Which shape.
    pub form: PrimitiveForm,
    /// Straight flanks, or ones that are level at both ends.
    pub profile: Profile,
    /// From the foot to the top.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 2000.0], "x-of-land" = 0.05))]
    pub height_m: f64,
    /// Centre, from the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "x"))]
    pub x_m: f64,
    /// Centre, from the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "y"))]
    pub y_m: f64,
    /// From side to side.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-scale" = "log", "x-of-land" = 0.333))]
    pub width_m: f64,
    /// From front to back.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 8000.0], "x-scale" = "log", "x-of-land" = 0.333))]
    pub depth_m: f64,
    /// Turned clockwise.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0]))]
    pub turn_deg: f64,
    /// How far the bowl goes below the ground, as a share of the height.
    #[schemars(range(min = 0, max = 4), extend("x-slider" = [0.0, 1.5], "x-when" = ["form", "crater"]))]
    pub bowl: f64,
    /// Share of the half width that is flat on top.
    #[schemars(range(min = 0, max = 0.99), extend("x-when" = ["form", "plateau"]))]
    pub top: f64,
    /// High where it would be low.
    #[schemars(extend("x-more" = true))]
    pub reversed: bool,
    /// Distance from copy to copy; 0 for a single one.
    #[schemars(range(min = 0, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 8000.0], "x-more" = true))]
    pub repeat_m: f64,
}

/// Which shape.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum PrimitiveForm {
    /// A peak.
    #[default]
    Cone,
    /// Half a ball.
    Dome,
    /// A roof with rounded ends.
    Ridge,
    /// A bowl with a rim.
    Crater,
    /// Flat on top.
    Plateau,
    /// Rises from one side to the other.
    LinearGradient,
    /// Falls from the middle outwards.
    RadialGradient,
}

impl Default for Primitive {
    fn default() -> Self {
        Self {
            form: PrimitiveForm::Cone,
            profile: Profile::Smooth,
            height_m: 600.0,
            x_m: 4000.0,
            y_m: 4000.0,
            width_m: 4000.0,
            depth_m: 4000.0,
            turn_deg: 0.0,
            bowl: 0.6,
            top: 0.6,
            reversed: false,
            repeat_m: 0.0,
        }
    }
}

impl PrimitiveForm {
    /// The shape, with the two shares that some of them need.
    pub(super) fn with(self, bowl: f64, top: f64) -> shape::Form {
        match self {
            PrimitiveForm::Cone => shape::Form::Cone,
            PrimitiveForm::Dome => shape::Form::Dome,
            PrimitiveForm::Ridge => shape::Form::Ridge,
            PrimitiveForm::Crater => shape::Form::Crater { depth: bowl as f32 },
            PrimitiveForm::Plateau => shape::Form::Plateau { top: top as f32 },
            PrimitiveForm::LinearGradient => shape::Form::LinearGradient,
            PrimitiveForm::RadialGradient => shape::Form::RadialGradient,
        }
    }
}

impl Kind for Primitive {
    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let primitive = shape::Primitive {
            form: self.form.with(self.bowl, self.top),
            profile: self.profile,
            reversed: self.reversed,
            placement: Placement {
                x_m: self.x_m,
                y_m: self.y_m,
                width_m: self.width_m,
                depth_m: self.depth_m,
                turn_deg: self.turn_deg,
            },
            repeat_m: (self.repeat_m > 0.0).then_some(self.repeat_m),
        };
        let height = self.height_m as f32;
        Ok(primitive
            .fill(site.frame(), site.run())?
            .map(|share| share * height)
            .into())
    }
}
