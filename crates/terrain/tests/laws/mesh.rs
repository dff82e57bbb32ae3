//! Land as triangles: bounds that are kept, borders that meet, solids that are closed.

use std::collections::HashMap;

use proptest::prelude::*;
use terrain::mesh::{
    Distance, Goal, Lattice, Mesh, Open, closed, refined, refined_in_levels, tiled,
};
use terrain::{Extent, Frame, Grid, Run};

use crate::support::hills;

/// Noise on a land whose sides need not be whole numbers of cells.
fn lattice(cells: usize, depth_m: f64, seed: u32) -> Lattice {
    let extent = Extent {
        width_m: 6000.0,
        depth_m,
    };
    let frame = Frame::with_cells(extent, cells);
    // Some of it under the sea.
    let wide = hills(&frame.grown(1), 150.0, seed).map(|height| height - 60.0);
    Lattice::of(&wide, &frame, extent)
}

fn lattices() -> impl Strategy<Value = Lattice> {
    (3usize..48, 2000.0..6000.0f64, 0u32..1000)
        .prop_map(|(cells, depth_m, seed)| lattice(cells, depth_m, seed))
}

fn goal(most_triangles: usize, error_m: f64) -> Goal {
    Goal {
        most_triangles,
        error_m,
        closed: false,
    }
}

fn plain(lattice: &Lattice, goal: Goal) -> Mesh {
    refined(lattice, goal, Run::to_the_end()).expect("nobody stops it")
}

