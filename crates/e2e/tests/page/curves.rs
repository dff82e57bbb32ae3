//! Curves are drawn as the core bends by them.

use anyhow::{Context, Result, ensure};
use serde_json::json;
use terrain::shape::Curve;

use crate::support::random;

/// Numbers of an SVG path of cubic pieces: the first point, and for each piece its two
/// handles and its end.
fn numbers(path: &str) -> Vec<f64> {
    path.split(|c: char| "MC ,".contains(c))
        .filter(|part| !part.is_empty())
        .map(|part| part.parse().expect("a number"))
        .collect()
}

/// Through any points, what is drawn is what the core does to heights (Fritsch and
/// Butland 1984).
#[test]
fn curves_are_drawn_as_they_bend() -> Result<()> {
    let curves: Vec<Vec<[f64; 2]>> = (0..40)
        .map(|i| {
            let count = 2 + (6.0 * random(i, 0)) as usize;
            let mut x = 0.0;
            (0..count)
                .map(|k| {
                    x += 5.0 + 90.0 * random(i, 1 + k as i32);
                    [x, 200.0 * random(i, 50 + k as i32) - 100.0]
                })
                .collect()
        })
        .collect();
    let body = "return input.map((points) => monotonePath(points))";
    let drawn = e2e::ask(
        &[("monotonePath", "controls/monotone.ts")],
        body,
        json!(curves),
    )?;
    let drawn: Vec<String> = serde_json::from_value(drawn)?;
    for (points, path) in curves.iter().zip(drawn) {
        let of_core: Vec<(f32, f32)> = points.iter().map(|p| (p[0] as f32, p[1] as f32)).collect();
        let curve = Curve::through(&of_core)?;
        let path = numbers(&path);
        ensure!(path.len() == 2 + 6 * (points.len() - 1), "{path:?}");
        let mut from = [path[0], path[1]];
        for piece in path[2..].chunks_exact(6) {
            let [ax, ay, bx, by, x, y] = *<&[f64; 6]>::try_from(piece).context("six numbers")?;
            for k in 0..=20 {
                let t = f64::from(k) / 20.0;
                let bezier = |p0: f64, p1: f64, p2: f64, p3: f64| {
                    let s = 1.0 - t;
                    s * s * s * p0 + 3.0 * s * s * t * p1 + 3.0 * s * t * t * p2 + t * t * t * p3
                };
                let (px, py) = (bezier(from[0], ax, bx, x), bezier(from[1], ay, by, y));
                let bent = f64::from(curve.at(px as f32));
                ensure!(
                    (bent - py).abs() < 0.02,
                    "{py} is drawn at {px}, it is {bent}"
                );
            }
            from = [x, y];
        }
    }
    Ok(())
}
