//! Cameras that frame the land, or a place of it.

use anyhow::{Result, ensure};
use serde_json::json;

use crate::support::{frame, picture, random, rough};

type Pose = [f64; 6];

/// Where a place is seen, from −1 to 1 across and up the picture.
fn seen(pose: Pose, place: [f64; 3], aspect: f64, lens_mm: f64) -> Option<[f64; 2]> {
    let [x, y, z, tx, ty, tz] = pose;
    let unit = |v: [f64; 3]| {
        let long = v.iter().map(|v| v * v).sum::<f64>().sqrt();
        v.map(|v| v / long)
    };
    let dot = |a: [f64; 3], b: [f64; 3]| a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    let forward = unit([tx - x, ty - y, tz - z]);
    let right = unit([-forward[2], 0.0, forward[0]]);
    let up = [
        right[1] * forward[2] - right[2] * forward[1],
        right[2] * forward[0] - right[0] * forward[2],
        right[0] * forward[1] - right[1] * forward[0],
    ];
    let from = [place[0] - x, place[1] - y, place[2] - z];
    let far = dot(from, forward);
    // A sensor 36 mm wide, as lenses are named for (common practice).
    let half = 18.0 / lens_mm;
    (far > 0.0).then(|| {
        [
            dot(from, right) / far / half,
            dot(from, up) / far / half * aspect,
        ]
    })
}

/// In a picture of any proportion, with any lens, all of a land of any proportion is seen,
/// and it fills most of the picture one way or the other.
#[test]
fn the_whole_land_is_in_the_picture() -> Result<()> {
    for (cols, rows) in [(64, 64), (96, 48), (50, 70), (120, 30)] {
        let frame = frame(cols, rows);
        let heights = rough(&frame);
        let cases: Vec<[f64; 3]> = [0.5, 1.25, 2.4]
            .iter()
            .flat_map(|&aspect| [18.0, 35.0, 85.0].map(|lens| [aspect, lens, 1.0]))
            .chain([[1.25, 35.0, 3.0]])
            .collect();
        let body = "return input.cases.map(([aspect, lens, exaggeration]) =>
            wholeLand(input.picture, exaggeration, aspect, lens))";
        let input = json!({ "cases": cases, "picture": picture(&frame, &heights, -50.0) });
        let poses = e2e::ask(&[("wholeLand", "land/framing.ts")], body, input)?;
        let poses: Vec<Pose> = serde_json::from_value(poses)?;
        let width = cols as f64 * frame.cell_m;
        for ([aspect, lens, exaggeration], pose) in cases.into_iter().zip(poses) {
            let mut most = 0.0_f64;
            for r in 0..rows {
                for c in 0..cols {
                    let height = f64::from(heights.at(c, r)) * exaggeration / width;
                    let x = (c as f64 + 0.5) / cols as f64 - 0.5;
                    let z = (r as f64 + 0.5 - rows as f64 / 2.0) / cols as f64;
                    let at = seen(pose, [x, height, z], aspect, lens);
                    let at = at.map_or(f64::INFINITY, |at| at[0].abs().max(at[1].abs()));
                    most = most.max(at);
                }
            }
            ensure!(
                (0.8..=1.0).contains(&most),
                "{cols} × {rows}, {aspect} wide, {lens} mm, × {exaggeration}: {most}"
            );
        }
    }
    Ok(())
}

/// A place is in the middle of the picture, and the eye is above the ground.
#[test]
fn a_place_is_looked_at_from_near_by() -> Result<()> {
    let frame = frame(80, 60);
    let heights = rough(&frame);
    let places: Vec<[f64; 2]> = (0..40)
        .map(|i| [800.0 * random(i, 1), 600.0 * random(i, 2)])
        .collect();
    let body = "
        const { picture, places } = input;
        const width = picture.header.cols * picture.header.cell_m;
        return places.map(([x, y]) => {
            const camera = [-0.3, 0.05, 0.4, 0.1, 0.02, -0.2];
            const pose = nearPlace(picture, 1, { x, y }, camera);
            const at = (x, z) => groundAt(picture, (x + 0.5) * width, 600 - (z * width + 300));
            return [pose, at(pose[0], pose[2]) / width, groundAt(picture, x, y) / width];
        });";
    let imports = [
        ("nearPlace", "land/framing.ts"),
        ("groundAt", "land/scene/groundAt.ts"),
    ];
    let input = json!({ "places": places, "picture": picture(&frame, &heights, -50.0) });
    let found: Vec<(Pose, f64, f64)> = serde_json::from_value(e2e::ask(&imports, body, input)?)?;
    for ([x, y], (pose, under, ground)) in places.into_iter().zip(found) {
        let target = [x / 800.0 - 0.5, ground, (300.0 - y) / 800.0];
        for (found, wanted) in pose[3..].iter().zip(target) {
            ensure!(
                (found - wanted).abs() < 1e-6,
                "{pose:?} looks past {target:?}"
            );
        }
        ensure!(
            pose[1] >= under + 0.009,
            "the eye is at {}, the ground at {under}",
            pose[1]
        );
    }
    Ok(())
}
