//! Maps in every format, opened by other software: GDAL, and OpenEXR's own library.

use std::fs;
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};

use serde_json::Value;
use tempfile::TempDir;
use terrain::Grid;

use crate::support::{morphogen, path, repository, run, values};

const DEMO: &str = "demo/hollin-fjord.json";

/// Grows heights of the demo; the folder, and what they are.
fn grown(options: &[&str]) -> (TempDir, Grid) {
    let folder = TempDir::new().expect("a folder");
    let demo = repository(DEMO);
    let mut arguments = vec!["grow", path(&demo), "--cells", "300", "--only", "height"];
    arguments.extend(options);
    arguments.extend(["--out", path(folder.path())]);
    let done = morphogen(&arguments);
    let said = String::from_utf8_lossy(&done.stderr).into_owned();
    assert!(done.status.success(), "{said}");
    let heights = values(&folder.path().join("height.tif"));
    (folder, heights)
}

fn convert(from: &Path, to: &Path, options: &[&str]) {
    let mut arguments = vec!["convert", path(from), path(to)];
    arguments.extend(options);
    let done = morphogen(&arguments);
    let said = String::from_utf8_lossy(&done.stderr).into_owned();
    assert!(done.status.success(), "{options:?}: {said}");
}

/// The values of a file as GDAL reads them: rewritten by it without anything that could
/// hide a mistake of ours.
fn by_gdal(file: &Path) -> Grid {
    let plain = file.with_extension("gdal.tif");
    run(
        "gdal_translate",
        &["-q", "-co", "COMPRESS=NONE", path(file), path(&plain)],
    );
    values(&plain)
}

#[test]
fn gdal_reads_every_layout_of_our_geotiff() {
    for (format, blocks, packed) in [
        ("tif", "Block=300x200", true),
        ("tif_tiled", "Block=256x256", true),
        // GDAL deals a plain strip out in parts.
        ("tif_plain", "Block=300x", false),
    ] {
        let (folder, heights) = grown(&["--fields", format]);
        let file = folder.path().join("height.tif");
        let info = run("gdalinfo", &[path(&file)]);
        assert_eq!(info.contains("COMPRESSION=DEFLATE"), packed, "{info}");
        assert_eq!(info.contains("PREDICTOR=3"), packed, "{info}");
        assert!(info.contains(blocks), "{info}");
        assert!(info.contains("Pixel Size = (40.0"), "{info}");
        assert_eq!(by_gdal(&file), heights, "{format}");
    }
}

/// What GDAL packs in its ways, we read.
#[test]
fn what_gdal_writes_is_read() {
    let (folder, heights) = grown(&[]);
    let file = folder.path().join("height.tif");
    for options in [
        [
            "COMPRESS=DEFLATE",
            "PREDICTOR=3",
            "TILED=YES",
            "BIGTIFF=YES",
        ],
        ["COMPRESS=LZW", "PREDICTOR=2", "TILED=NO", "BIGTIFF=NO"],
        ["COMPRESS=DEFLATE", "PREDICTOR=1", "TILED=NO", "BIGTIFF=YES"],
    ] {
        let theirs = folder.path().join("theirs.tif");
        let mut arguments = vec!["-q"];
        for option in options {
            arguments.extend(["-co", option]);
        }
        arguments.extend([path(&file), path(&theirs)]);
        run("gdal_translate", &arguments);
        assert_eq!(values(&theirs), heights, "{options:?}");
    }
}

#[test]
fn gdal_reads_our_text_and_our_raw_steps() {
    let (folder, heights) = grown(&[]);
    let file = folder.path().join("height.tif");
    let text = folder.path().join("height.asc");
    convert(&file, &text, &[]);
    // GDAL keeps six digits of what it takes for coordinates, all of what is a height.
    assert_eq!(by_gdal(&text), heights);

    let raw = folder.path().join("steps.raw");
    convert(&file, &raw, &["--range", "-300:2700"]);
    let header = folder.path().join("steps.hdr");
    // ENVI's header, which says all that a raw file does not: 12 is unsigned 16 bits, byte
    // order 0 the lower byte first.
    let said = "ENVI\nsamples = 300\nlines = 200\nbands = 1\ndata type = 12\n\
                interleave = bsq\nbyte order = 0\n";
    fs::write(&header, said).expect("writes");
    let steps = by_gdal(&raw);
    let worst = steps
        .zip_map(&heights, |step, height| {
            (step / 65_535.0 * 3000.0 - 300.0 - height).abs()
        })
        .range()
        .1;
    assert!(worst <= 0.51 * 3000.0 / 65_535.0, "{worst} m off");
    // And back, by what stands beside it.
    let back = folder.path().join("back.tif");
    convert(&raw, &back, &[]);
    let worst = values(&back)
        .zip_map(&heights, |a, b| (a - b).abs())
        .range()
        .1;
    assert!(worst <= 0.51 * 3000.0 / 65_535.0, "{worst} m off");
}

