//! Values in whole steps of 16 bits, and what the steps mean.

use terrain::Grid;

/// What steps of 16 bits mean: a value is black + step / 65,535 × (white − black).
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Steps {
    /// The value of 0.
    pub black: f32,
    /// The value of 65,535.
    pub white: f32,
}

/// The highest step.
const TOP: f32 = 65_535.0;

impl Steps {
    /// The finest steps for values between `low` and `high`.
    pub fn fitting((low, high): (f32, f32)) -> Self {
        // All is black where all is the same.
        let least = (low + f32::MIN_POSITIVE).max(low.next_up());
        Self {
            black: low,
            white: high.max(least),
        }
    }

    /// One unit a step, so that a value can be read off: from 0 up, or from the whole number
    /// under the lowest value when that is below 0.
    pub fn whole((low, _): (f32, f32)) -> Self {
        let black = low.floor().min(0.0);
        Self {
            black,
            white: black + TOP,
        }
    }

    /// How far apart two neighbouring steps are.
    pub fn step(&self) -> f32 {
        (self.white - self.black) / TOP
    }

    /// The nearest steps; what lies beyond black or white becomes these.
    pub fn taken(&self, values: &Grid) -> Grid<u16> {
        let span = self.white - self.black;
        values.map(|value| ((value - self.black) / span * TOP).round() as u16)
    }

    /// How many values lie beyond black or white by more than half a step.
    pub fn beyond(&self, values: &Grid) -> usize {
        let slack = 0.5 * self.step();
        let (low, high) = (self.black - slack, self.white + slack);
        let beyond = values.values().iter().filter(|v| **v < low || **v > high);
        beyond.count()
    }
}
