//! Cliffs as a mesh apart: even quads on the surface, and a seam without a gap.

use std::collections::{HashMap, HashSet};

use proptest::prelude::*;
use terrain::mesh::{Goal, Lattice, Mesh, Parted, parted, refined};
use terrain::noise::FractalNoise;
use terrain::reading::slope_deg;
use terrain::{Extent, Frame, Grid, Run};

const EXTENT: Extent = Extent {
    width_m: 960.0,
    depth_m: 640.0,
};
const EDGE_M: f64 = 16.0;

struct Land {
    lattice: Lattice,
    frame: Frame,
    wide: Grid,
}

fn land_of(height: impl Fn(f64, f64) -> f32 + Sync) -> Land {
    let frame = Frame::with_cells(EXTENT, 96);
    let around = frame.grown(1);
    let wide = Grid::by_rows(around.cols, around.rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = height(around.x_m(c), around.y_m(r));
        }
    });
    let lattice = Lattice::of(&wide, &frame, EXTENT);
    Land {
        lattice,
        frame,
        wide,
    }
}

/// A table that falls over 300 m of height between two curved lines.
fn table(seed: f64) -> Land {
    land_of(|x, y| {
        let line = 480.0 + 60.0 * (y / 90.0 + seed).sin() + 25.0 * (y / 37.0).cos();
        let share = ((x - line) / 90.0).clamp(-1.0, 1.0);
        let smooth = share * (1.5 - 0.5 * share * share);
        (150.0 - 150.0 * smooth + 6.0 * (x / 60.0).sin() * (y / 45.0).cos()) as f32
    })
}

impl Land {
    /// Where it is steeper than this.
    fn steeper(&self, than_deg: f32) -> Grid {
        let slope = slope_deg(&self.wide, self.frame.cell_m);
        slope.map(|slope| if slope > than_deg { 1.0 } else { 0.0 })
    }

    fn parted(&self, mask: &Grid, edge_m: f64) -> Option<Parted> {
        let goal = Goal {
            most_triangles: 3000,
            error_m: 0.0,
            closed: false,
        };
        let whole = refined(&self.lattice, goal, Run::to_the_end()).expect("not stopped");
        let parted = parted(
            &self.lattice,
            &whole,
            (mask, &self.frame),
            edge_m,
            Run::to_the_end(),
        );
        parted.expect("not stopped")
    }
}

fn area_from_above(mesh: &Mesh) -> f64 {
    let areas = mesh.triangles.iter().map(|triangle| {
        let [a, b, c] = mesh.corners(*triangle);
        0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
    });
    areas.sum()
}

/// Edges with one triangle, by the very bits of their ends.
fn open_edges(mesh: &Mesh) -> HashSet<[[u32; 3]; 2]> {
    let mut times: HashMap<[u32; 2], u32> = HashMap::new();
    for [a, b, c] in &mesh.triangles {
        for [p, q] in [[a, b], [b, c], [c, a]] {
            *times.entry([*p, *q]).or_default() += 1;
        }
    }
    let bits = |vertex: u32| mesh.vertices[vertex as usize].map(f32::to_bits);
    let single = times.keys().filter(|[a, b]| !times.contains_key(&[*b, *a]));
    assert!(times.values().all(|count| *count == 1), "no edge twice");
    single.map(|[a, b]| [bits(*a), bits(*b)]).collect()
}

/// The seam has the same vertices in both meshes, and together they cover the land once.
fn assert_joined(parted: &Parted) {
    let (around, cliffs) = (open_edges(&parted.land), open_edges(&parted.cliffs));
    let turned: HashSet<_> = cliffs.iter().map(|[a, b]| [*b, *a]).collect();
    assert!(turned.is_subset(&around), "a gap along the seam");
    let border = around.difference(&turned);
    let on_border = |[x, y, _]: [u32; 3]| {
        let (x, y) = (f32::from_bits(x), f32::from_bits(y));
        x == 0.0 || y == 0.0 || x == EXTENT.width_m as f32 || y == EXTENT.depth_m as f32
    };
    for [a, b] in border {
        assert!(on_border(*a) && on_border(*b), "a hole beside the cliffs");
    }
    let area = area_from_above(&parted.land) + area_from_above(&parted.cliffs);
    let whole = EXTENT.width_m * EXTENT.depth_m;
    assert!((area / whole - 1.0).abs() < 1e-5, "{area} of {whole} m²");
    for mesh in [&parted.land, &parted.cliffs] {
        for triangle in &mesh.triangles {
            let [a, b, c] = mesh.corners(*triangle);
            let area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
            assert!(area > 0.0, "a triangle that faces down");
        }
    }
    // Both are shaded as one along the seam.
    let directions = |mesh: &Mesh| -> HashMap<[u32; 3], [f32; 3]> {
        let at = mesh.vertices.iter().map(|at| at.map(f32::to_bits));
        at.zip(mesh.smooth_normals()).collect()
    };
    let (around, on_cliffs) = (directions(&parted.land), directions(&parted.cliffs));
    for [a, _] in cliffs {
        assert_eq!(around[&a], on_cliffs[&a]);
    }
}

