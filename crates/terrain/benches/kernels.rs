//! Kernels beside general-purpose yardsticks, all in one run.
//!
//! `cargo bench -p terrain` prints items (samples, cells) or bytes per second;
//! docs/PERFORMANCE.md says what to divide by what.

use divan::Bencher;
use divan::counter::{BytesCount, ItemsCount};
use fastnoise_lite::{FastNoiseLite, FractalType, NoiseType};
use terrain::erosion::{
    AgeLaw, Aging, Country, Crumbling, FlowDirections, Ground, Level, Outlets, Side, Storm, Water,
    crumble, drain,
};
use terrain::light::{Sun, sight_margin, sky_seen};
use terrain::mask::grown;
use terrain::mesh::{Goal, Lattice, closed, refined};
use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};
use terrain::picture::{Lighting, hillshade, light};
use terrain::reading::{Bend, aspect_deg, curvature_per_km, distance_m, slope_deg};
use terrain::{Extent, Frame, Grid, Run};

fn main() {
    divan::main();
}

const CELLS: usize = 1024;
const OCTAVES: f64 = 8.0;
const FEATURE_M: f64 = 4000.0;

fn frame(cells: usize) -> Frame {
    let extent = Extent {
        width_m: 8000.0,
        depth_m: 8000.0,
    };
    Frame::with_cells(extent, cells)
}

fn land(cells: usize) -> Grid {
    let noise = layered(Character::Fractal);
    let land = noise.fill(&frame(cells), Run::to_the_end());
    land.expect("nobody stops it").map(|v| 500.0 + 800.0 * v)
}

fn layered(character: Character) -> FractalNoise {
    FractalNoise {
        character,
        feature_m: FEATURE_M,
        octaves: OCTAVES,
        lacunarity: 2.0,
        gain: 0.5,
        seed: 7,
        ..FractalNoise::default()
    }
}

#[divan::bench_group(name = "noise: 8 octaves, 1024²", sample_count = 10)]
mod noise {
    use super::*;

    fn ours(bencher: Bencher, basis: Basis, character: Character) {
        let noise = FractalNoise {
            basis,
            ..layered(character)
        };
        let frame = frame(CELLS);
        bencher
            .counter(ItemsCount::new(CELLS * CELLS))
            .bench(|| noise.fill(&frame, Run::to_the_end()));
    }

    const CELLULAR: Basis = Basis::Cellular {
        feature: CellFeature::Nearest,
        distance: CellDistance::Straight,
        complement: false,
    };

    #[divan::bench]
    fn gradient_fractal(bencher: Bencher) {
        ours(bencher, Basis::Gradient, Character::Fractal);
    }

    #[divan::bench]
    fn gradient_ridged(bencher: Bencher) {
        ours(bencher, Basis::Gradient, Character::Ridged);
    }

    #[divan::bench]
    fn gradient_hybrid(bencher: Bencher) {
        ours(bencher, Basis::Gradient, Character::Hybrid);
    }

    #[divan::bench]
    fn value_fractal(bencher: Bencher) {
        ours(bencher, Basis::Value, Character::Fractal);
    }

    #[divan::bench]
    fn simplex_fractal(bencher: Bencher) {
        ours(bencher, Basis::Simplex, Character::Fractal);
    }

    #[divan::bench]
    fn cellular_fractal(bencher: Bencher) {
        ours(bencher, CELLULAR, Character::Fractal);
    }

    /// The same number of samples and octaves from `fastnoise-lite`.
    fn yardstick(bencher: Bencher, kind: NoiseType, fractal: FractalType) {
        let mut noise = FastNoiseLite::with_seed(7);
        noise.set_noise_type(Some(kind));
        noise.set_fractal_type(Some(fractal));
        noise.set_fractal_octaves(Some(OCTAVES as i32));
        noise.set_frequency(Some((1.0 / FEATURE_M) as f32));
        let frame = frame(CELLS);
        bencher
            .counter(ItemsCount::new(CELLS * CELLS))
            .bench(|| -> Vec<f32> {
                (0..CELLS)
                    .flat_map(|r| (0..CELLS).map(move |c| (c, r)))
                    .map(|(c, r)| noise.get_noise_2d(frame.x_m(c) as f32, frame.y_m(r) as f32))
                    .collect()
            });
    }

