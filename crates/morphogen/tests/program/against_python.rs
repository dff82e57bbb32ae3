//! Our computations against general-purpose Python libraries.

use formats::{Limits, read_heightfield};
use terrain::erosion::{drain, nature};
use terrain::mask::grown;
use terrain::noise::{Character, FractalNoise};
use terrain::reading::distance_m;
use terrain::shape::blurred_to_the_edge;
use terrain::{Extent, Frame, Grid, Run};

use crate::support::{path, repository, run};

/// What `reference.py` makes of a grid.
fn reference(what: &str, grid: &Grid, numbers: &[f64]) -> Grid {
    let folder = tempfile::tempdir().expect("a folder");
    let (input, output) = (folder.path().join("in"), folder.path().join("out"));
    let bytes: Vec<u8> = grid.values().iter().flat_map(|v| v.to_le_bytes()).collect();
    std::fs::write(&input, bytes).expect("writes");
    let script = repository("crates/morphogen/tests/program/reference.py");
    let (cols, rows) = (grid.cols().to_string(), grid.rows().to_string());
    let numbers: Vec<String> = numbers.iter().map(f64::to_string).collect();
    let mut arguments = vec![
        path(&script),
        what,
        &cols,
        &rows,
        path(&input),
        path(&output),
    ];
    arguments.extend(numbers.iter().map(String::as_str));
    // Installed by ./check.
    run(path(&repository("var/reference/bin/python")), &arguments);
    let bytes = std::fs::read(&output).expect("the reference wrote");
    let values = bytes
        .chunks_exact(4)
        .map(|b| f32::from_le_bytes([b[0], b[1], b[2], b[3]]));
    Grid::from_vec(grid.cols(), grid.rows(), values.collect()).expect("as large as before")
}

fn real_land() -> Grid {
    let file = std::fs::read(repository("crates/formats/tests/data/jacksboro.tif"));
    let read = read_heightfield(&file.expect("reads")[..], Limits::default());
    read.expect("a heightfield").values
}

fn generated_land(seed: u32) -> Grid {
    let extent = Extent {
        width_m: 6000.0,
        depth_m: 4000.0,
    };
    let noise = FractalNoise {
        character: Character::Billow,
        feature_m: 1500.0,
        octaves: 8.0,
        seed,
        ..FractalNoise::default()
    };
    let frame = Frame::with_cells(extent, 400);
    noise
        .fill(&frame, Run::to_the_end())
        .expect("nobody cancels")
        .map(|v| 300.0 * v)
}

fn worst(ours: &Grid, theirs: &Grid) -> f32 {
    ours.zip_map(theirs, |a, b| (a - b).abs()).range().1
}

/// Filled hollows are those of scikit-image's morphological reconstruction by
/// erosion (Robinson and Whelan 2004), on real and on generated land.
#[test]
fn hollows_fill_as_scikit_image_fills_them() {
    let lands = [real_land(), generated_land(1), generated_land(2)];
    for land in lands {
        let drainage = drain(&land, f32::NEG_INFINITY, Run::to_the_end());
        let ours = drainage.expect("nobody cancels").filled;
        let raised = ours.zip_map(&land, |filled, land| filled - land);
        assert!(raised.range().1 > 0.0, "this land has hollows");
        assert_eq!(worst(&ours, &reference("fill", &land, &[])), 0.0);
    }
}

/// Distances are those of SciPy's exact Euclidean transform, and masks grow as
/// its grey dilation by a disc does.
#[test]
fn distances_and_grown_masks_are_those_of_scipy() {
    let land = real_land();
    let high = land.range().0 + 0.75 * (land.range().1 - land.range().0);
    let there = land.map(|height| f32::from(height > high));
    let ours = distance_m(&there, |v| v > 0.5, 30.0);
    let theirs = reference("distance", &there, &[30.0]);
    assert!(worst(&ours, &theirs) <= 1e-3, "{} m", worst(&ours, &theirs));

    let soft = land.map(|height| (height / land.range().1).clamp(0.0, 1.0));
    let ours = grown(&soft, 75.0, 10.0);
    let theirs = reference("grow", &soft, &[7.5]);
    let theirs = theirs.cropped(7, 7, ours.cols(), ours.rows());
    assert_eq!(worst(&ours, &theirs), 0.0);
}

/// Blurs are SciPy's Gaussian filter: near ones but for what is beyond three standard
/// deviations, where ours end; wide ones, which are taken on
/// halved grids, within a hundredth of the land's range.
#[test]
fn blurs_are_those_of_scipy() {
    let land = real_land();
    let range = land.range().1 - land.range().0;
    for (cells, share) in [(0.8, 4e-3), (3.0, 4e-3), (9.5, 4e-3), (30.0, 1e-2)] {
        let ours = blurred_to_the_edge(&land, cells * 30.0, 30.0);
        let theirs = reference("blur", &land, &[cells]);
        let worst = worst(&ours, &theirs) / range;
        assert!(worst < share, "{worst} of the range at {cells} cells");
    }
}

/// What docs/NATURE.md says of land beside real land is what NumPy and SciPy say of it:
/// slopes (Horn 1981), harmonics of the aspect, the border (`ks_2samp`), skewness of the
/// Laplacian, and roughness from the variogram.
#[test]
fn measures_of_land_are_those_of_numpy_and_scipy() {
    let cell_m = 30.0;
    let names = [
        "mean slope",
        "steep slope",
        "four ways",
        "eight ways",
        "border",
        "border apart",
        "skew",
        "spectrum",
    ];
    for land in [real_land(), generated_land(3)] {
        let measured = nature(&land, cell_m, f32::NEG_INFINITY, Run::to_the_end());
        let measured = measured.expect("nobody cancels");
        let surface = measured.surface;
        let ours = [
            surface.slope_mean_deg,
            surface.slope_steep_deg,
            surface.four_ways,
            surface.eight_ways,
            surface.border,
            surface.border_apart,
            surface.skew,
            measured.spectrum.expect("there is enough of it"),
        ];
        let theirs = reference("likeness", &land, &[cell_m]);
        for ((name, ours), theirs) in names.iter().zip(ours).zip(theirs.values()) {
            let theirs = f64::from(*theirs);
            let near = (ours - theirs).abs() < 2e-3 * theirs.abs().max(0.1);
            assert!(near, "{name}: {ours}, NumPy and SciPy have {theirs}");
        }
    }
}
