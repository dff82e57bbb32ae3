//! Meshes, opened by other software: trimesh, and Khronos' validator of glTF.

use std::path::Path;

use serde_json::Value;

use crate::support::{morphogen, path, repository, run};

const FORMATS: [&str; 4] = ["glb", "obj", "ply", "stl"];

/// Runs `morphogen mesh` on the demo; its report.
fn made(out: &Path, options: &[&str]) -> Value {
    made_on("96", out, options)
}

/// The same on so many cells.
fn made_on(cells: &str, out: &Path, options: &[&str]) -> Value {
    let demo = repository("demo/hollin-fjord.json");
    let mut arguments = vec!["mesh", path(&demo), "--cells", cells, "--report", "json"];
    arguments.extend(options);
    arguments.extend(["--out", path(out)]);
    let output = morphogen(&arguments);
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{options:?}: {said}");
    serde_json::from_slice(&output.stdout).expect("JSON")
}

/// What trimesh finds in files.
fn read(files: &[&Path]) -> Vec<Value> {
    let script = repository("crates/morphogen/tests/program/meshes.py");
    let mut arguments = vec![path(&script)];
    arguments.extend(files.iter().map(|file| path(file)));
    let python = repository("var/reference/bin/python");
    serde_json::from_str(&run(path(&python), &arguments)).expect("JSON")
}

/// Fails when the validator has an error or a warning.
fn is_valid_gltf(file: &Path) -> Value {
    let script = repository("web/scripts/validate-gltf.mjs");
    let said: Value =
        serde_json::from_str(&run("node", &[path(&script), path(file)])).expect("JSON");
    let issues = &said["issues"];
    assert_eq!(
        (&issues["numErrors"], &issues["numWarnings"]),
        (&0.into(), &0.into()),
        "{issues:#}"
    );
    said["info"].clone()
}

fn number(value: &Value) -> f64 {
    value
        .as_f64()
        .unwrap_or_else(|| panic!("{value} is no number"))
}

/// A solid is closed in every format, keeps its budget, and holds what the report says.
#[test]
fn a_solid_is_closed_for_trimesh_too() {
    let folder = tempfile::tempdir().expect("a folder");
    let files = FORMATS.map(|format| folder.path().join(format!("land.{format}")));
    let options = ["--triangles", "3000", "--solid", "--thickness-m", "400"];
    let reports = files
        .each_ref()
        .map(|file| made(file, &options)["meshes"][0].clone());
    let found = read(&files.each_ref().map(|file| file.as_path()));
    for (report, found) in reports.iter().zip(&found) {
        assert_eq!(found["watertight"], true, "{found}");
        assert_eq!(found["consistent"], true, "{found}");
        assert_eq!(found["euler"], 2, "{found}");
        assert_eq!(found["triangles"], report["triangles"]);
        assert_eq!(report["open_edges"], 0);
        assert!(number(&found["triangles"]) <= 3000.0 && number(&found["triangles"]) > 2900.0);
        let volume = number(&found["volume"]) / number(&report["volume"]);
        assert!((volume - 1.0).abs() < 1e-4, "{found} of {report}");
        let size = [0, 1, 2].map(|axis| number(&found["high"][axis]) - number(&found["low"][axis]));
        assert_eq!(size[0], 12_000.0);
        // In glTF, y is up and z goes south.
        assert_eq!(
            if report["file"] == "land.glb" {
                size[2]
            } else {
                size[1]
            },
            8_000.0
        );
    }
    is_valid_gltf(&files[0]);
}

/// A print has the size that was asked for, in millimetres.
#[test]
fn a_print_is_in_millimetres() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("print.stl");
    let report = made(&file, &["--solid", "--print-mm", "180", "--whole"]);
    let found = &read(&[&file])[0];
    assert_eq!(found["watertight"], true);
    let side = |axis: usize| number(&found["high"][axis]) - number(&found["low"][axis]);
    assert!(
        (side(0) - 180.0).abs() < 1e-3 && (side(1) - 120.0).abs() < 1e-3,
        "{found}"
    );
    let volume = number(&found["volume"]) / number(&report["meshes"][0]["volume"]);
    assert!((volume - 1.0).abs() < 1e-4);
}

