//! The patches that the land is drawn with.

use anyhow::{Result, ensure};
use serde_json::json;

use crate::support::{frame, picture, random, rough};

/// From wherever one looks: every place of the land is on one patch and no more, what is
/// near is fine, and neighbours differ by one level at most, or there would be cracks.
#[test]
fn patches_cover_the_land_once_and_grow_coarser_step_by_step() -> Result<()> {
    let frame = frame(96, 64);
    let heights = rough(&frame);
    let eyes: Vec<[f64; 3]> = (0..24)
        .map(|i| {
            let high = 0.3 + 0.8 * random(i, 2).powi(4);
            [1.4 * random(i, 0) - 0.7, high, random(i, 1) - 0.5]
        })
        .collect();
    let body = "
        const bounds = heightBounds(input.picture, 1, 0);
        const all = { intersectsBox: () => true };
        return input.eyes.map(([x, y, z]) =>
            patchesSeen(bounds, { x, y, z }, all, input.split).map(({ x, z, size }) => [x, z, size]));";
    let imports = [
        ("patchesSeen", "land/scene/quadtree.ts"),
        ("heightBounds", "land/scene/heightBounds.ts"),
    ];
    let split = 1.5;
    let input = json!({
        "eyes": eyes, "split": split, "picture": picture(&frame, &heights, -1e9),
    });
    let views: Vec<Vec<[f64; 3]>> = serde_json::from_value(e2e::ask(&imports, body, input)?)?;
    let highest = f64::from(heights.range().1) / 960.0;
    for (eye, patches) in eyes.iter().zip(&views) {
        let over = |x: f64, z: f64| {
            patches
                .iter()
                .filter(move |[px, pz, size]| {
                    (*px..px + size).contains(&x) && (*pz..pz + size).contains(&z)
                })
                .collect::<Vec<_>>()
        };
        for i in 0..300 {
            let (x, z) = (0.998 * (random(i, 3) - 0.5), 0.665 * (random(i, 4) - 0.5));
            let here = over(x, z);
            ensure!(
                here.len() == 1,
                "{} patches at {x}, {z} from {eye:?}",
                here.len()
            );
            let [px, pz, size] = *here[0];
            // As far away as the level of detail counts it.
            let east = (px - eye[0]).max(0.0).max(eye[0] - px - size);
            let south = (pz - eye[2]).max(0.0).max(eye[2] - pz - size);
            let far = east.hypot(south).hypot((eye[1] - highest).max(0.0));
            let finest = 0.25 * 32.0 / 960.0;
            ensure!(
                far >= split * size * 0.999 || size <= finest,
                "a patch of {size} is {far} away from {eye:?}"
            );
            // Just beyond its east edge.
            for [_, _, other] in over(px + size * 1.0001, z) {
                let ratio = (size / other).max(other / size);
                ensure!(ratio < 2.01, "{size} meets {other} from {eye:?}");
            }
        }
    }
    Ok(())
}
