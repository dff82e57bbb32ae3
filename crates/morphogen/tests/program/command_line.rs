//! Commands, their files and their exit codes.

use std::collections::BTreeMap;
use std::process::Command;

use serde_json::{Value, json};
use tempfile::TempDir;

use crate::support::{morphogen, path, repository, values};

/// Who reads only the beginning of what is printed is told nothing of it.
#[cfg(unix)]
#[test]
fn a_closed_pipe_ends_the_program_quietly() {
    let program = env!("CARGO_BIN_EXE_morphogen");
    let piped = format!("{program} schema | head -c 100");
    let ran = Command::new("sh").args(["-c", &piped]).output();
    let ran = ran.expect("a shell");
    assert_eq!(ran.stdout.len(), 100);
    assert_eq!(String::from_utf8_lossy(&ran.stderr), "");
}

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
    let steps = |recipe: &Value| recipe["strands"][0]["steps"].as_array().map(Vec::len);
    let again = recipe_of(out.path().join("recipe.json"));
    assert_eq!(steps(&again), steps(&recipe_of(demo)));
    assert!(steps(&again).is_some());
    assert!(!out.path().join("slope.tif").exists());
}

fn recipe_of(file: std::path::PathBuf) -> Value {
    serde_json::from_slice(&std::fs::read(file).expect("there")).expect("JSON")
}

/// What the page's shaders have in common with the core is made from it.
#[test]
fn the_shaders_constants_are_current() {
    let kept = std::fs::read(repository("web/src/api/shading.ts")).expect("there");
    let written = morphogen(&["schema", "--shading"]).stdout;
    assert!(kept == written, "renew it: ./renew");
}

/// The reference in docs and every one of its pictures, byte for byte.
#[test]
fn the_reference_in_docs_is_as_the_program_writes_it() {
    let out = TempDir::new().expect("a folder");
    let written = morphogen(&["reference", "--out", path(out.path())]);
    assert!(written.status.success());
    let files = |folder: &std::path::Path| -> BTreeMap<String, Vec<u8>> {
        let entries = std::fs::read_dir(folder).expect("a folder");
        entries
            .map(|entry| entry.expect("a file"))
            .map(|entry| {
                let bytes = std::fs::read(entry.path()).expect("read");
                (entry.file_name().to_string_lossy().into_owned(), bytes)
            })
            .collect()
    };
    let (new, kept) = (files(out.path()), files(&repository("docs/reference")));
    let names = |all: &BTreeMap<String, Vec<u8>>| all.keys().cloned().collect::<Vec<_>>();
    assert_eq!(names(&new), names(&kept), "renew it: ./renew");
    for (name, bytes) in new {
        assert!(kept[&name] == bytes, "{name} is stale; renew it: ./renew");
    }
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
    assert!(String::from_utf8_lossy(&refused.stderr).contains("“name” is missing"));

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
    let covers = recipe_of(demo.clone())["covers"].clone();
    let names = covers.as_array().expect("covers").iter();
    let mut names = names.filter_map(|cover| cover["name"].as_str());
    assert!(
        names.any(|name| said.contains(&format!(" % {name} (mask"))),
        "{said}"
    );

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
    // The real lands obey the laws, or they would not be measured rightly.
    for land in [1, 2] {
        let within = |law: &str, low: f64, high: f64| {
            let measure = measure(&said, law, land);
            assert!((low..=high).contains(&measure), "{law}: {said}");
        };
        within("Hack's exponent", 0.5, 0.65);
        within("Bifurcation ratio", 3.0, 5.0);
        within("Length ratio", 1.5, 3.5);
        within("Concavity", 0.35, 0.8);
        within("… how unevenly", 0.6, 1.2);
    }
}

/// The measures of a law, which stand behind its name: of the land itself and of real ones.
fn measure(said: &str, law: &str, which: usize) -> f64 {
    let line = said.lines().find(|line| line.starts_with(law));
    let measures: String = line.expect("a line").chars().skip(32).collect();
    let word = measures.split_whitespace().nth(which);
    word.and_then(|word| word.parse().ok()).expect("a number")
}

