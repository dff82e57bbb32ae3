//! Commands, their files and their exit codes.

use serde_json::Value;
use tempfile::TempDir;

use crate::support::{morphogen, path, repository, values};

#[test]
fn grow_writes_the_files_that_were_asked_for() {
    let out = TempDir::new().expect("a folder");
    let demo = repository("demo/hollin-fjord.json");
    let grown = morphogen(&[
        "grow",
        path(&demo),
        "--cells",
        "128",
        "--out",
        path(out.path()),
        "--only",
        "height,height16,weights,recipe",
    ]);
    assert!(
        grown.status.success(),
        "{}",
        String::from_utf8_lossy(&grown.stderr)
    );
    let side: Value =
        serde_json::from_slice(&std::fs::read(out.path().join("height.json")).expect("there"))
            .expect("JSON");
    let (heights, steps) = (
        values(&out.path().join("height.tif")),
        values(&out.path().join("height.png")),
    );
    let (black, white) = (
        side["black_m"].as_f64().expect("a number"),
        side["white_m"].as_f64().expect("a number"),
    );
    let step_m = (white - black) / 65_535.0;
    for (height, step) in heights.values().iter().zip(steps.values()) {
        let from_picture = black + f64::from(*step) * step_m;
        assert!((from_picture - f64::from(*height)).abs() <= 0.51 * step_m);
    }
    let again = recipe_of(out.path().join("recipe.json"));
    assert_eq!(
        again["strands"][0]["steps"]
            .as_array()
            .expect("steps")
            .len(),
        5
    );
    assert!(!out.path().join("slope.tif").exists());
}

fn recipe_of(file: std::path::PathBuf) -> Value {
    serde_json::from_slice(&std::fs::read(file).expect("there")).expect("JSON")
}

#[test]
fn the_same_recipe_gives_the_same_bits_on_any_number_of_threads() {
    let out = TempDir::new().expect("a folder");
    let demo = repository("demo/hollin-fjord.json");
    let grow = |threads: &str| {
        let dir = out.path().join(threads);
        let done = morphogen(&[
            "grow",
            path(&demo),
            "--cells",
            "200",
            "--out",
            path(&dir),
            "--threads",
            threads,
        ]);
        assert!(done.status.success());
        dir
    };
    let (one, three) = (grow("1"), grow("3"));
    for entry in std::fs::read_dir(&one).expect("files") {
        let name = entry.expect("a file").file_name();
        let bytes = |dir: &std::path::Path| std::fs::read(dir.join(&name)).expect("the file");
        assert!(bytes(&one) == bytes(&three), "{} differs", name.display());
    }
}

#[test]
fn exit_codes_tell_what_kind_of_trouble_it_was() {
    let out = TempDir::new().expect("a folder");
    let bad = out.path().join("bad.json");
    std::fs::write(&bad, "{ \"version\": 1 }").expect("written");
    let refused = morphogen(&["grow", path(&bad), "--out", path(out.path())]);
    assert_eq!(refused.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&refused.stderr).contains("missing field `name`"));

    assert_eq!(morphogen(&["grow"]).status.code(), Some(2));
    let missing = morphogen(&["read", "slope", "/nowhere.tif", "/nowhere/out.tif"]);
    assert_eq!(missing.status.code(), Some(2));
    let demo = repository("demo/hollin-fjord.json");
    let blocked = morphogen(&[
        "grow",
        path(&demo),
        "--cells",
        "16",
        "--out",
        "/proc/nowhere",
    ]);
    assert_eq!(blocked.status.code(), Some(1));

    let help = morphogen(&["--help"]);
    assert!(String::from_utf8_lossy(&help.stdout).contains("Exit codes"));
    let schema: Value = serde_json::from_slice(&morphogen(&["schema"]).stdout).expect("JSON");
    assert_eq!(schema["title"], "Recipe");
}

