//! Drawn courses: the curve through points, and how rivers wander.

use proptest::prelude::*;
use terrain::line::{Course, CoursePoint, DVec2, Drawn};

const PLAIN: Drawn = Drawn {
    smooth: true,
    spacing_m: 5.0,
    wander: 0.0,
    width_m: 50.0,
};

fn point(x_m: f64, y_m: f64) -> CoursePoint {
    CoursePoint {
        at: DVec2::new(x_m, y_m),
        wide: 1.0,
        high: 1.0,
        steep: 1.0,
    }
}

fn any_points() -> impl Strategy<Value = Vec<CoursePoint>> {
    let one = (0.0..5000.0, 0.0..5000.0, 0.2..3.0, 0.2..3.0);
    let one = one.prop_map(|(x, y, wide, high)| CoursePoint {
        at: DVec2::new(x, y),
        wide,
        high,
        steep: 0.5 * (wide + high),
    });
    prop::collection::vec(one, 2..12)
}

proptest! {
    /// The curve goes through each of its points to the bit, in order, with the factors that
    /// were given there.
    #[test]
    fn a_course_goes_through_its_points(points in any_points(), smooth in any::<bool>()) {
        let course = Course::through(&points, Drawn { smooth, ..PLAIN }).expect("points apart");
        let mut places = course.places();
        for point in &points {
            let found = places.find(|(at, _)| *at == point.at);
            let (_, along) = found.expect("it goes through all of them in order");
            prop_assert!((along.wide - point.wide).abs() < 1e-12);
            prop_assert!((along.high - point.high).abs() < 1e-12);
            prop_assert!((along.steep - point.steep).abs() < 1e-12);
        }
        let last = points.len() - 1;
        prop_assert_eq!(course.at(0.0).wide, points[0].wide);
        let end = course.at(course.length_m());
        prop_assert!((end.high - points[last].high).abs() < 1e-9);
    }

    /// Between its points the centripetal curve keeps near to them: it never goes astray by
    /// more than the stretch between two of them is long, and has neither loops nor cusps
    /// (Yuksel, Schaefer and Keyser 2011), so that it never turns back on itself.
    #[test]
    fn the_curve_neither_strays_nor_turns_back(points in any_points()) {
        let course = Course::through(&points, PLAIN).expect("points apart");
        let places: Vec<DVec2> = course.places().map(|(at, _)| at).collect();
        let mut from = 0;
        for pair in points.windows(2) {
            let to = from + places[from..].iter().position(|&at| at == pair[1].at).expect("there");
            let stretch = pair[1].at.distance(pair[0].at);
            for &at in &places[from..=to] {
                let near = at.distance(pair[0].at).min(at.distance(pair[1].at));
                prop_assert!(near <= stretch, "{at} strays from {pair:?}");
            }
            for three in places[from..=to].windows(3) {
                let turn = (three[1] - three[0]).dot(three[2] - three[1]);
                prop_assert!(turn > 0.0, "it turns back at {}", three[1]);
            }
            from = to;
        }
    }

    /// The nearest place is that of a search through all of them.
    #[test]
    fn the_nearest_place_is_found(points in any_points(), x in -500.0..5500.0, y in -500.0..5500.0) {
        let course = Course::through(&points, PLAIN).expect("points apart");
        let here = DVec2::new(x, y);
        let (distance_m, along) = course.nearest(here);
        let brute = course.places().map(|(at, _)| at.distance(here)).fold(f64::INFINITY, f64::min);
        // Between two places it is nearer by less than their distance.
        prop_assert!(distance_m <= brute + 1e-9 && distance_m > brute - PLAIN.spacing_m);
        prop_assert!((0.0..=course.length_m() + 1e-9).contains(&along.along_m));
    }
}

#[test]
fn a_single_place_is_no_course() {
    assert!(Course::through(&[], PLAIN).is_none());
    assert!(Course::through(&[point(3.0, 4.0), point(3.0, 4.0)], PLAIN).is_none());
}

/// Points in a row make a straight line, whatever their distances.
#[test]
fn points_in_a_row_make_a_straight_line() {
    let points = [
        point(0.0, 0.0),
        point(100.0, 50.0),
        point(2000.0, 1000.0),
        point(2100.0, 1050.0),
    ];
    let course = Course::through(&points, PLAIN).expect("points apart");
    assert!((course.length_m() - 2100.0 * 1.25_f64.sqrt()).abs() < 1e-6);
    assert!(
        course
            .places()
            .all(|(at, _)| (at.y - 0.5 * at.x).abs() < 1e-6)
    );
}

/// Bends of a river are about eleven of its widths long, and it swings by 2.7 of them
/// (Leopold and Wolman 1960: λ = 10.9 w^1.01, A = 2.7 w^1.1, from memory); twice the width,
/// twice the bends.
#[test]
fn a_course_wanders_as_rivers_do() {
    for width_m in [20.0, 60.0] {
        let drawn = Drawn {
            wander: 1.0,
            width_m,
            spacing_m: 2.0,
            ..PLAIN
        };
        let course = Course::through(&[point(0.0, 0.0), point(12_000.0, 0.0)], drawn);
        let places: Vec<DVec2> = course
            .expect("points apart")
            .places()
            .map(|(at, _)| at)
            .collect();
        let crossings = places
            .windows(2)
            .filter(|pair| (pair[0].y > 0.0) != (pair[1].y > 0.0));
        let bends = 2.0 * 12_000.0 / (crossings.count() as f64 * width_m);
        assert!((10.0..12.0).contains(&bends), "bends of {bends} widths");
        let swing = places.iter().map(|at| at.y.abs()).fold(0.0, f64::max) * 2.0 / width_m;
        assert!((2.5..3.5).contains(&swing), "it swings by {swing} widths");
        // Its sinuosity is that of meandering rivers (more than 1.1; Leopold and Wolman 1957).
        let length: f64 = places
            .windows(2)
            .map(|pair| pair[0].distance(pair[1]))
            .sum();
        assert!((1.1..1.8).contains(&(length / 12_000.0)), "{length} m long");
        assert_eq!(
            (places[0], places[places.len() - 1]),
            (DVec2::ZERO, DVec2::new(12_000.0, 0.0))
        );
    }
}
