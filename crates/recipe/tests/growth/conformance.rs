//! What every kind of step must keep to, by its own example.

use recipe::Grower;
use recipe::grow::NoAssets;
use recipe::steps::{example, kind_sheets};
use recipe::view::{View, picture};
use terrain::grid::halve;
use terrain::{Grid, Run};

use crate::support::{frame, grown};

/// Cells along the longer side of a coarse and of a fine grid.
const COARSE: usize = 128;
const FINE: usize = 512;

fn correlation(a: &Grid, b: &Grid) -> f64 {
    let n = a.values().len() as f64;
    let (mean_a, mean_b) = (a.sum() / n, b.sum() / n);
    let (mut ab, mut aa, mut bb) = (0.0, 0.0, 0.0);
    for (a, b) in a.values().iter().zip(b.values()) {
        let (a, b) = (f64::from(*a) - mean_a, f64::from(*b) - mean_b);
        (ab, aa, bb) = (ab + a * b, aa + a * a, bb + b * b);
    }
    ab / (aa * bb).sqrt()
}

/// Fine growth, averaged, is coarse growth: what a grid cannot carry must fade, and
/// processes must share their valleys.
#[test]
fn fine_growth_averaged_is_coarse_growth() {
    let mut faults = Vec::new();
    for sheet in kind_sheets() {
        let Some(recipe) = example(sheet.kind) else {
            continue;
        };
        let (coarse, fine) = (frame(&recipe, COARSE), frame(&recipe, FINE));
        let averaged = halve(&halve(&grown(&recipe, &fine)));
        let found = correlation(&averaged, &grown(&recipe, &coarse));
        println!("{:16} {found:.5}", sheet.kind);
        if found < 0.995 {
            faults.push(format!("{} {found:.4}", sheet.kind));
        }
    }
    assert!(faults.is_empty(), "correlations: {faults:?}");
}

/// Whoever looks at the small picture of a kind sees what it does.
#[test]
fn what_a_kind_does_is_seen_in_its_small_picture() {
    /// Cells along the longer side of the picture in the list of kinds.
    const CELLS: usize = 144;
    let mut faults = Vec::new();
    for sheet in kind_sheets() {
        let Some(recipe) = example(sheet.kind) else {
            continue;
        };
        let mut without = recipe.clone();
        let steps = &mut without.strands[0].steps;
        steps.last_mut().expect("the step that is shown").on = false;
        let drawn = |recipe| {
            let (grower, run) = (Grower::new(1 << 28), Run::to_the_end());
            let drawn = picture(&grower, recipe, &NoAssets, &View::of_land(CELLS), run);
            drawn.expect("it grows").colour
        };
        let (with, without) = (drawn(&recipe), drawn(&without));
        let pairs = with.values().iter().zip(without.values());
        let steps = pairs.map(|(a, b)| (0..3).map(|k| f64::from(a[k].abs_diff(b[k]))).sum::<f64>());
        let mean = steps.sum::<f64>() / (3 * with.values().len()) as f64;
        println!("{:16} {mean:.2} of 255", sheet.kind);
        if mean < 1.5 {
            faults.push(format!("{} {mean:.2}", sheet.kind));
        }
    }
    assert!(faults.is_empty(), "mean steps of 255: {faults:?}");
}
