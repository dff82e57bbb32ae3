//! Contour lines against a cone, whose lines are circles.

use std::f64::consts::PI;

use anyhow::{Result, ensure};
use serde::Deserialize;

use crate::support::{frame, land, picture};

#[derive(Deserialize)]
struct Line {
    height: f64,
    major: bool,
    rings: Vec<Vec<[f64; 2]>>,
    label: Option<Label>,
}

#[derive(Deserialize)]
struct Label {
    x: f64,
    y: f64,
    angle: f64,
}

#[test]
fn contours_of_a_cone_are_circles_at_round_heights() -> Result<()> {
    let frame = frame(200, 200);
    // 1,000 m high, falling by one metre a metre from the middle.
    let cone = land(&frame, |x, y| 1000.0 - (x - 1000.0).hypot(y - 1000.0));
    let body = "
        const { cols, rows, low_m, high_m } = input.header;
        return contoursOf({ number: 1, heights: input.heights, cols, rows, low_m, high_m });";
    let lines = e2e::ask(
        &[("contoursOf", "land/contourLines.ts")],
        body,
        picture(&frame, &cone, -1e9),
    )?;
    let lines: Vec<Line> = serde_json::from_value(lines)?;
    ensure!((12..30).contains(&lines.len()), "{} lines", lines.len());
    let apart = lines[1].height - lines[0].height;
    let lead = apart / 10_f64.powf(apart.log10().floor());
    ensure!([1.0, 2.0, 5.0].contains(&lead), "{apart} m apart");
    let mut labels = 0;
    for pair in lines.windows(2) {
        ensure!((pair[1].height - pair[0].height - apart).abs() < 1e-9);
    }
    for line in &lines {
        ensure!(
            (line.height / apart).fract().abs() < 1e-9,
            "{}",
            line.height
        );
        let fifth = (line.height / apart).round() as i64 % 5 == 0;
        ensure!(
            line.major == fifth,
            "{} is strong: {}",
            line.height,
            line.major
        );
        // Whole circles: below 0 m they leave the land, and the tip is no circle.
        if line.height > 20.0 && line.height < 960.0 {
            ensure!(line.rings.len() == 1, "{} rings", line.rings.len());
            let radius = (1000.0 - line.height) / 10.0;
            for [x, y] in &line.rings[0] {
                let far = (x - 100.0).hypot(y - 100.0);
                ensure!((far - radius).abs() < 0.35, "{far} cells, it is {radius}");
            }
        }
        if let Some(Label { x, y, angle }) = &line.label {
            ensure!(line.major, "a label on a weak line");
            ensure!(
                (-90.0..=90.0).contains(angle),
                "it stands on its head: {angle}°"
            );
            let (dx, dy) = (x - 100.0, y - 100.0);
            // Along the circle: at right angles to the way to the middle.
            let along = (angle / 180.0 * PI).cos() * dx + (angle / 180.0 * PI).sin() * dy;
            ensure!(along.abs() < 0.1 * dx.hypot(dy), "{angle}° at {dx}, {dy}");
            labels += 1;
        }
    }
    ensure!(labels >= 2, "{labels} labels");
    Ok(())
}
