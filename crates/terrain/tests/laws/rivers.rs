//! Rivers as lines, and the way to the nearest of them.

use proptest::prelude::*;
use terrain::Run;
use terrain::erosion::{FlowDirections, RiverLine, drain, river_lines};
use terrain::reading::{LinePoint, Lines};

use crate::support::{frame, hills};

const LEAST_M2: f64 = 40_000.0;

fn rivers_of(seed: u32) -> Vec<RiverLine> {
    let frame = frame(120);
    let land = hills(&frame, 600.0, seed);
    let drainage = drain(&land, -1e4, Run::to_the_end()).expect("nobody cancels");
    river_lines(&drainage, &drainage.area_cells(), &frame, LEAST_M2)
}

fn same_place(a: &terrain::erosion::RiverPoint, b: &terrain::erosion::RiverPoint) -> bool {
    (a.x_m - b.x_m).hypot(a.y_m - b.y_m) < 1e-6
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    /// Strahler's (1957) rule, read off the lines: a river of order 1 has no
    /// tributaries, one of order k begins where two of order k − 1 meet.
    #[test]
    fn rivers_meet_as_strahler_says(seed in any::<u32>()) {
        let rivers = rivers_of(seed);
        prop_assert!(rivers.iter().any(|river| river.order >= 3), "a network");
        for river in &rivers {
            let first = &river.points[0];
            let into: Vec<u8> = rivers
                .iter()
                .filter(|other| same_place(other.points.last().expect("points"), first))
                .map(|other| other.order)
                .collect();
            match river.order {
                1 => prop_assert!(into.is_empty(), "a source with inflow {into:?}"),
                order => {
                    let equal = into.iter().filter(|o| **o == order - 1).count();
                    prop_assert!(equal >= 2, "order {order} from {into:?}");
                }
            }
        }
    }

    #[test]
    fn rivers_gain_land_downstream(seed in any::<u32>()) {
        for river in rivers_of(seed) {
            prop_assert!(river.points.windows(2).all(|pair| pair[1].area_m2 > pair[0].area_m2));
            prop_assert!(river.points[0].area_m2 >= LEAST_M2);
        }
    }

    /// The nearest line, found by looking at all of them.
    #[test]
    fn the_nearest_line_is_that_of_brute_force(
        seed in any::<u32>(), (x_m, y_m) in (-500.0..6500.0, -500.0..4500.0), reach_m in 1.0..3000.0,
    ) {
        let lines: Vec<Vec<LinePoint>> = rivers_of(seed)
            .iter()
            .map(|river| {
                let points = river.points.iter();
                points.map(|p| LinePoint { x_m: p.x_m, y_m: p.y_m, value: p.area_m2 }).collect()
            })
            .collect();
        let slow = lines
            .iter()
            .flat_map(|line| line.windows(2))
            .map(|pair| {
                let ((ax, ay), (bx, by)) = ((pair[0].x_m, pair[0].y_m), (pair[1].x_m, pair[1].y_m));
                let along: f64 = ((x_m - ax) * (bx - ax) + (y_m - ay) * (by - ay))
                    / ((bx - ax).powi(2) + (by - ay).powi(2));
                let t = along.clamp(0.0, 1.0);
                f64::hypot(x_m - ax - t * (bx - ax), y_m - ay - t * (by - ay))
            })
            .fold(f64::INFINITY, f64::min);
        let sorted = Lines::new(lines.iter().map(Vec::as_slice));
        let found = sorted.nearest(x_m, y_m, reach_m).map(|near| near.distance_m);
        match found {
            Some(distance_m) => prop_assert!((distance_m - slow).abs() < 1e-6),
            None => prop_assert!(slow > reach_m - 1e-6, "missed one at {slow} m"),
        }
    }
}

/// On a cone's flank water that spreads drains evenly, whatever the bearing
/// (Freeman 1991): D8 gathers it in eight spokes.
#[test]
fn spread_water_follows_a_cone() {
    let cells = 101;
    let cone = terrain::Grid::by_rows(cells, cells, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = 1000.0 - (c as f32 - 50.0).hypot(r as f32 - 50.0);
        }
    });
    let drainage = drain(&cone, -1e4, Run::to_the_end()).expect("nobody cancels");
    let unevenness = |directions| {
        let area = drainage.area_by(directions);
        let ring: Vec<f32> = (0..360)
            .map(|degrees| {
                let (sin, cos) = (degrees as f32).to_radians().sin_cos();
                let (c, r) = ((50.0 + 30.0 * cos).round(), (50.0 + 30.0 * sin).round());
                area[r as usize * cells + c as usize]
            })
            .collect();
        let mean = ring.iter().sum::<f32>() / ring.len() as f32;
        let variance = ring.iter().map(|a| (a - mean).powi(2)).sum::<f32>() / ring.len() as f32;
        variance.sqrt() / mean
    };
    let (single, multiple) = (
        unevenness(FlowDirections::Single),
        unevenness(FlowDirections::Multiple),
    );
    assert!(
        multiple < 0.3 * single,
        "single {single}, spread {multiple}"
    );
}
