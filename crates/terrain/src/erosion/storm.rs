//! What falls, what the water can carry, and how readily it takes and drops.

use crate::Grid;

/// One long storm. All rates are per second or dimensionless, so that a grid
/// of any cell size means the same weather.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Storm {
    /// Rain, metres of water per second.
    pub rain_m_s: f64,
    /// Share of the standing water lost per second.
    pub evaporation_s: f64,
    /// Sediment that water can hold, as a share of its volume, per metre per
    /// second of unit stream power (speed times slope: Yang 1972).
    pub capacity: f64,
    /// Share of what is worn that is too coarse to float, 0 to 1: it rolls
    /// along the bed.
    pub coarse: f64,
    /// How readily the ground gives, share of the free capacity per step.
    pub take: f64,
    /// How readily water lets go of what it cannot hold, share per step.
    pub drop: f64,
    /// The least slope, rise over run, that water works as if it had: keeps
    /// flats from choking.
    pub least_slope: f64,
    /// How much harder every other bed of rock is, 0 to 1.
    pub strata: f64,
    /// Thickness of a soft and a hard bed together, metres; above 0.
    pub strata_m: f64,
    /// Share of the flow that friction takes from one step to the next.
    pub friction: f64,
    /// Water deeper than this moves as if it were this deep, metres: it
    /// bounds the wave speed, and so the time step.
    pub deepest_m: f64,
    /// Water below this height is the sea: it stays, and nothing wears there.
    pub sea_level_m: f64,
}

/// Where it rains and where the ground is hard. Everywhere alike when absent.
#[derive(Clone, Copy, Debug, Default)]
pub struct Country<'a> {
    /// 0 gives as the storm says, 1 does not give at all.
    pub hardness: Option<&'a Grid>,
    /// A factor on the rain.
    pub rain: Option<&'a Grid>,
}

impl Default for Storm {
    fn default() -> Self {
        Self {
            rain_m_s: 4e-5,
            evaporation_s: 1e-4,
            capacity: 60.0,
            coarse: 0.25,
            take: 0.3,
            drop: 0.25,
            least_slope: 0.0,
            strata: 0.0,
            strata_m: 100.0,
            friction: 0.1,
            deepest_m: 2.0,
            sea_level_m: 0.0,
        }
    }
}