#[test]
fn quads_are_even_and_lie_on_the_surface() {
    let land = table(0.0);
    let mask = land.steeper(35.0);
    let parted = land.parted(&mask, EDGE_M).expect("there are cliffs");
    assert_joined(&parted);
    let cliffs = &parted.cliffs;
    let quads = cliffs.quads().count();
    assert_eq!(2 * quads, cliffs.triangles.len());
    assert!(quads > 400, "{quads} quads");
    // The stated ratio: 98 of 100 edges between half and twice the mean.
    let edges = parted.edges;
    assert!(
        edges.short_m > 0.5 * edges.mean_m && edges.long_m < 2.0 * edges.mean_m,
        "{edges:?}"
    );
    assert!((edges.mean_m / EDGE_M - 1.0).abs() < 0.25, "{edges:?}");
    // On walls there are as many quads for their area as on slopes: area over count.
    let area: f64 = cliffs
        .triangles
        .iter()
        .map(|triangle| {
            let [a, b, c] = cliffs.corners(*triangle).map(glam::DVec3::from);
            0.5 * (b - a).cross(c - a).length()
        })
        .sum();
    let each = (area / quads as f64).sqrt();
    assert!((each / EDGE_M - 1.0).abs() < 0.2, "{each} m");
    // It is the surface, not something near it.
    for [x, y, z] in &cliffs.vertices {
        let (x, y) = (f64::from(*x), f64::from(*y));
        let (col, row) = (
            (x / land.frame.cell_m - 0.5).max(0.0) as usize + 1,
            ((EXTENT.depth_m - y) / land.frame.cell_m - 0.5).max(0.0) as usize + 1,
        );
        let near = land.wide.cropped(col, row, 2, 2).range();
        assert!(
            *z >= near.0 - 1e-2 && *z <= near.1 + 1e-2,
            "{z} not in {near:?}"
        );
    }
}

/// What is half as long has about four times as many.
#[test]
fn finer_quads_are_more() {
    let land = table(1.0);
    let mask = land.steeper(35.0);
    let count = |edge_m| {
        let parted = land.parted(&mask, edge_m).expect("there are cliffs");
        assert_joined(&parted);
        parted.cliffs.quads().count() as f64
    };
    let times = count(0.5 * EDGE_M) / count(EDGE_M);
    assert!((3.0..5.0).contains(&times), "{times} times");
}

/// Where nothing is steep nothing is apart.
#[test]
fn without_cliffs_there_is_nothing_to_part() {
    let land = land_of(|x, _| 0.1 * x as f32);
    assert!(land.parted(&land.steeper(35.0), EDGE_M).is_none());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Whatever the mask and the land: no gap, no hole, nothing twice, nothing upside down.
    #[test]
    fn any_mask_has_a_seam_without_a_gap(
        seed in 0..1000u32,
        feature_m in 60.0..300.0_f64,
        share in 0.2..0.8_f32,
        edge_m in 8.0..40.0_f64,
        phase in 0.0..6.0_f64,
    ) {
        let land = table(phase);
        let noise = FractalNoise { feature_m, octaves: 3.0, seed, ..FractalNoise::default() };
        let noise = noise.fill(&land.frame, Run::to_the_end()).expect("not stopped");
        let mut sorted: Vec<f32> = noise.values().to_vec();
        sorted.sort_by(f32::total_cmp);
        let from = sorted[((1.0 - share) * (sorted.len() - 1) as f32) as usize];
        let mask = noise.map(|value| if value >= from { 1.0 } else { 0.0 });
        if let Some(parted) = land.parted(&mask, edge_m) {
            assert_joined(&parted);
        }
    }
}
