//! Rivers as lines, and the way to the nearest of them.

use proptest::prelude::*;
use terrain::Run;
use terrain::erosion::{FlowDirections, drain, river_lines};
use terrain::line::{DVec2, LineIndex, LinePoint, Polyline};

use crate::support::{frame, hills};

const LEAST_M2: f64 = 40_000.0;

fn rivers_of(seed: u32) -> Vec<Polyline> {
    let frame = frame(120);
    let land = hills(&frame, 600.0, seed);
    let drainage = drain(&land, -1e4, Run::to_the_end()).expect("nobody cancels");
    river_lines(&drainage, &drainage.area_cells(), &frame, LEAST_M2)
}

fn same_place(a: &LinePoint, b: &LinePoint) -> bool {
    a.at.distance(b.at) < 1e-6
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    /// Strahler's (1957) rule, read off the lines: a river of order 1 has no
    /// tributaries, one of order k begins where two of order k − 1 meet.
    #[test]
    fn rivers_meet_as_strahler_says(seed in any::<u32>()) {
        let rivers = rivers_of(seed);
        prop_assert!(rivers.iter().any(|river| river.rank >= 3), "a network");
        for river in &rivers {
            let first = &river.points[0];
            let into: Vec<u8> = rivers
                .iter()
                .filter(|other| same_place(other.points.last().expect("points"), first))
                .map(|other| other.rank)
                .collect();
            match river.rank {
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
            prop_assert!(river.points.windows(2).all(|pair| pair[1].value > pair[0].value));
            prop_assert!(river.points[0].value >= LEAST_M2);
        }
    }

    /// The nearest line, found by looking at all of them; however far it is.
    #[test]
    fn the_nearest_line_is_that_of_brute_force(
        seed in any::<u32>(), (x_m, y_m) in (-50_000.0..65_000.0, -500.0..4500.0),
    ) {
        let rivers = rivers_of(seed);
        let slow = rivers
            .iter()
            .flat_map(|line| line.points.windows(2))
            .map(|pair| {
                let ((ax, ay), (bx, by)) = (pair[0].at.into(), pair[1].at.into());
                let along: f64 = ((x_m - ax) * (bx - ax) + (y_m - ay) * (by - ay))
                    / (f64::powi(bx - ax, 2) + f64::powi(by - ay, 2));
                let t = along.clamp(0.0, 1.0);
                f64::hypot(x_m - ax - t * (bx - ax), y_m - ay - t * (by - ay))
            })
            .fold(f64::INFINITY, f64::min);
        let found = LineIndex::over(&rivers).nearest(DVec2::new(x_m, y_m));
        let distance_m = found.expect("there are rivers").distance_m;
        prop_assert!((distance_m - slow).abs() < 1e-6, "{distance_m} m, in truth {slow} m");
    }
}

#[test]
fn without_lines_nothing_is_near_and_a_single_point_is_a_place() {
    assert_eq!(LineIndex::over(&[]).nearest(DVec2::ZERO), None);
    let alone = Polyline::from_iter([LinePoint::plain(3.0, 4.0)]);
    let near = LineIndex::over(&[alone]).nearest(DVec2::ZERO);
    assert_eq!(near.expect("a place").distance_m, 5.0);
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
        unevenness(FlowDirections::Steepest),
        unevenness(FlowDirections::Spread),
    );
    assert!(
        multiple < 0.3 * single,
        "single {single}, spread {multiple}"
    );
}