/// An elevation model is measured as it is: the one that ships is itself beside itself.
#[test]
fn an_elevation_model_is_measured_beside_real_land() {
    let model = repository("crates/formats/tests/data/conception.tif");
    let done = morphogen(&["survey", path(&model), "--geomorphology", "--sea-m", "0.5"]);
    let said = String::from_utf8_lossy(&done.stdout).into_owned();
    assert!(done.status.success(), "{:?}", done.stderr);
    for law in [
        "Hack's exponent",
        "Mean slope",
        "Side valleys apart",
        "Skew",
    ] {
        assert_eq!(measure(&said, law, 0), measure(&said, law, 2), "{said}");
    }
    let refused = |arguments: &[&str], why: &str| {
        let done = morphogen(&[&["survey"], arguments].concat());
        let said = String::from_utf8_lossy(&done.stderr).into_owned();
        assert_eq!(done.status.code(), Some(2), "{said}");
        assert!(said.contains(why), "{said}");
    };
    refused(&[path(&model)], "--geomorphology");
    let demo = repository("demo/hollin-fjord.json");
    refused(&[path(&demo), "--sea-m", "2"], "its own sea level");
    refused(&["no-such.tif", "--geomorphology"], "cannot read");
}

/// What is written is what the suffix says; what cannot be said is refused.
#[test]
fn readings_are_written_as_their_suffix_says() {
    let folder = TempDir::new().expect("a folder");
    let model = repository("crates/formats/tests/data/jacksboro.tif");
    let file = |name: &str| folder.path().join(name);
    let read = |reading: &str, name: &str| {
        let done = morphogen(&[
            "read",
            reading,
            path(&model),
            path(&file(name)),
            "--cell",
            "90",
        ]);
        (
            done.status.code(),
            String::from_utf8_lossy(&done.stderr).into_owned(),
        )
    };
    for (reading, name, magic) in [
        ("hillshade", "a.tif", &b"II*\0"[..]),
        ("hillshade", "a.png", b"\x89PNG"),
        ("slope", "b.tif", b"II*\0"),
        ("aspect", "c.TIFF", b"II*\0"),
    ] {
        assert_eq!(read(reading, name).0, Some(0), "{name}");
        assert!(
            std::fs::read(file(name))
                .expect("written")
                .starts_with(magic),
            "{name}"
        );
    }
    let (picture, georeferenced) = (values(&file("a.png")), values(&file("a.tif")));
    assert_eq!(picture, georeferenced, "the same shades");
    for (reading, name) in [("slope", "d.png"), ("aspect", "e.jpg"), ("hillshade", "f")] {
        let (code, said) = read(reading, name);
        assert_eq!(code, Some(2), "{name}");
        assert!(said.contains(".tif"), "{said}");
        assert!(!file(name).exists());
    }
}

/// A picture of 16,384² blank cells is a quarter of a megabyte; read row by row it is
/// in memory once as floats, and once as the reading.
#[test]
fn a_large_picture_takes_no_more_memory_than_its_values() {
    let folder = TempDir::new().expect("a folder");
    let blank = folder.path().join("blank.png");
    let file = std::fs::File::create(&blank).expect("a file");
    let side = 8_192;
    let mut rows =
        formats::PngRows::begin(file, formats::PixelKind::Grey8, side, side).expect("begun");
    for _ in 0..side {
        rows.push(&vec![0; side]).expect("a row");
    }
    rows.finish().expect("a picture");
    let out = folder.path().join("slope.tif");
    let program = env!("CARGO_BIN_EXE_morphogen");
    // Address space is bounded by the shell: 4 bytes a cell for each of the values,
    // the values with an apron and the slope, and a gigabyte for the program.
    let limit_kib = 3 * side * side * 4 / 1024 + (1 << 20);
    let command = format!(
        "ulimit -v {limit_kib}; exec '{program}' read slope '{}' '{}' --cell 1 --black-m 0 --white-m 255",
        blank.display(),
        out.display()
    );
    let done = std::process::Command::new("sh")
        .args(["-c", &command])
        .output();
    let done = done.expect("it runs");
    assert!(
        done.status.success(),
        "{}",
        String::from_utf8_lossy(&done.stderr)
    );
    assert!(values(&out).values().iter().all(|slope| *slope == 0.0));
}