/// Twice the area of a triangle seen from above; below 0 where it is flipped.
fn from_above([a, b, c]: [[f64; 3]; 3]) -> f64 {
    (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
}

/// The heights of a mesh over one place, looked for among all triangles: one, or on edges
/// one from each side.
fn laid(mesh: &Mesh, x: f64, y: f64) -> impl Iterator<Item = f64> {
    const ON_EDGE: f64 = -1e-6;
    mesh.triangles.iter().filter_map(move |&triangle| {
        let [a, b, c] = mesh.corners(triangle);
        let here = [x, y, 0.0];
        let whole = from_above([a, b, c]);
        let shares =
            [[here, b, c], [a, here, c], [a, b, here]].map(|part| from_above(part) / whole);
        let inside = shares.iter().all(|share| *share >= ON_EDGE);
        inside.then(|| shares[0] * a[2] + shares[1] * b[2] + shares[2] * c[2])
    })
}

/// How far a mesh is from the land at one place.
fn apart(mesh: &Mesh, [x, y, z]: [f64; 3]) -> f64 {
    laid(mesh, x, y).fold(f64::INFINITY, |nearest, laid| nearest.min((laid - z).abs()))
}

fn places(lattice: &Lattice) -> impl Iterator<Item = [f64; 3]> {
    let cols = lattice.cols();
    (0..cols * lattice.rows()).map(move |at| lattice.place(at % cols, at / cols))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// A budget is kept, and nothing of the land is lost: no triangle is flipped, none is
    /// missing, and the border stays a rectangle.
    #[test]
    fn a_budget_is_kept(lattice in lattices(), most in 2usize..600) {
        let mesh = plain(&lattice, goal(most, 0.0));
        prop_assert!(mesh.triangles.len() <= most);
        let areas: Vec<f64> = mesh.triangles.iter().map(|&t| from_above(mesh.corners(t))).collect();
        prop_assert!(areas.iter().all(|area| *area > 0.0));
        let (nw, se) = (lattice.place(0, 0), lattice.place(lattice.cols() - 1, lattice.rows() - 1));
        let whole = (se[0] - nw[0]) * (nw[1] - se[1]);
        prop_assert!((areas.iter().sum::<f64>() / 2.0 / whole - 1.0).abs() < 1e-6);
        let open = mesh.open();
        prop_assert_eq!(open.tangled, 0);
        // Euler: a disc of v corners, b of them on its border, has 2 v - b - 2 triangles.
        prop_assert_eq!(mesh.triangles.len(), 2 * mesh.vertices.len() - open.border - 2);
    }

    /// A bound in metres is true at every place, and the distance that is told is what
    /// comes of looking at all triangles for each place.
    #[test]
    fn an_error_is_kept(lattice in lattices(), error_m in 0.5..40.0f64) {
        let mesh = plain(&lattice, goal(usize::MAX, error_m));
        let told = Distance::of(&mesh, &lattice);
        let by_force: Vec<f64> = places(&lattice).map(|place| apart(&mesh, place)).collect();
        let greatest = by_force.iter().copied().fold(0.0, f64::max);
        let squares: f64 = by_force.iter().map(|apart| apart * apart).sum();
        let rms = (squares / by_force.len() as f64).sqrt();
        // Vertices are floats: a thousandth of a metre.
        prop_assert!(greatest <= error_m + 1e-3, "{greatest} of {error_m}");
        prop_assert_eq!(told.missed, 0);
        prop_assert!((told.greatest_m - greatest).abs() < 1e-3);
        prop_assert!((told.rms_m - rms).abs() < 1e-3);
    }

    /// A solid is closed, whatever the land, and holds what the columns under its triangles
    /// hold; its budget counts sides and floor.
    #[test]
    fn a_solid_is_closed(lattice in lattices(), most in 14usize..600, below_m in 1.0..50.0f64) {
        let land = plain(&lattice, Goal { most_triangles: most, error_m: 0.0, closed: true });
        let floor_m = f64::from(lattice.range_m().0) - below_m;
        let solid = closed(&land, floor_m);
        prop_assert!(solid.triangles.len() <= most);
        prop_assert_eq!(solid.open(), Open::default());
        let columns: f64 = land.triangles.iter().map(|&triangle| {
            let corners = land.corners(triangle);
            let height = (corners[0][2] + corners[1][2] + corners[2][2]) / 3.0 - floor_m;
            from_above(corners) / 2.0 * height
        }).sum();
        prop_assert!((solid.volume_m3() / columns - 1.0).abs() < 1e-5);
        // Euler: v - e + f is 2 for what can be blown up to a ball.
        let edges = solid.triangles.len() * 3 / 2;
        prop_assert_eq!(solid.vertices.len() + solid.triangles.len(), edges + 2);
    }

    /// Tiles laid side by side are one land again: no gap, no place with two heights.
    #[test]
    fn tiles_meet(lattice in lattices(), side in 4usize..20, error_m in 0.5..20.0f64, few in 0usize..2) {
        let goal = if few == 0 { goal(usize::MAX, error_m) } else { goal(900, 0.0) };
        let tiles = tiled(&lattice, side, goal, Run::to_the_end()).expect("nobody stops it");
        let mut known: HashMap<[u32; 3], u32> = HashMap::new();
        let mut joined = Mesh::default();
        for tile in &tiles {
            let vertices: Vec<u32> = tile.mesh.vertices.iter().map(|vertex| {
                let next = known.len() as u32;
                *known.entry(vertex.map(f32::to_bits)).or_insert(next)
            }).collect();
            joined.triangles.extend(tile.mesh.triangles.iter().map(|t| t.map(|v| vertices[v as usize])));
        }
        let mut all: Vec<_> = known.into_iter().collect();
        all.sort_by_key(|(_, at)| *at);
        joined.vertices = all.into_iter().map(|(vertex, _)| vertex.map(f32::from_bits)).collect();
        joined.of_land = joined.triangles.len();
        joined.land_vertices = joined.vertices.len();
        let open = joined.open();
        prop_assert_eq!(open.tangled, 0);
        prop_assert_eq!(joined.triangles.len(), 2 * joined.vertices.len() - open.border - 2);
        if few == 0 {
            prop_assert!(Distance::of(&joined, &lattice).greatest_m <= error_m + 1e-3);
        } else {
            prop_assert!(joined.triangles.len() <= 900 || tiles.iter().all(|t| t.mesh.triangles.len() <= 2));
        }
    }
}

#[test]
fn the_whole_has_every_place_and_is_of_the_stated_size() {
    let lattice = lattice(37, 4200.0, 4);
    let mesh = lattice.whole();
    assert_eq!(mesh.triangles.len(), lattice.most_triangles());
    assert!(Distance::of(&mesh, &lattice).greatest_m < 1e-3);
    let corners = [
        lattice.place(0, 0),
        lattice.place(lattice.cols() - 1, lattice.rows() - 1),
    ];
    assert_eq!(
        corners.map(|place| [place[0], place[1]]),
        [[0.0, 4200.0], [6000.0, 0.0]]
    );
}

#[test]
fn a_plane_is_two_triangles() {
    let extent = Extent {
        width_m: 640.0,
        depth_m: 320.0,
    };
    let frame = Frame::with_cells(extent, 64);
    let wide = frame.grown(1);
    let tilted = Grid::by_rows(wide.cols, wide.rows, |row, out| {
        for (col, height) in out.iter_mut().enumerate() {
            *height = (200.0 + 0.25 * wide.x_m(col) - 0.5 * wide.y_m(row)) as f32;
        }
    });
    let mesh = plain(
        &Lattice::of(&tilted, &frame, extent),
        goal(usize::MAX, 0.001),
    );
    assert_eq!(mesh.triangles.len(), 2);
    let up = mesh.smooth_normals()[0];
    let length = (1.0f32 + 0.0625 + 0.25).sqrt();
    for (part, expected) in up.iter().zip([-0.25 / length, 0.5 / length, 1.0 / length]) {
        assert!((part - expected).abs() < 1e-5, "{up:?}");
    }
}

/// A cone holds a third of its base times its height (Euclid, Elements XII.10).
#[test]
fn a_cone_has_its_volume() {
    let extent = Extent {
        width_m: 400.0,
        depth_m: 400.0,
    };
    let frame = Frame::with_cells(extent, 200);
    let wide = frame.grown(1);
    let (radius, height) = (150.0, 90.0);
    let cone = Grid::by_rows(wide.cols, wide.rows, |row, out| {
        for (col, up) in out.iter_mut().enumerate() {
            let out_m = (wide.x_m(col) - 200.0).hypot(wide.y_m(row) - 200.0);
            *up = (height * (1.0 - out_m / radius)).max(0.0) as f32;
        }
    });
    let lattice = Lattice::of(&cone, &frame, extent);
    let mesh = plain(&lattice, goal(usize::MAX, 0.2));
    assert!(mesh.triangles.len() < lattice.most_triangles() / 20);
    let floor_m = -10.0;
    let solid = closed(&mesh, floor_m);
    let expected = std::f64::consts::PI * radius * radius * height / 3.0 + 10.0 * 400.0 * 400.0;
    assert!(
        (solid.volume_m3() / expected - 1.0).abs() < 2e-3,
        "{}",
        solid.volume_m3()
    );
    assert!((solid.clone().scaled(0.1).volume_m3() / expected * 1000.0 - 1.0).abs() < 2e-3);
}

#[test]
fn levels_keep_the_vertices_of_coarser_ones() {
    let lattice = lattice(96, 4800.0, 9);
    let goals = [100, 400, 1600].map(|most| goal(most, 0.0));
    let levels = refined_in_levels(&lattice, &goals, Run::to_the_end()).expect("nobody stops it");
    for (coarse, fine) in levels.iter().zip(&levels[1..]) {
        assert_eq!(coarse.vertices[..], fine.vertices[..coarse.vertices.len()]);
        let (far, near) = (Distance::of(coarse, &lattice), Distance::of(fine, &lattice));
        assert!(near.rms_m < 0.6 * far.rms_m, "{near:?} after {far:?}");
    }
    // The first is what it is alone. Those after it begin from where the one before
    // ended, and are as near to the land as if they had begun anew.
    assert_eq!(levels[0], plain(&lattice, goals[0]));
    for (level, goal) in levels.iter().zip(goals) {
        let alone = Distance::of(&plain(&lattice, goal), &lattice).rms_m;
        let rms_m = Distance::of(level, &lattice).rms_m;
        assert!(rms_m < 1.03 * alone, "{rms_m} and {alone}");
    }
}

/// What is a quarter of the bound above the sea, or below it, stays there.
#[test]
fn the_coast_is_kept() {
    let lattice = lattice(96, 5400.0, 3);
    let error_m = 8.0;
    let mesh = plain(&lattice, goal(usize::MAX, error_m));
    let mut near = 0;
    for [x, y, z] in places(&lattice) {
        if z.abs() > error_m / 4.0 + 1e-3 {
            near += usize::from(z.abs() < error_m);
            assert!(
                laid(&mesh, x, y).any(|laid| (laid > 0.0) == (z > 0.0)),
                "{z} at {x}, {y}"
            );
        }
    }
    assert!(near > 100, "{near} places near the coast");
}

/// A mesh that has everything leaves nothing to a normal map, and one that is level leaves
/// it all.
#[test]
fn what_a_mesh_does_not_have_is_left_to_its_normal_map() {
    let extent = Extent {
        width_m: 6000.0,
        depth_m: 4000.0,
    };
    let frame = Frame::with_cells(extent, 60);
    let wide = hills(&frame.grown(1), 300.0, 8);
    let lattice = Lattice::of(&wide, &frame, extent);
    let whole = lattice.whole();
    let normals = whole.smooth_normals();
    // Places inside are those of the cells: one more column and row on each side.
    let own = Grid::by_rows(frame.cols, frame.rows, |row, out| {
        for (col, up) in out.iter_mut().enumerate() {
            *up = normals[(row + 1) * lattice.cols() + col + 1];
        }
    });
    let seen = whole.seen_from_it(&own, &frame);
    for up in seen.values() {
        assert!(up[2] > 1.0 - 1e-5, "{up:?}");
    }
    let level = Lattice::of(&wide.map(|_| 0.0), &frame, extent);
    let level = plain(&level, goal(2, 0.0));
    let seen = level.seen_from_it(&own, &frame);
    for (seen, own) in seen.values().iter().zip(own.values()) {
        let apart: f32 = seen.iter().zip(own).map(|(a, b)| (a - b).abs()).sum();
        assert!(apart < 1e-5, "{seen:?} of {own:?}");
    }
}
