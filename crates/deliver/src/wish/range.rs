//! Between which values steps of 16 bits are spread.

use formats::Steps;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Between which values steps of 16 bits are spread.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum ValueRange {
    /// Between the lowest and the highest of each field: the finest steps.
    #[default]
    Fit,
    /// One unit a step, so that a value can be read off: from 0 up, or from the whole number
    /// under the lowest value when that is below 0.
    Whole,
    /// Heights between given metres, the same for many lands; what lies beyond is cut off.
    /// Other fields between their lowest and highest.
    Given {
        /// The height of 0, metres.
        black: f32,
        /// The height of 65,535, metres.
        white: f32,
    },
}

impl ValueRange {
    /// The steps of heights between `low` and `high`.
    pub fn of_heights(self, (low, high): (f32, f32)) -> Steps {
        match self {
            Self::Given { black, white } => Steps { black, white },
            Self::Whole => Steps::whole((low, high)),
            Self::Fit => Steps::fitting((low, high)),
        }
    }

    /// The steps of another field.
    pub(crate) fn of_others(self, range: (f32, f32)) -> Steps {
        match self {
            Self::Whole => Steps::whole(range),
            Self::Fit | Self::Given { .. } => Steps::fitting(range),
        }
    }

    /// What is wrong with it, in words.
    pub(crate) fn check(self) -> Result<(), String> {
        match self {
            Self::Given { black, white }
                if !(black.is_finite() && white.is_finite() && white > black) =>
            {
                Err(format!(
                    "range: black is {black} m and white {white} m; white must be above black"
                ))
            }
            _ => Ok(()),
        }
    }
}