#[test]
fn what_takes_too_much_is_refused_by_name() {
    let folder = TempDir::new().expect("a folder");
    let demo = std::fs::read_to_string(repository("demo/hollin-fjord.json")).expect("there");
    let fine = folder.path().join("fine.json");
    let mut recipe: Value = serde_json::from_str(&demo).expect("JSON");
    let steps = recipe["strands"][0]["steps"].as_array_mut().expect("steps");
    let water = steps
        .iter_mut()
        .find_map(|step| step["do"].get_mut("water"))
        .expect("the demo has running water");
    water["scale_m"] = serde_json::json!(0.1);
    std::fs::write(&fine, recipe.to_string()).expect("written");
    let grown = morphogen(&[
        "grow",
        path(&fine),
        "--cells",
        "64",
        "--out",
        path(folder.path()),
    ]);
    assert_eq!(grown.status.code(), Some(2));
    let said = String::from_utf8_lossy(&grown.stderr).into_owned();
    assert!(
        said.contains("scale_m is 0.1") && said.contains("nearest value that fits"),
        "{said}"
    );
    let demo = repository("demo/hollin-fjord.json");
    let little = [
        "grow",
        path(&demo),
        "--cells",
        "4096",
        "--work-memory",
        "16",
    ];
    let grown = morphogen(&[&little[..], &["--out", path(folder.path())]].concat());
    let said = String::from_utf8_lossy(&grown.stderr).into_owned();
    assert_eq!(grown.status.code(), Some(2), "{said}");
    assert!(
        said.contains("cells along the longer side would fit") || said.contains("nearest"),
        "{said}"
    );
}

/// What changed between two recipes is told in words and as a patch that makes one of the
/// other (applied here), and where the lands differ in metres.
#[test]
fn two_recipes_are_compared() {
    let folder = TempDir::new().expect("a folder");
    let demo = repository("demo/hollin-fjord.json");
    let text = std::fs::read_to_string(&demo).expect("reads");
    let mut document: Value = serde_json::from_str(&text).expect("JSON");
    let higher = json!({ "id": "rise", "name": "Higher ground", "do": { "rescale": { "to_low_m": 25.0, "to_high_m": 1025.0 } } });
    let steps = document["strands"]
        .as_array_mut()
        .and_then(|strands| strands.iter_mut().find(|strand| strand["name"] == "land"))
        .and_then(|land| land["steps"].as_array_mut());
    steps.expect("steps of the land").push(higher);
    let changed = folder.path().join("higher.json");
    std::fs::write(&changed, document.to_string()).expect("writes");
    let out = folder.path().join("difference.tif");
    let compared = |more: &[&str]| {
        let mut arguments = vec!["diff", path(&demo), path(&changed), "--cells", "64"];
        arguments.extend(more);
        let output = morphogen(&arguments);
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert!(output.status.success(), "{said}");
        String::from_utf8(output.stdout).expect("text")
    };
    let words = compared(&["--out", path(&out)]);
    assert!(words.contains("Higher ground"), "{words}");
    assert!(words.contains("over 100.0 % of it by 25.00 m"), "{words}");
    let (low, high) = values(&out).range();
    assert!(
        (low - 25.0).abs() < 1e-3 && (high - 25.0).abs() < 1e-3,
        "{low} to {high}"
    );
    let report: Value = serde_json::from_str(&compared(&["--report", "json"])).expect("JSON");
    assert!((report["land"]["rms_m"].as_f64().expect("a number") - 25.0).abs() < 1e-3);
    let operations = report["patch"].as_array().expect("a patch");
    assert!(
        operations.iter().all(|operation| operation["op"] == "add"),
        "{operations:?}"
    );
    let same = morphogen(&["diff", path(&demo), path(&demo), "--documents"]);
    assert_eq!(
        String::from_utf8_lossy(&same.stdout),
        "The recipes are the same.\n"
    );
}

/// A recipe comes in by standard input, shells are told the options, and there is a page of
/// the manual for each command.
#[test]
fn the_program_goes_well_with_a_shell() {
    let demo = std::fs::File::open(repository("demo/hollin-fjord.json")).expect("opens");
    let folder = TempDir::new().expect("a folder");
    let out = folder.path().join("land.stl");
    let piped = Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(["mesh", "-", "--cells", "48", "--out", path(&out)])
        .stdin(demo)
        .output()
        .expect("it runs");
    assert!(
        piped.status.success(),
        "{}",
        String::from_utf8_lossy(&piped.stderr)
    );
    assert!(out.exists());
    for shell in ["bash", "zsh", "fish"] {
        let told = morphogen(&["completions", shell]);
        let told = String::from_utf8(told.stdout).expect("text");
        assert!(
            told.contains("error-m") && told.contains("geomorphology"),
            "{shell}"
        );
    }
    let pages = folder.path().join("man");
    assert!(morphogen(&["man", "--out", path(&pages)]).status.success());
    for command in ["grow", "mesh", "read", "survey", "explain", "diff", "serve"] {
        let page = std::fs::read_to_string(pages.join(format!("morphogen-{command}.1")));
        let page = page.unwrap_or_else(|error| panic!("{command}: {error}"));
        assert!(page.contains(".SH OPTIONS"), "{command}");
    }
}
