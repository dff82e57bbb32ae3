//! How fast models of a land in full are written, without what grows them and without a disk.
//!
//! `cargo bench -p formats` prints bytes per second.

use divan::Bencher;
use divan::counter::BytesCount;
use formats::WriteError;
use formats::model::{Laid, Model, write_glb, write_obj, write_ply, write_stl};
use terrain::grid::with_apron;
use terrain::mesh::{Lattice, Mesh};
use terrain::noise::FractalNoise;
use terrain::{Extent, Frame, Run};

fn main() {
    divan::main();
}

const CELLS: usize = 1024;
const SIDE_M: f64 = 8000.0;

fn mesh() -> Mesh {
    let extent = Extent {
        width_m: SIDE_M,
        depth_m: SIDE_M,
    };
    let frame = Frame::with_cells(extent, CELLS);
    let noise = FractalNoise::default().fill(&frame, Run::to_the_end());
    let land = noise.expect("nobody stops it").map(|v| 800.0 * v);
    Lattice::of(&with_apron(&land), &frame, extent).whole()
}

/// Measures a writer that writes into memory which is there already.
fn written(bencher: Bencher, write: impl Fn(&mut Vec<u8>, &Model) -> Result<(), WriteError>) {
    let mesh = mesh();
    let model = Model {
        name: "land",
        mesh: &mesh,
        smooth: true,
        laid: Laid {
            west_north: [0.0, SIDE_M],
            reach: [SIDE_M; 2],
        },
        textures: None,
    };
    let mut out = Vec::new();
    write(&mut out, &model).expect("it fits");
    bencher.counter(BytesCount::new(out.len())).bench_local(|| {
        out.clear();
        write(&mut out, &model)
    });
}

#[divan::bench]
fn glb(bencher: Bencher) {
    written(bencher, |out, model| write_glb(out, model));
}

#[divan::bench]
fn ply(bencher: Bencher) {
    written(bencher, |out, model| write_ply(out, model));
}

#[divan::bench]
fn stl(bencher: Bencher) {
    written(bencher, |out, model| write_stl(out, model));
}

#[divan::bench(sample_count = 10)]
fn obj(bencher: Bencher) {
    written(bencher, |out, model| write_obj(out, model, "land.mtl"));
}