/// Levels, tiles, textures, faces and repeats are glTF without an error or a warning.
#[test]
fn every_kind_of_glb_is_valid() {
    let folder = tempfile::tempdir().expect("a folder");
    let cases: [&[&str]; 5] = [
        &["--levels", "3", "--ratio", "0.5"],
        &["--tile", "48", "--error-m", "20"],
        &["--textures", "32", "--triangles", "500"],
        &[
            "--faceted",
            "--textures",
            "32",
            "--triangles",
            "500",
            "--solid",
        ],
        &["--repeat-m", "25", "--whole"],
    ];
    let mut valid = 0;
    for (case, options) in cases.iter().enumerate() {
        let report = made(&folder.path().join(format!("case-{case}.glb")), options);
        let meshes = report["meshes"].as_array().expect("meshes");
        for mesh in meshes {
            let file = folder.path().join(mesh["file"].as_str().expect("a name"));
            let info = is_valid_gltf(&file);
            assert_eq!(info["totalTriangleCount"], mesh["triangles"]);
            let pictures = info["resources"].as_array().map_or(0, |all| {
                all.iter()
                    .filter(|resource| resource["mimeType"] == "image/png")
                    .count()
            });
            assert_eq!(
                pictures,
                if options.contains(&"--textures") {
                    3
                } else {
                    0
                }
            );
            valid += 1;
        }
        match case {
            0 => assert_eq!(meshes.len(), 3),
            1 => assert_eq!(meshes.len(), 4, "96 × 64 cells"),
            _ => assert_eq!(meshes.len(), 1),
        }
    }
    assert_eq!(valid, 10);
    let textured = folder.path().join("case-2.glb");
    assert_eq!(read(&[&textured])[0]["textured"], true);
}

/// What cannot be is refused by name, with exit code 2, and nothing is written.
#[test]
fn what_cannot_be_ordered_is_refused() {
    let folder = tempfile::tempdir().expect("a folder");
    let demo = repository("demo/hollin-fjord.json");
    let cases: [(&[&str], &str, &str); 7] = [
        (
            &["--solid", "--tile", "32"],
            "a.glb",
            "a solid has no tiles",
        ),
        (
            &["--solid", "--triangles", "5"],
            "a.glb",
            "triangles is 5, allowed is 14",
        ),
        (&["--ratio", "1.5"], "a.glb", "ratio is 1.5"),
        (&["--error-m", "nan"], "a.glb", "error_m is NaN"),
        (&["--textures", "32"], "a.obj", "only GLB has textures"),
        (
            &["--ratio", "0.5", "--triangles", "10"],
            "a.glb",
            "cannot be used with",
        ),
        (&[], "a.abc", "expected one of .glb"),
    ];
    for (options, name, reason) in cases {
        let out = folder.path().join(name);
        let mut arguments = vec!["mesh", path(&demo), "--cells", "32", "--out", path(&out)];
        arguments.extend(options);
        let output = morphogen(&arguments);
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert_eq!(output.status.code(), Some(2), "{options:?}: {said}");
        assert!(said.contains(reason), "{options:?}: {said}");
    }
    // What would take too much memory is told before anything is grown, with what would fit.
    let out = folder.path().join("a.glb");
    let refused = |options: &[&str]| {
        let mut arguments = vec![
            "mesh",
            path(&demo),
            "--out",
            path(&out),
            "--work-memory",
            "32",
        ];
        arguments.extend(options);
        let output = morphogen(&arguments);
        assert_eq!(output.status.code(), Some(2), "{options:?}");
        String::from_utf8_lossy(&output.stderr).into_owned()
    };
    let said = refused(&["--cells", "16384", "--whole"]);
    assert!(
        said.contains("16384 × 10923 cells take") && said.contains("fewer cells"),
        "{said}"
    );
    let said = refused(&["--cells", "1024", "--triangles", "1000000"]);
    assert!(said.contains("triangles at most"), "{said}");
    // So it is with `grow`, which writes the same.
    let into = folder.path().join("never");
    let arguments = ["grow", path(&demo), "--only", "mesh", "--cells", "16384"];
    let arguments = [
        &arguments[..],
        &["--work-memory", "32", "--out", path(&into)],
    ]
    .concat();
    assert_eq!(morphogen(&arguments).status.code(), Some(2));
    assert_eq!(
        std::fs::read_dir(folder.path())
            .expect("it is there")
            .count(),
        0
    );
}

/// `grow --only mesh` writes the same as `mesh` with nothing said.
#[test]
fn growing_writes_the_same_mesh() {
    let folder = tempfile::tempdir().expect("a folder");
    made(&folder.path().join("land.glb"), &[]);
    let grown = folder.path().join("grown");
    let demo = repository("demo/hollin-fjord.json");
    let arguments = [
        "grow",
        path(&demo),
        "--cells",
        "96",
        "--only",
        "mesh",
        "--out",
        path(&grown),
    ];
    assert!(morphogen(&arguments).status.success());
    let bytes = |file: &Path| std::fs::read(file).expect("it is there");
    assert_eq!(
        bytes(&grown.join("land.glb")),
        bytes(&folder.path().join("land.glb"))
    );
    let side: Value = serde_json::from_slice(&bytes(&grown.join("mesh.json"))).expect("JSON");
    assert_eq!(side["meshes"][0]["file"], "land.glb");
}

