//! A coast that is nearly a circle or a straight line.

use serde_json::json;
use terrain::Grid;

use super::{Finding, Looked, replace};
use crate::steps::Operation;

/// Coasts with fewer cells than this say little.
const LEAST_CELLS: usize = 60;
/// A coast is drawn with a ruler, or with compasses, when its cells stray from
/// the line or circle by less than this share of the land's longer side.
const STRAY: f64 = 0.012;
/// How far the coast is moved to and fro, as a share of the longer side.
const RAGGED: f64 = 0.12;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let sea = looked.recipe.sea_level_m as f32;
    let coast = coast_cells(looked.heights(), sea);
    if coast.len() < LEAST_CELLS {
        return Vec::new();
    }
    let side = looked.frame.cols.max(looked.frame.rows) as f64;
    let what = if strays_from_line(&coast) < STRAY * side {
        "nearly a straight line"
    } else if strays_from_circle(&coast) < STRAY * side {
        "nearly a circle"
    } else {
        return Vec::new();
    };
    let shape = looked.steps().filter_map(|(path, step)| {
        let key = match step.operation {
            Operation::FallOff(_) => "fall_off",
            Operation::Cut(_) => "cut",
            _ => return None,
        };
        Some((step, format!("{path}/do/{key}/ragged_m")))
    });
    let (step, fix) = match shape.last() {
        Some((step, path)) => {
            let longest_m = looked
                .recipe
                .extent
                .width_m
                .max(looked.recipe.extent.depth_m);
            let ragged = (RAGGED * longest_m).round();
            (
                Some(step.id.clone()),
                replace("Break it up", path, json!(ragged)),
            )
        }
        None => (None, None),
    };
    vec![Finding {
        rule: "coast",
        step,
        finding: format!("The coast is {what}."),
        why: "No real coast is; broken up with noise it looks like one.",
        fix,
    }]
}

/// Cells of land with the sea beside them, away from the border.
fn coast_cells(heights: &Grid, sea: f32) -> Vec<(f64, f64)> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let mut coast = Vec::new();
    for r in 1..rows.saturating_sub(1) {
        for c in 1..cols.saturating_sub(1) {
            let wet = |c: usize, r: usize| heights.at(c, r) < sea;
            let beside = wet(c - 1, r) || wet(c + 1, r) || wet(c, r - 1) || wet(c, r + 1);
            if !wet(c, r) && beside {
                coast.push((c as f64, r as f64));
            }
        }
    }
    coast
}

/// Root mean square distance from the best line, in cells.
fn strays_from_line(points: &[(f64, f64)]) -> f64 {
    let n = points.len() as f64;
    let (mx, my) = mean(points);
    let (mut xx, mut xy, mut yy) = (0.0, 0.0, 0.0);
    for (x, y) in points {
        let (dx, dy) = (x - mx, y - my);
        (xx, xy, yy) = (xx + dx * dx, xy + dx * dy, yy + dy * dy);
    }
    // The smaller eigenvalue of the scatter matrix.
    let half = 0.5 * (xx + yy);
    let root = (0.25 * (xx - yy).powi(2) + xy * xy).sqrt();
    ((half - root).max(0.0) / n).sqrt()
}

/// Root mean square distance from the best circle, in cells: the algebraic fit
/// of Kåsa (1976).
fn strays_from_circle(points: &[(f64, f64)]) -> f64 {
    let (mx, my) = mean(points);
    let (mut suu, mut suv, mut svv, mut su, mut sv) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for (x, y) in points {
        let (u, v) = (x - mx, y - my);
        let square = u * u + v * v;
        (suu, suv, svv) = (suu + u * u, suv + u * v, svv + v * v);
        (su, sv) = (su + u * square, sv + v * square);
    }
    let det = suu * svv - suv * suv;
    if det.abs() < 1e-9 {
        return f64::INFINITY;
    }
    let cu = 0.5 * (su * svv - sv * suv) / det;
    let cv = 0.5 * (sv * suu - su * suv) / det;
    let n = points.len() as f64;
    let distance = |(x, y): &(f64, f64)| (x - mx - cu).hypot(y - my - cv);
    let radius = points.iter().map(distance).sum::<f64>() / n;
    let square: f64 = points.iter().map(|p| (distance(p) - radius).powi(2)).sum();
    (square / n).sqrt()
}

fn mean(points: &[(f64, f64)]) -> (f64, f64) {
    let n = points.len() as f64;
    let sum = points
        .iter()
        .fold((0.0, 0.0), |s, p| (s.0 + p.0, s.1 + p.1));
    (sum.0 / n, sum.1 / n)
}