#[test]
fn openexr_reads_our_floats_and_colour() {
    let folder = TempDir::new().expect("a folder");
    let demo = repository(DEMO);
    let grow = |only: &str, options: &[&str]| {
        let mut arguments = vec!["grow", path(&demo), "--cells", "96", "--only", only];
        arguments.extend(options);
        arguments.extend(["--out", path(folder.path())]);
        assert!(morphogen(&arguments).status.success(), "{options:?}");
    };
    grow(
        "height,albedo",
        &["--fields", "exr", "--colour", "exr_half"],
    );
    grow("height", &[]);
    let heights = values(&folder.path().join("height.tif"));
    let files = ["height.exr", "albedo.exr"].map(|name| folder.path().join(name));
    let script = repository("crates/morphogen/tests/program/maps.py");
    let python = repository("var/reference/bin/python");
    let arguments = [path(&script), path(&files[0]), path(&files[1])];
    let said: Value = serde_json::from_str(&run(path(&python), &arguments)).expect("JSON");
    let grey = &said[0]["Y"];
    assert_eq!(grey["type"], "float32");
    assert_eq!((&grey["cols"], &grey["rows"]), (&96.into(), &64.into()));
    assert_eq!(
        grey["at_3_2"].as_f64().map(|v| v as f32),
        Some(heights.at(3, 2))
    );
    let mean = heights.sum() / heights.values().len() as f64;
    assert!((grey["mean"].as_f64().expect("a mean") - mean).abs() < 1e-2);
    assert_eq!(said[0]["cell_m"], 125.0);
    for channel in ["R", "G", "B"] {
        let one = &said[1][channel];
        assert_eq!(one["type"], "float16", "{said}");
        let mean = one["mean"].as_f64().expect("a mean");
        assert!(mean > 0.005 && mean < 0.9, "{channel}: {mean}");
    }
}

