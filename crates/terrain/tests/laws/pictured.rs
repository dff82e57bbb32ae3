//! Meshes as a camera sees them: where things stand, what hides what, and how they are lit.

use terrain::light::Sun;
use terrain::mesh::{Camera, Drawn, Lattice, Mesh, pictured};
use terrain::{Extent, Frame, Grid, Run};

const EXTENT: Extent = Extent {
    width_m: 1000.0,
    depth_m: 1000.0,
};
const OVERHEAD: Sun = Sun {
    bearing_deg: 0.0,
    altitude_deg: 90.0,
};

fn land(height: impl Fn(f64, f64) -> f32 + Sync) -> Mesh {
    let frame = Frame::with_cells(EXTENT, 64);
    let wide = frame.grown(1);
    let heights = Grid::by_rows(wide.cols, wide.rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = height(wide.x_m(c), wide.y_m(r));
        }
    });
    Lattice::of(&heights, &frame, EXTENT).whole()
}

fn camera(bearing_deg: f64, altitude_deg: f64) -> Camera {
    Camera {
        bearing_deg,
        altitude_deg,
        zoom: 1.0,
        at: [0.5, 0.5],
    }
}

fn seen(mesh: &Mesh, camera: Camera, sun: Sun, edges: bool) -> Grid<[u8; 3]> {
    let drawn = Drawn {
        size: [200, 200],
        smooth: false,
        edges,
        sun,
    };
    pictured(mesh, EXTENT, &camera, &drawn, Run::to_the_end()).expect("not stopped")
}

/// The share of pixels that are not what lies behind the land.
fn covered(picture: &Grid<[u8; 3]>) -> f64 {
    let behind = picture.at(0, 0);
    let land = picture.values().iter().filter(|pixel| **pixel != behind);
    land.count() as f64 / picture.values().len() as f64
}

/// A level square straight from above fills 94 % of each side, and its light is even.
#[test]
fn a_level_square_from_above_is_a_square() {
    let picture = seen(&land(|_, _| 10.0), camera(180.0, 90.0), OVERHEAD, false);
    let share = covered(&picture);
    assert!((share - 0.94 * 0.94).abs() < 0.02, "{share}");
    let middle = picture.at(100, 100);
    for (c, r) in [(10, 10), (189, 10), (10, 189), (60, 140)] {
        assert_eq!(picture.at(c, r), middle, "column {c}, row {r}");
    }
}

/// Twice as close, it is twice as long; one cannot see past the picture.
#[test]
fn zoom_brings_it_closer() {
    let mut far = camera(180.0, 90.0);
    far.zoom = 0.5;
    let share = covered(&seen(&land(|_, _| 0.0), far, OVERHEAD, false));
    assert!((share - 0.47 * 0.47).abs() < 0.01, "{share}");
}

/// From the south, north is above; from the west it is on the left. A tower in the
/// north-east is where it must be, and hides what is behind it.
#[test]
fn the_compass_is_kept() {
    let tower = |x: f64, y: f64| match x > 700.0 && y > 700.0 {
        true => 150.0,
        false => 0.0,
    };
    // Only what is level is bright: the walls of the tower are dark.
    let mesh = land(tower);
    let dark_at = |bearing: f64, altitude: f64| {
        let picture = seen(&mesh, camera(bearing, altitude), OVERHEAD, false);
        let behind = picture.at(0, 0);
        let (mut sum, mut count) = ([0.0, 0.0], 0.0);
        for r in 0..200 {
            for c in 0..200 {
                let pixel = picture.at(c, r);
                if pixel != behind && pixel[0] < 110 {
                    sum = [sum[0] + c as f64, sum[1] + r as f64];
                    count += 1.0;
                }
            }
        }
        assert!(count > 20.0, "{count} dark pixels from {bearing}");
        sum.map(|sum| sum / count)
    };
    let from_south = dark_at(180.0, 45.0);
    assert!(
        from_south[0] > 115.0 && from_south[1] < 100.0,
        "{from_south:?}"
    );
    let from_north = dark_at(0.0, 45.0);
    assert!(
        from_north[0] < 85.0 && from_north[1] > 90.0,
        "{from_north:?}"
    );
    let from_west = dark_at(270.0, 45.0);
    assert!(
        from_west[0] < 100.0 && from_west[1] < 100.0,
        "{from_west:?}"
    );
}

/// A roof with its ridge from south to north, under a low sun in the east: the east side is
/// bright, the west side has only what comes from all sides.
#[test]
fn the_sun_lights_what_faces_it() {
    let roof = land(|x, _| 200.0 - 0.4 * (x - 500.0).abs() as f32);
    let east = Sun {
        bearing_deg: 90.0,
        altitude_deg: 25.0,
    };
    let picture = seen(&roof, camera(180.0, 90.0), east, false);
    let (west, east) = (picture.at(60, 100)[0], picture.at(140, 100)[0]);
    assert!(east > west + 60, "east {east}, west {west}");
}

/// Edges are dark lines over it: a mesh of two triangles has its diagonal and nothing else
/// within.
#[test]
fn edges_are_where_triangles_meet() {
    let mesh = Mesh {
        vertices: vec![
            [0.0, 0.0, 0.0],
            [1000.0, 0.0, 0.0],
            [1000.0, 1000.0, 0.0],
            [0.0, 1000.0, 0.0],
        ],
        triangles: vec![[0, 1, 2], [0, 2, 3]],
        of_land: 2,
        land_vertices: 4,
        ..Mesh::default()
    };
    let picture = seen(&mesh, camera(180.0, 90.0), OVERHEAD, true);
    let plain = seen(&mesh, camera(180.0, 90.0), OVERHEAD, false);
    // From the south-west, below on the left, to the north-east.
    for at in 20..180 {
        assert!(
            picture.at(at, 199 - at)[0] + 30 < plain.at(at, 199 - at)[0],
            "at {at}"
        );
        let off = (at + 40) % 160 + 20;
        if off.abs_diff(at) > 5 {
            assert_eq!(
                picture.at(at, 199 - off),
                plain.at(at, 199 - off),
                "{at}, {off}"
            );
        }
    }
}

/// Nothing of it depends on how many threads there are.
#[test]
fn threads_change_nothing() {
    let mesh = land(|x, y| 80.0 * ((x / 90.0).sin() * (y / 70.0).cos()) as f32);
    let one = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build();
        pool.expect("threads")
            .install(|| seen(&mesh, camera(210.0, 30.0), OVERHEAD, true))
    };
    assert_eq!(one(1), one(3));
}