    #[divan::bench]
    fn yardstick_gradient(bencher: Bencher) {
        yardstick(bencher, NoiseType::Perlin, FractalType::FBm);
    }

    #[divan::bench]
    fn yardstick_gradient_ridged(bencher: Bencher) {
        yardstick(bencher, NoiseType::Perlin, FractalType::Ridged);
    }

    #[divan::bench]
    fn yardstick_value(bencher: Bencher) {
        yardstick(bencher, NoiseType::Value, FractalType::FBm);
    }

    #[divan::bench]
    fn yardstick_simplex(bencher: Bencher) {
        yardstick(bencher, NoiseType::OpenSimplex2, FractalType::FBm);
    }

    #[divan::bench]
    fn yardstick_cellular(bencher: Bencher) {
        yardstick(bencher, NoiseType::Cellular, FractalType::FBm);
    }
}

#[divan::bench_group(name = "readings: 4096²", sample_count = 10)]
mod readings {
    use super::*;

    const SIDE: usize = 4096;

    /// Bytes that a reading must move at least: read once, write once.
    fn bytes() -> BytesCount {
        BytesCount::new(2 * SIDE * SIDE * size_of::<f32>())
    }

    #[divan::bench]
    fn plain_copy(bencher: Bencher) {
        let land = land(SIDE);
        bencher.counter(bytes()).bench(|| land.map(|height| height));
    }

    #[divan::bench]
    fn slope(bencher: Bencher) {
        let land = land(SIDE);
        bencher.counter(bytes()).bench(|| slope_deg(&land, 2.0));
    }

    #[divan::bench]
    fn aspect(bencher: Bencher) {
        let land = land(SIDE);
        bencher.counter(bytes()).bench(|| aspect_deg(&land, 2.0));
    }

    #[divan::bench]
    fn shaded(bencher: Bencher) {
        let land = land(SIDE);
        let sun = Sun {
            bearing_deg: 315.0,
            altitude_deg: 45.0,
        };
        bencher
            .counter(bytes())
            .bench(|| hillshade(&land, 2.0, sun, 1.0));
    }
}

#[divan::bench_group(name = "erosion: cells × iterations per second", sample_count = 5)]
mod erosion {
    use super::*;

    #[divan::bench(args = [512, 1024, 2048])]
    fn water(bencher: Bencher, cells: usize) {
        let (land, frame) = (land(cells), frame(cells));
        let level = Level {
            cell_m: frame.cell_m,
            iterations: 60,
        };
        bencher
            .counter(ItemsCount::new(cells * cells * level.iterations))
            .bench(|| {
                let (storm, country) = (Storm::default(), Country::default());
                let mut water = Water::on(&land, None, level.cell_m, storm, country);
                water
                    .run(level.iterations, Run::to_the_end())
                    .map(|()| water.stop())
            });
    }

    #[divan::bench]
    fn drain_1024(bencher: Bencher) {
        let land = land(CELLS);
        bencher
            .counter(ItemsCount::new(CELLS * CELLS))
            .bench(|| drain(&land, 0.0, Run::to_the_end()));
    }

    #[divan::bench]
    fn step_of_ages_1024(bencher: Bencher) {
        let law = AgeLaw {
            erodibility: 6e-6,
            area_exponent: 0.45,
            slope_exponent: 1.0,
            debris_m2: 0.0,
            directions: FlowDirections::Steepest,
            deposition: 0.7,
            floors_m: 60.0,
            fill_m: 0.0,
            terraces: 0.0,
            sea_takes: 0.0,
            diffusivity: 0.0,
            sea_level_m: 0.0,
        };
        let [rises, gives, stands] =
            [4e-4, 1.0, 0.7].map(|value| Grid::filled(CELLS, CELLS, value));
        bencher
            .counter(ItemsCount::new(CELLS * CELLS))
            .with_inputs(|| {
                let land = land(CELLS);
                let outlets = Outlets::low_border(&land, 0.0, Side::Anywhere);
                Aging::on(land, &frame(CELLS), outlets)
            })
            .bench_values(|mut aging| {
                let ground = Ground {
                    uplift: &rises,
                    erodibility: &gives,
                    critical_slope: &stands,
                };
                aging.step(ground, law, 1e4, Run::to_the_end())
            });
    }

