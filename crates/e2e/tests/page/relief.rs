//! What materials do to the form of the land close up is what files say of it.

use anyhow::{Result, ensure};
use serde_json::json;
use terrain::Grid;
use terrain::ground::{Laying, Material, MaterialKind, Spot};

use crate::support::{CELL_M, frame, picture, random};

const SIDE: usize = 64;
/// The page has heights in 255 steps, on a texture that was halved to its size.
const NEAR_M: f64 = 0.04;

#[test]
fn materials_raise_the_land_as_in_files() -> Result<()> {
    let frame = frame(12, 12);
    let flat = Grid::filled(12, 12, 0.0);
    for (kind, broken_up, from_the_side) in [
        (MaterialKind::Scree, true, true),
        (MaterialKind::Gravel, false, false),
        (MaterialKind::Slate, true, false),
    ] {
        let material = Material::grown(kind, SIDE);
        let laying = Laying {
            size_m: 8.0,
            turn_rad: 0.4,
            broken_up,
            from_the_side,
        };
        let grain = material.detail(SIDE).grain;
        let mut shown = picture(&frame, &flat, -1e9);
        for (plane, value) in [("ground", 0), ("second", 0), ("secondShare", 0)] {
            shown[plane] = json!(vec![value; 144]);
        }
        // Places, and how steep the land is there.
        let places: Vec<[f64; 5]> = (0..200)
            .map(|i| {
                let at = |k| random(i, k);
                let [x, y, z] = [100.0 * at(0), 60.0 * at(1), 100.0 * at(2)];
                [x, y, z, 3.0 * (at(3) - 0.5), 3.0 * (at(4) - 0.5)]
            })
            .collect();
        let body = "
            const { grain, side, cover, picture, places } = input;
            const reliefs = [{ ...cover, levels: heightLevels(grain, side) }];
            return places.map(([x, y, z, east, north]) => {
                const long = Math.hypot(east, north, 1);
                const normal = [-east / long, 1 / long, north / long];
                return reliefAt(reliefs, picture, { col: 5, row: 5, at: [x, y, z], normal }, 0.001)
                    * Math.max(0.35, normal[1]);
            });";
        let imports = [
            ("reliefAt", "land/scene/coverRelief.ts"),
            ("heightLevels", "land/scene/coverRelief.ts"),
        ];
        let input = json!({
            "grain": grain.values().as_flattened(), "side": SIDE, "places": places,
            "picture": shown,
            "cover": {
                "displacement_m": 1.0, "size_m": 8.0,
                "turn": [laying.turn_rad.cos(), laying.turn_rad.sin()],
                "fromTheSide": from_the_side, "brokenUp": broken_up,
            },
        });
        let found: Vec<f64> = serde_json::from_value(e2e::ask(&imports, body, input)?)?;
        // So fine that all of the texture is seen.
        let laid = material.laid(laying, 0.002);
        let mut spread = 0.0_f64;
        for ([x, y, z, east, north], lift) in places.into_iter().zip(found) {
            let spot = Spot {
                place_m: [x, z, y],
                gradient: [east as f32, north as f32],
            };
            let core = f64::from(laid.at(spot).height) - 0.5;
            spread = spread.max(core.abs());
            ensure!(
                (lift - core).abs() < NEAR_M,
                "{kind:?} at {x}, {y}, {z}, rise {east}, {north}: {lift}, the core has {core}"
            );
        }
        ensure!(spread > 0.15, "{kind:?} is flat: {spread}");
    }
    ensure!(CELL_M > 8.0, "cells are larger than a repeat");
    Ok(())
}
