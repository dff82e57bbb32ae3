//! The surface between cells: its height, its slope, its bounds, and where a ray meets it.

use anyhow::{Result, ensure};
use serde_json::json;
use terrain::grid::Sampler;

use crate::support::{CELL_M, frame, land, picture, random, rough};

const NO_SEA: f64 = -1e9;

/// Between cells the page draws what the core reads there (Catmull and Rom 1974), and its
/// slopes are those of that surface.
#[test]
fn the_surface_between_cells_is_the_cores() -> Result<()> {
    let frame = frame(23, 17);
    let heights = rough(&frame);
    let sampler = Sampler::new(&heights, &frame);
    let places: Vec<[f64; 2]> = (0..400)
        .map(|i| [22.0 * random(i, 1), 16.0 * random(i, 2)])
        .collect();
    let body = "return input.places.map(([col, row]) => surfaceAt(input.picture, col, row))";
    let found = e2e::ask(
        &[("surfaceAt", "land/scene/groundAt.ts")],
        body,
        json!({ "places": places, "picture": picture(&frame, &heights, NO_SEA) }),
    )?;
    let found: Vec<[f64; 3]> = serde_json::from_value(found)?;
    for ([col, row], [height, east, south]) in places.into_iter().zip(found) {
        let at = |col: f64, row: f64| {
            let x_m = (col + 0.5) * CELL_M;
            let y_m = frame.north_m - (row + 0.5) * CELL_M;
            f64::from(sampler.bicubic(x_m, y_m))
        };
        let core = at(col, row);
        ensure!(
            (height - core).abs() < 0.01,
            "{height}, the core has {core}"
        );
        // Away from where one cubic goes over into the next.
        let step = 1e-3;
        let inside = |v: f64| (2.0 * step..1.0 - 2.0 * step).contains(&v.fract());
        if inside(col) && inside(row) {
            let rise = (at(col + step, row) - at(col - step, row)) / (2.0 * step);
            let fall = (at(col, row + step) - at(col, row - step)) / (2.0 * step);
            ensure!(
                (east - rise).abs() < 0.5,
                "{east} and {rise} at {col}, {row}"
            );
            ensure!(
                (south - fall).abs() < 0.5,
                "{south} and {fall} at {col}, {row}"
            );
        }
    }
    Ok(())
}

/// Nothing of the surface is lower or higher than what is said of its part of the land:
/// else patches would vanish at the edge of the screen.
#[test]
fn bounds_hold_all_of_the_surface() -> Result<()> {
    let frame = frame(61, 43);
    let heights = rough(&frame);
    let squares: Vec<[f64; 3]> = (0..120)
        .map(|i| {
            let size = 0.5_f64.powf(1.0 + 6.0 * random(i, 1));
            [random(i, 2) - 0.5, 0.7 * random(i, 3) - 0.35, size]
        })
        .collect();
    let body = "
        const { picture, squares } = input;
        const bounds = heightBounds(picture, 1, 0);
        const { cols, rows, cell_m } = picture.header;
        return squares.map(([x, z, size]) => {
            let [low, high] = [Infinity, -Infinity];
            for (let k = 0; k < 400; k++) {
                const px = x + size * ((k % 20) / 19);
                const pz = z + size * (Math.floor(k / 20) / 19);
                const col = (px + 0.5) * cols - 0.5, row = (pz + (0.5 * rows) / cols) * cols - 0.5;
                if (col < 0 || row < 0 || col > cols - 1 || row > rows - 1) continue;
                const height = surfaceAt(picture, col, row)[0] / (cols * cell_m);
                low = Math.min(low, height);
                high = Math.max(high, height);
            }
            return low > high ? null : [bounds.range(x, z, size), [low, high]];
        });";
    let imports = [
        ("heightBounds", "land/scene/heightBounds.ts"),
        ("surfaceAt", "land/scene/groundAt.ts"),
    ];
    let input = json!({ "squares": squares, "picture": picture(&frame, &heights, 40.0) });
    let found: Vec<Option<[[f64; 2]; 2]>> =
        serde_json::from_value(e2e::ask(&imports, body, input)?)?;
    // A cubic through rough cells swings beyond them by an eighth of their range.
    let swing = 300.0 / 8.0 / (61.0 * CELL_M);
    let mut compared = 0;
    for ([said, seen], square) in found
        .into_iter()
        .zip(squares)
        .filter_map(|(f, s)| Some((f?, s)))
    {
        ensure!(
            said[0] - swing <= seen[0] && seen[1] <= said[1] + swing,
            "{seen:?} is not within {said:?} at {square:?}"
        );
        compared += 1;
    }
    ensure!(compared > 60, "only {compared} squares lay on the land");
    Ok(())
}

/// A ray that falls on a tilted plane meets it where geometry says, and one that looks up
/// meets nothing.
#[test]
fn a_ray_meets_the_land_where_geometry_says() -> Result<()> {
    let frame = frame(64, 64);
    let width = 64.0 * CELL_M;
    // Rising to the east by 0.3.
    let heights = land(&frame, |x, _| 0.3 * x);
    // From above the middle of the west half, at several bearings and steepnesses.
    let rays: Vec<[f64; 6]> = (0..60)
        .map(|i| {
            let bearing = std::f64::consts::TAU * random(i, 1);
            let down = 0.5 + random(i, 2);
            [-0.2, 0.5, 0.0, bearing.sin(), -down, bearing.cos()]
        })
        .chain([[-0.2, 0.5, 0.0, 0.3, 0.6, 0.2]])
        .collect();
    let body = "
        return input.rays.map(([x, y, z, dx, dy, dz]) => {
            const long = Math.hypot(dx, dy, dz);
            const vector = (x, y, z) => ({ x, y, z });
            const ray = { origin: vector(x, y, z), direction: vector(dx / long, dy / long, dz / long) };
            const met = heightRay(input.picture, 1, ray);
            return met && [met.x, met.y, met.z];
        })";
    let input = json!({ "rays": rays, "picture": picture(&frame, &heights, NO_SEA) });
    let found = e2e::ask(&[("heightRay", "land/scene/heightRay.ts")], body, input)?;
    let found: Vec<Option<[f64; 3]>> = serde_json::from_value(found)?;
    let mut met = 0;
    for ([x, y, z, dx, dy, dz], found) in rays.into_iter().zip(found) {
        // y + t dy = 0.3 (x + t dx + ½), in widths of the land.
        let t = (y - 0.3 * (x + 0.5)) / (0.3 * dx - dy);
        let expected = [x + t * dx, y + t * dy, z + t * dz];
        let on_land = dy < 0.0 && expected[0].abs() < 0.48 && expected[2].abs() < 0.48;
        match (on_land, found) {
            (true, Some(found)) => {
                for (found, expected) in found.into_iter().zip(expected) {
                    ensure!(
                        (found - expected).abs() < 2.0 / width,
                        "{found:?} is not {expected:?}"
                    );
                }
                met += 1;
            }
            (true, None) => anyhow::bail!("{expected:?} was not met"),
            (false, found) => ensure!(dy < 0.0 || found.is_none(), "{found:?} in the sky"),
        }
    }
    ensure!(met > 20, "only {met} rays met the land");
    Ok(())
}
