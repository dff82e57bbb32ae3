//! Rivers that cut down into rising land: the stream power law, solved
//! implicitly from the outlets up (Braun and Willett 2013, "A very efficient
//! O(n), implicit and parallel method to solve the stream power equation").
//!
//! dh/dt = U − K·Aᵐ·Sⁿ + D·∇²h, with U the uplift, K the erodibility, A the
//! drainage area, S the slope to the receiver and D the diffusivity of
//! hillslopes.
//!
//! The implicit step is stable for any time step. Hollows carry their water
//! over the brim (see [`drain`]); a river does not cut below its receiver.
//! Hillslopes are explicit, in as many parts as their stability asks for.

use rayon::prelude::*;

use super::drainage::{Drainage, FlowDirections, drain};
use crate::{Cancelled, Grid, Run};

/// What cuts and what lifts. Rates per year.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RiverLaw {
    /// Erodibility K, m^(1−2m) per year.
    pub erodibility: f64,
    /// Exponent m of the drainage area.
    pub area_exponent: f64,
    /// Exponent n of the slope.
    pub slope_exponent: f64,
    /// Diffusivity of hillslopes, m² per year.
    pub diffusivity: f64,
    /// Below this nothing is cut: sea level, metres.
    pub base_level_m: f64,
    /// How drainage area adds up. Rivers cut down to their steepest receiver
    /// either way.
    pub directions: FlowDirections,
}

/// Newton's iteration for n ≠ 1 stops at this change, metres.
const CLOSE_M: f64 = 1e-4;
const MOST_NEWTON: usize = 20;

/// One time step of `years` on cells of `cell_m`: `uplift` (metres per year)
/// raises the land, rivers cut it where `hardness` (0 gives, 1 does not) lets
/// them. Returns the drainage that it was computed with.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop; `heights` is then unspecified.
pub fn river_step(
    heights: &mut Grid,
    uplift: &Grid,
    hardness: Option<&Grid>,
    law: RiverLaw,
    cell_m: f64,
    years: f64,
    run: Run,
) -> Result<Drainage, Cancelled> {
    let drainage = drain(heights, law.base_level_m as f32, run)?;
    let area = drainage.area_by(law.directions);
    let cols = heights.cols();
    let values = heights.values_mut();
    let cell_area = cell_m * cell_m;
    let scale = law.erodibility * years * cell_area.powf(law.area_exponent);
    // Powers cost most of the step, and do not wait for one another.
    let exponent = law.area_exponent as f32;
    let power: Vec<f32> = area.par_iter().map(|&cells| cells.powf(exponent)).collect();
    let reach = [cell_m, cell_m * std::f64::consts::SQRT_2];
    let shorter = reach.map(|distance| 1.0 / distance.powf(law.slope_exponent));
    for (taken, &i) in drainage.order.iter().enumerate() {
        if taken.is_multiple_of(1 << 18) {
            run.check()?;
        }
        let i = i as usize;
        let receiver = drainage.receivers[i] as usize;
        if receiver == i {
            continue;
        }
        let risen = f64::from(values[i]) + f64::from(uplift.values()[i]) * years;
        let below = f64::from(values[receiver]);
        // Water in a hollow stands still: only what is above the outlet cuts.
        if risen <= below {
            values[i] = risen as f32;
            continue;
        }
        let diagonal = i % cols != receiver % cols && i / cols != receiver / cols;
        let gives = 1.0 - hardness.map_or(0.0, |hardness| f64::from(hardness.values()[i]));
        let factor = gives * scale * f64::from(power[i]) * shorter[usize::from(diagonal)];
        values[i] = (below + implicit_drop(risen - below, factor, law.slope_exponent)) as f32;
    }
    if law.diffusivity > 0.0 {
        diffuse(heights, law, cell_m, years, run)?;
    }
    Ok(drainage)
}

/// The height above the receiver after the step: x + f·xⁿ = x₀.
fn implicit_drop(before: f64, factor: f64, exponent: f64) -> f64 {
    if exponent == 1.0 {
        return before / (1.0 + factor);
    }
    let mut x = before;
    for _ in 0..MOST_NEWTON {
        let cut = factor * x.powf(exponent);
        let change = (x + cut - before) / (1.0 + exponent * cut / x.max(1e-12));
        x = (x - change).clamp(0.0, before);
        if change.abs() < CLOSE_M {
            break;
        }
    }
    x
}

/// Hillslopes creep: explicit diffusion; the border and the sea keep still.
fn diffuse(
    heights: &mut Grid,
    law: RiverLaw,
    cell_m: f64,
    years: f64,
    run: Run,
) -> Result<(), Cancelled> {
    /// D·dt/dx² is stable up to a quarter in two dimensions.
    const STABLE: f64 = 0.2;
    let number = law.diffusivity * years / (cell_m * cell_m);
    let parts = (number / STABLE).ceil().max(1.0) as usize;
    let share = (number / parts as f64) as f32;
    let base = law.base_level_m as f32;
    let (cols, rows) = (heights.cols(), heights.rows());
    for _ in 0..parts {
        run.check()?;
        let before = heights.clone();
        heights.for_each_row(|r, row| {
            if r == 0 || r + 1 == rows {
                return;
            }
            let (above, here, below) = (before.row(r - 1), before.row(r), before.row(r + 1));
            for c in 1..cols - 1 {
                let around = here[c - 1] + here[c + 1] + above[c] + below[c];
                if here[c] >= base {
                    row[c] = here[c] + share * (around - 4.0 * here[c]);
                }
            }
        });
    }
    Ok(())
}