    #[divan::bench]
    fn crumble_1024_20_steps(bencher: Bencher) {
        let (land, talus) = (land(CELLS), Grid::filled(CELLS, CELLS, 0.3));
        let level = Level {
            cell_m: 8.0,
            iterations: 20,
        };
        let crumbling = Crumbling {
            talus: &talus,
            sharpness: 0.5,
            cover: None,
        };
        bencher
            .counter(ItemsCount::new(CELLS * CELLS * level.iterations))
            .bench(|| crumble(&land, crumbling, level, Run::to_the_end()));
    }
}

#[divan::bench_group(name = "masks and ground: 1024²", sample_count = 5)]
mod ground {
    use super::*;

    #[divan::bench]
    fn sky_within_500_m(bencher: Bencher) {
        let margin = sight_margin(500.0, 8.0);
        let land = land(CELLS + 2 * margin);
        bencher.bench(|| sky_seen(&land, margin, 500.0, 8.0));
    }

    #[divan::bench]
    fn light_of_the_whole_land(bencher: Bencher) {
        let land = land(CELLS);
        let lighting = Lighting {
            sun: Sun {
                bearing_deg: 315.0,
                altitude_deg: 35.0,
            },
            sea_level_m: 0.0,
        };
        bencher.bench(|| light(&land, 8.0, lighting));
    }

    #[divan::bench]
    fn distance(bencher: Bencher) {
        let land = land(CELLS);
        let (low, high) = land.range();
        let high = low + 0.8 * (high - low);
        bencher.bench(|| distance_m(&land, |height| height > high, 8.0));
    }

    #[divan::bench]
    fn curvature(bencher: Bencher) {
        let land = land(CELLS);
        bencher.bench(|| curvature_per_km(&land, 8.0, Bend::Mean));
    }

    #[divan::bench]
    fn mask_grown_by_10_cells(bencher: Bencher) {
        let mask = land(CELLS).map(|height| (height / 1000.0).clamp(0.0, 1.0));
        bencher.bench(|| grown(&mask, 80.0, 8.0));
    }
}

/// Land of 1024 × 1024 cells as triangles: a budget, and a quarter of all of them.
#[divan::bench(args = [10_000, 100_000, 524_288], sample_count = 3)]
fn mesh_reduced(bencher: Bencher, most_triangles: usize) {
    let lattice = lattice(CELLS);
    let goal = Goal {
        most_triangles,
        error_m: 0.0,
        closed: false,
    };
    bencher
        .counter(ItemsCount::new(most_triangles))
        .bench_local(|| refined(&lattice, goal, Run::to_the_end()));
}

/// Every place of 1024 × 1024 cells, closed to a solid.
#[divan::bench(sample_count = 3)]
fn mesh_whole_and_closed(bencher: Bencher) {
    let lattice = lattice(CELLS);
    bencher
        .counter(ItemsCount::new(lattice.most_triangles()))
        .bench_local(|| closed(&lattice.whole(), -100.0));
}

fn lattice(cells: usize) -> Lattice {
    let frame = frame(cells);
    let extent = Extent {
        width_m: 8000.0,
        depth_m: 8000.0,
    };
    let noise = layered(Character::Fractal);
    let wide = noise.fill(&frame.grown(1), Run::to_the_end());
    let wide = wide.expect("nobody stops it").map(|v| 500.0 + 800.0 * v);
    Lattice::of(&wide, &frame, extent)
}