#[test]
fn a_real_elevation_model_is_eroded_covered_and_written() {
    let folder = TempDir::new().expect("a folder");
    std::fs::copy(
        repository("crates/formats/tests/data/jacksboro.tif"),
        folder.path().join("jacksboro.tif"),
    )
    .expect("copied");
    let recipe = serde_json::json!({
        "version": 1, "name": "Fault", "extent": { "width_m": 30000, "depth_m": 32000 },
        "sea_level_m": -100,
        "strands": [{ "name": "land", "steps": [
            { "id": "dem", "name": "Model",
              "do": { "heightfield": { "asset": "jacksboro.tif", "scale": 1 } } },
            { "id": "rain", "name": "Rain", "do": { "water": { "scale_m": 250, "duration": 60 } } }
        ] }],
        "covers": [
            { "id": "rock", "name": "Rock", "colour": "#777777" },
            { "id": "silt", "name": "Silt", "colour": "#998866",
              "mask": { "terms": [{ "of": { "trace": "deposit" }, "from": 0.2, "soft_from": 0.2 }] } }
        ]
    });
    let file = folder.path().join("fault.json");
    std::fs::write(&file, recipe.to_string()).expect("written");
    let out = folder.path().join("out");
    let grown = morphogen(&["grow", path(&file), "--cells", "256", "--out", path(&out)]);
    assert!(
        grown.status.success(),
        "{}",
        String::from_utf8_lossy(&grown.stderr)
    );
    let heights = values(&out.join("height.tif"));
    assert_eq!((heights.cols(), heights.rows()), (240, 256));
    let (low, high) = heights.range();
    assert!(low > 150.0 && high < 1090.0, "{low} to {high}");
}

#[test]
fn explain_prints_a_log_whose_steps_add_up() {
    let demo = repository("demo/hollin-fjord.json");
    let log = morphogen(&[
        "explain",
        path(&demo),
        "--at",
        "6000,4000",
        "--cells",
        "128",
    ]);
    let said = String::from_utf8_lossy(&log.stdout).into_owned();
    assert!(
        log.status.success(),
        "{}",
        String::from_utf8_lossy(&log.stderr)
    );
    let first = said.lines().nth(1).expect("a step");
    assert!(
        first.contains("Ten thousand years of rain"),
        "the newest on top: {first}"
    );
    assert!(said.contains("Gneiss") || said.contains("Heath"), "{said}");

    let json = morphogen(&["explain", path(&demo), "--at", "6000,4000", "--json"]);
    let sample: Value = serde_json::from_slice(&json.stdout).expect("JSON");
    let steps = sample["steps"].as_array().expect("steps");
    let sum: f64 = steps.iter().filter_map(|s| s["change_m"].as_f64()).sum();
    assert!((sum - sample["height_m"].as_f64().expect("a height")).abs() < 0.05);

    for (place, said) in [("60000,10", "is not on it"), ("here", "two numbers")] {
        let refused = morphogen(&["explain", path(&demo), "--at", place]);
        assert_eq!(refused.status.code(), Some(2), "{place}");
        let error = String::from_utf8_lossy(&refused.stderr).into_owned();
        assert!(error.contains(said), "{error}");
    }
}

#[test]
fn survey_measures_the_laws_of_drainage_basins_beside_real_land() {
    let demo = repository("demo/hollin-fjord.json");
    let done = morphogen(&["survey", path(&demo), "--geomorphology", "--cells", "512"]);
    let said = String::from_utf8_lossy(&done.stdout).into_owned();
    assert!(
        done.status.success(),
        "{}",
        String::from_utf8_lossy(&done.stderr)
    );
    assert!(said.contains("Nothing to point out"), "{said}");
    // The real land obeys the laws, or they would not be measured rightly.
    let real = |law: &str| -> f64 {
        let line = said.lines().find(|line| line.starts_with(law));
        // Behind the name: the land's own measure, which may be missing, and
        // that of the real land.
        let measures: String = line.expect("a line").chars().skip(32).collect();
        let second = measures.split_whitespace().nth(1);
        second.and_then(|word| word.parse().ok()).expect("a number")
    };
    assert!((0.5..=0.65).contains(&real("Hack's exponent")), "{said}");
    assert!((3.0..=5.0).contains(&real("Bifurcation ratio")), "{said}");
    assert!((1.5..=3.5).contains(&real("Length ratio")), "{said}");
}
