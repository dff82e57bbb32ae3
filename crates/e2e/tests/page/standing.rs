//! Standing on the land and walking over it.

use anyhow::{Result, ensure};
use serde_json::json;

use crate::support::{frame, land, picture};

/// A grown person's eye, above the ground.
const EYE_M: f64 = 1.7;

/// On the floor of a valley one looks along it, whichever way one came, and not into its
/// sides; and walking keeps the eye above the ground.
#[test]
fn whoever_stands_in_a_valley_looks_along_it() -> Result<()> {
    let frame = frame(100, 100);
    let width = 1000.0;
    // From west to east, with sides of 45°; the floor climbs a little.
    let valley = |x: f64, y: f64| (y - 500.0).hypot(40.0) - 40.0 + 0.02 * x;
    let heights = land(&frame, valley);
    // Cameras from above that look north, south-east, and west.
    let cameras: Vec<[f64; 6]> = [(0.0, -1.0), (0.7, 0.7), (-1.0, 0.1)]
        .map(|(east, south)| [-east, 0.8, -south, 0.0, 0.0, 0.0])
        .to_vec();
    let body = "
        const { picture, cameras } = input;
        return cameras.map((camera) => {
            const pose = standAt(picture, { x: 480, y: 505 }, camera, 1);
            const poses = [pose];
            for (let k = 0; k < 20; k++)
                poses.push(walked(picture, poses[k], 1, { ahead: 15, turn: k === 10 ? 0.3 : 0 }));
            return poses;
        });";
    let imports = [
        ("standAt", "land/standing.ts"),
        ("walked", "land/standing.ts"),
    ];
    let input = json!({ "cameras": cameras, "picture": picture(&frame, &heights, -1e9) });
    let found: Vec<Vec<[f64; 6]>> = serde_json::from_value(e2e::ask(&imports, body, input)?)?;
    for poses in found {
        let [x, _, z, tx, _, tz] = poses[0];
        let off_axis = ((tz - z) / (tx - x)).atan().abs().to_degrees();
        ensure!(off_axis < 25.0, "{off_axis}° off the valley's axis");
        for [x, y, z, ..] in &poses {
            let place = ((x + 0.5) * width, 500.0 - z * width);
            let above_m = y * width - valley(place.0, place.1);
            ensure!(
                (above_m - EYE_M).abs() < 0.2,
                "the eye is {above_m} m above the ground at {place:?}"
            );
        }
        let [x0, _, z0, ..] = poses[0];
        let [x1, _, z1, ..] = poses[10];
        let walked_m = width * (x1 - x0).hypot(z1 - z0);
        ensure!((walked_m - 150.0).abs() < 2.0, "walked {walked_m} m");
    }
    Ok(())
}