/// Cliffs as a mesh apart are quads for software that has quads, and meet the rest of the
/// land without a gap: put together and with their vertices joined, both are one land again.
#[test]
fn cliffs_apart_are_quads_and_meet_the_land() {
    let folder = tempfile::TempDir::new().expect("a folder");
    let out = folder.path().join("land.obj");
    let options = ["--triangles", "3000", "--cliffs", "steeper:30"];
    let said = made_on("128", &out, &options);
    let (land, cliffs) = (&said["meshes"][0], &said["meshes"][1]);
    assert_eq!(
        (&land["part"], &cliffs["part"]),
        (&"land".into(), &"cliffs".into())
    );
    let edges = &cliffs["edges_m"];
    let mean = number(&edges["mean"]);
    // Two cells of 94 m; the stated ratio.
    assert!((mean / 187.5 - 1.0).abs() < 0.25, "{edges}");
    assert!(
        number(&edges["one_in_a_hundred_shorter"]) > 0.45 * mean,
        "{edges}"
    );
    assert!(
        number(&edges["one_in_a_hundred_longer"]) < 2.0 * mean,
        "{edges}"
    );

    let apart = folder.path().join("land-cliffs.obj");
    let read_text = |file: &Path| std::fs::read_to_string(file).expect("written");
    let faces = |text: &str, corners: usize| {
        let faces = text.lines().filter(|line| line.starts_with("f "));
        faces
            .filter(|face| face.split(' ').count() == corners + 1)
            .count()
    };
    let (around, quads) = (read_text(&out), read_text(&apart));
    assert_eq!(faces(&quads, 4) as f64, number(&cliffs["triangles"]) / 2.0);
    assert_eq!((faces(&quads, 3), faces(&around, 4)), (0, 0));

    // One file of both, whose vertices trimesh merges: its only border is the land's.
    let lines = |text: &str, begins: &str| -> Vec<String> {
        let lines = text.lines().filter(|line| line.starts_with(begins));
        lines.map(str::to_owned).collect()
    };
    let mut both = [lines(&around, "v "), lines(&quads, "v ")].concat();
    let first = lines(&around, "v ").len();
    for (text, first) in [(&around, 0), (&quads, first)] {
        for face in lines(text, "f ") {
            let corners = face.split(' ').skip(1).map(|corner| {
                let at: usize = corner
                    .split('/')
                    .next()
                    .and_then(|at| at.parse().ok())
                    .expect("a corner");
                (at + first).to_string()
            });
            both.push(format!("f {}", corners.collect::<Vec<_>>().join(" ")));
        }
    }
    let joined = folder.path().join("joined.obj");
    std::fs::write(&joined, both.join("\n")).expect("writes");
    let whole = folder.path().join("whole.obj");
    made(&whole, &["--triangles", "3000"]);
    let read = read(&[&joined, &whole]);
    // A disc, as the land in one piece is.
    assert_eq!(read[0]["euler"], read[1]["euler"]);
    assert_eq!(read[0]["euler"], 1);

    let demo = repository("demo/hollin-fjord.json");
    for (options, why) in [
        (&["--solid"][..], "cliffs apart go with one open land"),
        (&["--levels", "2"], "cliffs apart go with one open land"),
    ] {
        let mut arguments = vec![
            "mesh",
            path(&demo),
            "--cliffs",
            "steeper:30",
            "--out",
            "x.obj",
        ];
        arguments.extend(options);
        let refused = morphogen(&arguments);
        let said = String::from_utf8_lossy(&refused.stderr).into_owned();
        assert_eq!(refused.status.code(), Some(2), "{said}");
        assert!(said.contains(why), "{said}");
    }
    for (of, why) in [
        ("steeper:95", "steeper than 1 to 89 degrees"),
        ("mask:Gold", "no mask of this land is called ‘Gold’"),
        ("gold", "neither a field, nor mask: and a name"),
    ] {
        let refused = morphogen(&["mesh", path(&demo), "--cliffs", of, "--out", "x.obj"]);
        let said = String::from_utf8_lossy(&refused.stderr).into_owned();
        assert_eq!(refused.status.code(), Some(2), "{said}");
        assert!(said.contains(why), "{said}");
    }
}
