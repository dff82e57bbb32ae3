//! Core samples and sheets.

use recipe::Grower;
use recipe::grow::NoAssets;
use recipe::view::{SheetError, Sweep, View, core_sample, shape_only, sheet, variants};
use serde_json::json;
use terrain::Run;

use crate::support::{demo, frame, grown};

#[test]
fn a_core_sample_adds_up_to_the_height_of_the_land() {
    let demo = demo();
    let land = grown(&demo, &frame(&demo, 192));
    let whole = frame(&demo, 192);
    let grower = Grower::new(1 << 28);
    for (x_m, y_m) in [(1000.0, 1000.0), (6100.0, 3900.0), (11_900.0, 7_900.0)] {
        let run = Run::to_the_end();
        let sample = core_sample(&grower, &demo, &NoAssets, 192, (x_m, y_m), run);
        let sample = sample.expect("grows").expect("on the land");
        let (c, r) = (
            whole.col_at(x_m).round() as usize,
            whole.row_at(y_m).round() as usize,
        );
        assert_eq!(sample.height_m.to_bits(), land.at(c, r).to_bits());
        let sum: f32 = sample.steps.iter().map(|step| step.change_m).sum();
        assert!(
            (sum - sample.height_m).abs() < 0.01,
            "{sum} m, the land is {} m",
            sample.height_m
        );
        let ground: f32 = sample.ground.iter().map(|ground| ground.weight).sum();
        assert!((ground - 1.0).abs() < 1e-5, "weights sum to {ground}");
        let rain = sample.steps.last().expect("rain");
        assert_eq!(rain.traces.len(), 5);
    }
    let run = Run::to_the_end();
    let beyond = core_sample(&grower, &demo, &NoAssets, 192, (-50.0, 10.0), run);
    assert_eq!(beyond.expect("grows"), None);
}

fn seeds(values: impl IntoIterator<Item = u32>) -> Sweep {
    Sweep {
        step: "massif".to_owned(),
        parameter: "seed".to_owned(),
        values: values.into_iter().map(|v| json!(v)).collect(),
    }
}

#[test]
fn a_sheet_has_every_combination_and_changes_nothing_else() {
    let demo = demo();
    let heights = Sweep {
        parameter: "height_m".to_owned(),
        values: vec![json!(300.0), json!(600.0)],
        ..seeds([])
    };
    let made = variants(&demo, &[seeds([1, 7, 9]), heights]).expect("valid");
    let values: Vec<_> = made.iter().map(|variant| variant.values.clone()).collect();
    assert_eq!(values[0], [json!(1), json!(300.0)]);
    assert_eq!(values[1], [json!(7), json!(300.0)]);
    assert_eq!(values[3], [json!(1), json!(600.0)]);
    assert_eq!(made.len(), 6);
    let as_it_is = variants(&demo, &[seeds([7])]).expect("valid");
    assert_eq!(as_it_is[0].recipe, demo);
}

#[test]
fn a_sheet_of_what_is_not_there_or_not_allowed_is_refused() {
    let demo = demo();
    let nowhere = Sweep {
        step: "nowhere".to_owned(),
        ..seeds([1])
    };
    assert!(matches!(
        variants(&demo, &[nowhere]),
        Err(SheetError::NoParameter { .. })
    ));
    let wild = Sweep {
        parameter: "octaves".to_owned(),
        values: vec![json!(400)],
        ..seeds([])
    };
    let said = variants(&demo, &[wild]).expect_err("too many").to_string();
    assert!(said.contains("Octaves is 400"), "{said}");
}

#[test]
fn variants_differ_and_are_drawn_as_the_land_would_be() {
    let demo = shape_only(&demo());
    let made = variants(&demo, &[seeds([7, 8])]).expect("valid");
    let grower = Grower::new(1 << 28);
    let view = View::of_land(64);
    let drawn = sheet(&grower, &made, &NoAssets, &view, Run::to_the_end());
    let drawn = drawn.expect("grows");
    assert_ne!(drawn[0], drawn[1]);
    let run = Run::to_the_end();
    let alone = recipe::view::picture(&grower, &demo, &NoAssets, &view, run);
    assert_eq!(drawn[0], alone.expect("grows").colour);
}
