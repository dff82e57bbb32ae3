//! How the land bends.

use crate::Grid;

/// Which way a bend is measured.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "CurvatureBend")
)]
pub enum Bend {
    /// Of the surface as such.
    #[default]
    Mean,
    /// Down the slope: where water speeds up or slows down.
    Profile,
    /// Along the contour: where water parts or gathers.
    Plan,
}

/// Curvature of each cell, per kilometre: above 0 on crests and shoulders,
/// below 0 in hollows and at feet. Level ground has no profile and no plan
/// curvature.
///
/// All three are curvatures of the surface itself, in the system of Minár, Evans and
/// Jenčo (2020): profile is the normal curvature along the slope line, plan the normal
/// curvature along the contour (also called tangential), and the mean one half their
/// sum. On a ball each is one over its radius, however steep it is. From the quadratic
/// through the nine cells around (Zevenbergen and Thorne 1987, equations 3 to 8); crests
/// are above 0 in all three.
/// `heights` has an apron of one cell; the result does not. Local.
pub fn curvature_per_km(heights: &Grid, cell_m: f64, bend: Bend) -> Grid {
    let (cols, rows) = (heights.cols() - 2, heights.rows() - 2);
    let cell = cell_m as f32;
    Grid::by_rows(cols, rows, |r, out| {
        let around = [heights.row(r), heights.row(r + 1), heights.row(r + 2)];
        match bend {
            Bend::Profile => bend_row(around, cell, out, |q| q.profile()),
            Bend::Plan => bend_row(around, cell, out, |q| q.plan()),
            Bend::Mean => bend_row(around, cell, out, |q| q.mean()),
        }
    })
}

/// Slope by the same quadratic, from four neighbours only, degrees
/// (Zevenbergen and Thorne 1987, equation 15): sharper on smooth land than
/// Horn's, and rougher on rough land.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn slope_of_quadratic_deg(heights: &Grid, cell_m: f64) -> Grid {
    let (cols, rows) = (heights.cols() - 2, heights.rows() - 2);
    let cell = cell_m as f32;
    Grid::by_rows(cols, rows, |r, out| {
        let around = [heights.row(r), heights.row(r + 1), heights.row(r + 2)];
        bend_row(around, cell, out, |q| {
            super::slope::arctangent(q.g.hypot(q.h)).to_degrees()
        });
    })
}

/// The quadratic's factors, in the letters of the paper: halves of the second
/// derivatives (d east, e north), the mixed one (f), and the gradient.
#[derive(Clone, Copy)]
struct Quadratic {
    d: f32,
    e: f32,
    f: f32,
    g: f32,
    h: f32,
}

/// From curvature per metre to per kilometre.
const PER_KM: f32 = 1000.0;
/// Squared gradients below this are level.
const LEVEL: f32 = 1e-12;

impl Quadratic {
    #[inline(always)]
    fn profile(self) -> f32 {
        let Self { d, e, f, g, h } = self;
        let slope2 = g * g + h * h;
        let bend = -2.0 * PER_KM * (d * g * g + e * h * h + f * g * h) / slope2.max(LEVEL);
        // By the length of the way, not of its picture on the map.
        let longer2 = 1.0 + slope2;
        let bend = bend / (longer2 * longer2.sqrt());
        if slope2 > LEVEL { bend } else { 0.0 }
    }

    #[inline(always)]
    fn plan(self) -> f32 {
        let Self { d, e, f, g, h } = self;
        let slope2 = g * g + h * h;
        let bend = -2.0 * PER_KM * (d * h * h + e * g * g - f * g * h) / slope2.max(LEVEL);
        let bend = bend / (1.0 + slope2).sqrt();
        if slope2 > LEVEL { bend } else { 0.0 }
    }

    #[inline(always)]
    fn mean(self) -> f32 {
        let Self { d, e, f, g, h } = self;
        let (east2, north2, mixed) = (2.0 * d, 2.0 * e, f);
        let up = (1.0 + h * h) * east2 - 2.0 * g * h * mixed + (1.0 + g * g) * north2;
        let length2 = 1.0 + g * g + h * h;
        -0.5 * PER_KM * up / (length2 * length2.sqrt())
    }
}

#[inline(always)]
fn bend_row(
    [above, here, below]: [&[f32]; 3],
    cell: f32,
    out: &mut [f32],
    of: impl Fn(Quadratic) -> f32,
) {
    let n = out.len();
    let (a0, a1, a2) = (&above[..n], &above[1..n + 1], &above[2..n + 2]);
    let (h0, h1, h2) = (&here[..n], &here[1..n + 1], &here[2..n + 2]);
    let (b0, b1, b2) = (&below[..n], &below[1..n + 1], &below[2..n + 2]);
    let (per, per2) = (1.0 / cell, 1.0 / (cell * cell));
    for i in 0..n {
        out[i] = of(Quadratic {
            d: ((h0[i] + h2[i]) * 0.5 - h1[i]) * per2,
            e: ((a1[i] + b1[i]) * 0.5 - h1[i]) * per2,
            f: (a2[i] + b0[i] - a0[i] - b2[i]) * 0.25 * per2,
            g: (h2[i] - h0[i]) * 0.5 * per,
            h: (a1[i] - b1[i]) * 0.5 * per,
        });
    }
}
