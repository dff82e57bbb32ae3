//! Valleys and ridges of noise, as it comes, know neither the axes of the map nor the lattice
//! that it is made on.

use recipe::Recipe;
use serde_json::json;
use terrain::Run;
use terrain::erosion::nature;

use crate::support::{frame, grown};

/// Cells along each side, and variants that are looked at together.
const CELLS: usize = 384;
const SEEDS: u32 = 3;

/// Of each kind of noise its valleys, and its ridges, which are the valleys of the land turned
/// upside down: no way is much more frequent among them than the others. Land of real rivers
/// has 1.2 to 1.5 by the same measure (docs/NATURE.md), which knows eight ways from cell to
/// cell. Value noise shows the squares that it is made of; more is not asked of it.
#[test]
fn valleys_and_ridges_of_noise_have_no_favourite_direction() {
    for basis in ["gradient", "value", "simplex"] {
        for character in ["fractal", "billow", "ridged", "hybrid", "heterogeneous"] {
            let (mut favourite, mut four, mut eight) = ([0.0; 2], 0.0, 0.0);
            for seed in 0..SEEDS {
                let document = json!({
                    "version": 2, "name": "Noise",
                    "extent": { "width_m": 30_000, "depth_m": 30_000 },
                    "strands": [{ "name": "land", "steps": [{
                        "id": "a", "name": "Hills", "combine": "add",
                        "do": { "noise": {
                            "basis": basis, "character": character, "seed": 31 + seed,
                        } },
                    }] }],
                });
                let recipe = Recipe::from_value(document).expect("it opens");
                let frame = frame(&recipe, CELLS);
                let land = grown(&recipe, &frame);
                for (side, sign) in [1.0, -1.0].into_iter().enumerate() {
                    let turned = land.map(|height| sign * height);
                    let found = nature(&turned, frame.cell_m, -1e9, Run::to_the_end());
                    let found = found.expect("nobody stops it");
                    let share = 1.0 / f64::from(SEEDS);
                    favourite[side] += share * found.channels.direction.expect("channels");
                    four += 0.5 * share * found.surface.four_ways;
                    eight += 0.5 * share * found.surface.eight_ways;
                }
            }
            let [valleys, ridges] = favourite;
            let said = format!(
                "{basis}, {character}: valleys {valleys:.2}, ridges {ridges:.2}, \
                 four ways {four:.3}, eight ways {eight:.3}"
            );
            println!("{said}");
            let value = basis == "value";
            let most = if value { 1.6 } else { 1.45 };
            assert!(valleys < most && ridges < most, "{said}");
            assert!(value || (four < 0.05 && eight < 0.03), "{said}");
        }
    }
}