/// One file is sent through a pipe, and what comes from one is read.
#[test]
fn one_file_goes_through_pipes() {
    let (folder, heights) = grown(&[]);
    let demo = repository(DEMO);
    let sent = |arguments: &[&str]| {
        let output = morphogen(arguments);
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert!(output.status.success(), "{arguments:?}: {said}");
        output.stdout
    };
    let recipe = path(&demo);
    let grown = [
        "grow", recipe, "--cells", "300", "--only", "height", "--out", "-",
    ];
    let tiff = sent(&grown);
    assert_eq!(
        tiff,
        fs::read(folder.path().join("height.tif")).expect("there")
    );

    let mut through = Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(["convert", "-", "-", "--to", "asc"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("it runs");
    let mut input = through.stdin.take().expect("a pipe");
    let feeding = std::thread::spawn(move || input.write_all(&tiff));
    let text = through.wait_with_output().expect("it ends").stdout;
    feeding.join().expect("no panic").expect("it reads all");
    let file = folder.path().join("piped.asc");
    fs::write(&file, &text).expect("writes");
    assert_eq!(values(&file), heights);

    let mesh = [
        "mesh",
        recipe,
        "--cells",
        "64",
        "--triangles",
        "100",
        "--to",
        "stl",
    ];
    let stl = sent(&[&mesh[..], &["--out", "-"]].concat());
    let count = u32::from_le_bytes([stl[80], stl[81], stl[82], stl[83]]) as usize;
    assert_eq!(stl.len(), 84 + 50 * count);

    for (refused, why) in [
        (
            &["grow", recipe, "--cells", "64", "--out", "-"][..],
            "only one file can be sent",
        ),
        (
            &[&mesh[..], &["--levels", "2", "--out", "-"]].concat(),
            "only one file can be sent",
        ),
        (&["grow", recipe, "--cells", "64"], "--out"),
    ] {
        let output = morphogen(refused);
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert_eq!(output.status.code(), Some(2), "{said}");
        assert!(said.contains(why), "{said}");
        assert!(output.stdout.is_empty());
    }
}

/// What a target would not take is said, and its own wish is the beginning.
#[test]
fn targets_begin_and_check_an_order() {
    let folder = TempDir::new().expect("a folder");
    let demo = repository(DEMO);
    let out = folder.path().join("files");
    let checked = morphogen(&[
        "grow",
        path(&demo),
        "--target",
        "game-engine-terrain",
        "--check",
    ]);
    let said: Value = serde_json::from_slice(&checked.stdout).expect("JSON");
    let findings = said["findings"].as_array().expect("a list");
    let square = findings.iter().find(|found| found["rule"] == "square");
    let square = square.expect("twelve by eight kilometres are not square");
    assert!(
        square["finding"]
            .as_str()
            .expect("words")
            .contains("2049 × 1366")
    );
    assert_eq!(said["outlook"]["cols"], 2049);
    assert!(!out.exists(), "nothing is written");

    // One's own, from a file.
    let own = folder.path().join("own.json");
    let target = r#"{ "name": "Small", "wish": { "cells": 40, "layers": ["height"],
        "fields": "raw16" }, "bounds": { "largest_step_m": 0.001 } }"#;
    fs::write(&own, target).expect("writes");
    let grown = morphogen(&[
        "grow",
        path(&demo),
        "--target",
        path(&own),
        "--out",
        path(&out),
    ]);
    assert!(grown.status.success());
    let said = String::from_utf8_lossy(&grown.stderr);
    assert!(
        said.contains("steps: 16-bit heights go up in steps of"),
        "{said}"
    );
    assert_eq!(
        fs::metadata(out.join("height.raw")).expect("there").len(),
        2 * 40 * 27
    );
    let refused = morphogen(&["grow", path(&demo), "--target", "moon", "--check"]);
    let said = String::from_utf8_lossy(&refused.stderr).into_owned();
    assert_eq!(refused.status.code(), Some(2));
    assert!(
        said.contains("moon is neither a file nor one of web-page"),
        "{said}"
    );
}

/// What is read while the file is still coming has the bits of what is read as a whole, and
/// what is wrong with a file is said as it is then.
#[test]
fn readings_in_bands_are_those_of_the_whole() {
    let (folder, _) = grown(&["--fields", "tif_plain"]);
    let strips = folder.path().join("height.tif");
    let packed = folder.path().join("packed.tif");
    // In tiles it is read as a whole.
    let tiles = folder.path().join("tiles.tif");
    convert(&strips, &packed, &["--to", "tif"]);
    convert(&strips, &tiles, &["--to", "tif_tiled"]);
    for reading in [
        "slope",
        "slope-quadratic",
        "aspect",
        "hillshade",
        "position",
        "ruggedness",
        "range",
        "curvature-profile",
        "curvature-plan",
        "curvature-mean",
    ] {
        let read = |file: &Path| {
            let out = folder.path().join("reading.tif");
            let done = morphogen(&["read", reading, path(file), path(&out)]);
            assert!(done.status.success(), "{reading}");
            values(&out)
        };
        let whole = read(&tiles);
        assert_eq!(read(&strips), whole, "{reading}");
        assert_eq!(read(&packed), whole, "{reading}");
    }
    let info = run(
        "gdalinfo",
        &["-stats", path(&folder.path().join("reading.tif"))],
    );
    assert!(info.contains("Type=Float32"), "{info}");

    let bytes = fs::read(&strips).expect("there");
    let short = folder.path().join("short.tif");
    fs::write(&short, &bytes[..bytes.len() / 2]).expect("writes");
    let out = folder.path().join("none.tif");
    let refused = morphogen(&["read", "slope", path(&short), path(&out)]);
    let said = String::from_utf8_lossy(&refused.stderr).into_owned();
    assert_eq!(refused.status.code(), Some(2), "{said}");
    assert!(said.contains("damaged or cut short"), "{said}");
    assert!(!out.exists() && !out.with_extension("partial").exists());
}
