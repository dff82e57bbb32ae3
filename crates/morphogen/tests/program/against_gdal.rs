//! Our readings and files against GDAL, a reference library for geodata.

use std::path::{Path, PathBuf};

use serde_json::Value;
use tempfile::TempDir;
use terrain::Grid;

use crate::support::{morphogen, path, repository, run, values};

/// The real elevation model on square cells of 80 m, in a plane: what both
/// programs then read is the same grid.
fn model(folder: &Path) -> PathBuf {
    let plane = folder.join("plane.tif");
    let source = repository("crates/formats/tests/data/jacksboro.tif");
    run(
        "gdal_translate",
        &[
            "-q",
            "-a_srs",
            "EPSG:32617",
            "-a_ullr",
            "700000",
            "4068000",
            "732240",
            "4040480",
            "-ot",
            "Float32",
            path(&source),
            path(&plane),
        ],
    );
    plane
}

fn read(reading: &str, input: &Path, output: &Path) -> Grid {
    let done = morphogen(&["read", reading, path(input), path(output)]);
    assert!(
        done.status.success(),
        "{}",
        String::from_utf8_lossy(&done.stderr)
    );
    values(output)
}

fn gdal(mode: &str, input: &Path, output: &Path, options: &[&str]) -> Grid {
    let files = ["-q", "-compute_edges"];
    let arguments = [&[mode, path(input), path(output)][..], &files[..], options].concat();
    run("gdaldem", &arguments);
    values(output)
}

/// Fails when more than `share` of the cells differ by more than `tolerance`.
fn assert_agree(ours: &Grid, theirs: &Grid, tolerance: f32, apart: impl Fn(f32, f32) -> f32) {
    assert_eq!((ours.cols(), ours.rows()), (theirs.cols(), theirs.rows()));
    let pairs = ours.values().iter().zip(theirs.values());
    let worst = pairs
        .enumerate()
        // The corners have no agreed continuation.
        .filter(|(i, _)| {
            let (c, r) = (i % ours.cols(), i / ours.cols());
            !((c == 0 || c == ours.cols() - 1) && (r == 0 || r == ours.rows() - 1))
        })
        .map(|(i, (&a, &b))| (i, a, b, apart(a, b)))
        .max_by(|x, y| x.3.total_cmp(&y.3))
        .expect("cells");
    let (i, a, b, off) = worst;
    let (c, r) = (i % ours.cols(), i / ours.cols());
    assert!(
        off <= tolerance,
        "column {c}, row {r}: ours {a}, GDAL's {b}"
    );
}

#[test]
fn slope_is_that_of_gdaldem() {
    let folder = TempDir::new().expect("a folder");
    let model = model(folder.path());
    let ours = read("slope", &model, &folder.path().join("ours.tif"));
    let theirs = gdal(
        "slope",
        &model,
        &folder.path().join("theirs.tif"),
        &["-alg", "Horn"],
    );
    assert_agree(&ours, &theirs, 1e-3, |a, b| (a - b).abs());
}

#[test]
fn aspect_is_that_of_gdaldem() {
    let folder = TempDir::new().expect("a folder");
    let model = model(folder.path());
    let ours = read("aspect", &model, &folder.path().join("ours.tif"));
    let theirs = gdal(
        "aspect",
        &model,
        &folder.path().join("theirs.tif"),
        &["-zero_for_flat"],
    );
    // Level ground is −1 here and 0 there.
    assert_agree(&ours, &theirs, 2e-2, |a, b| {
        let apart = (a.max(0.0) - b).abs();
        apart.min(360.0 - apart)
    });
    let flat = ours.values().iter().filter(|&&v| v == -1.0).count();
    assert!(flat > 0, "the model has level ground");
}

#[test]
fn hillshade_is_that_of_gdaldem() {
    let folder = TempDir::new().expect("a folder");
    let model = model(folder.path());
    let ours = read("hillshade", &model, &folder.path().join("ours.png"));
    let theirs = gdal("hillshade", &model, &folder.path().join("theirs.tif"), &[]);
    // GDAL rounds by its own rule; one step of 255 apart at most.
    assert_agree(&ours, &theirs, 1.0, |a, b| (a - b).abs());
}

#[test]
fn gdalinfo_reads_what_grow_writes() {
    let out = TempDir::new().expect("a folder");
    let demo = repository("demo/hollin-fjord.json");
    let done = morphogen(&[
        "grow",
        path(&demo),
        "--cells",
        "192",
        "--out",
        path(out.path()),
    ]);
    assert!(done.status.success());
    let info = |name: &str| -> Value {
        let text = run("gdalinfo", &["-json", "-mm", path(&out.path().join(name))]);
        serde_json::from_str(&text).expect("JSON")
    };
    let height = info("height.tif");
    assert_eq!(height["size"], serde_json::json!([192, 128]));
    assert_eq!(
        height["geoTransform"],
        serde_json::json!([0.0, 62.5, 0.0, 8000.0, 0.0, -62.5])
    );
    assert_eq!(height["bands"][0]["type"], "Float32");
    assert_eq!(height["metadata"][""]["AREA_OR_POINT"], "Area");
    let (low, high) = values(&out.path().join("height.tif")).range();
    let theirs = |key: &str| height["bands"][0][key].as_f64().expect("a number");
    assert!((theirs("computedMin") - f64::from(low)).abs() < 0.01);
    assert!((theirs("computedMax") - f64::from(high)).abs() < 0.01);
    for (name, bands, kind) in [
        ("height.png", 1, "UInt16"),
        ("weights-1.png", 4, "Byte"),
        ("weights-2.png", 4, "Byte"),
        ("albedo.png", 3, "Byte"),
        ("normal.png", 3, "Byte"),
        ("hillshade.png", 1, "Byte"),
        ("slope.tif", 1, "Float32"),
    ] {
        let info = info(name);
        assert_eq!(
            info["bands"].as_array().expect("bands").len(),
            bands,
            "{name}"
        );
        assert_eq!(info["bands"][0]["type"], kind, "{name}");
        // A picture lies where the model does, by the world file beside it.
        assert_eq!(info["geoTransform"], height["geoTransform"], "{name}");
    }
    // The unit of a land that lies nowhere on earth is the metre all the same.
    let system = height["coordinateSystem"]["wkt"]
        .as_str()
        .expect("a system");
    assert!(
        system.contains("metre") && system.contains("Metres of the land"),
        "{system}"
    );
    // PNG (W3C 2003), 11.3.3.5: the chunk says that it is colour as screens have it.
    let says_srgb = |name: &str| {
        let bytes = std::fs::read(out.path().join(name)).expect("a picture");
        bytes.windows(4).any(|at| at == b"sRGB")
    };
    assert!(says_srgb("albedo.png") && !says_srgb("normal.png"));

    // What is read of the 16-bit picture is what is read of the model, but for its steps.
    let slopes = ["height.tif", "height.png"].map(|name| {
        let file = out.path().join(format!("slope-of-{name}.tif"));
        let done = morphogen(&["read", "slope", path(&out.path().join(name)), path(&file)]);
        assert!(
            done.status.success(),
            "{}",
            String::from_utf8_lossy(&done.stderr)
        );
        values(&file)
    });
    let step_m = (high - low) / 65_535.0;
    let off = (3.0 * step_m / 62.5).atan().to_degrees();
    assert_agree(&slopes[1], &slopes[0], off, |a, b| (a - b).abs());
}

/// A picture alone says nothing of metres: it is refused, unless it is said what its black
/// and its white are.
#[test]
fn a_picture_without_a_range_is_refused() {
    let folder = TempDir::new().expect("a folder");
    let picture = folder.path().join("dune.png");
    let steps = Grid::from_vec(4, 4, (0..16u16).map(|v| v * 4_369).collect()).expect("4 × 4");
    let file = std::fs::File::create(&picture).expect("a file");
    formats::write_grey16(file, &steps).expect("writes");
    let out = folder.path().join("slope.tif");
    let read = |more: &[&str]| {
        let mut arguments = vec!["read", "slope", path(&picture), path(&out), "--cell", "10"];
        arguments.extend(more);
        morphogen(&arguments)
    };
    let refused = read(&[]);
    let said = String::from_utf8_lossy(&refused.stderr).into_owned();
    assert_eq!(refused.status.code(), Some(2), "{said}");
    assert!(
        said.contains("holds steps from 0 to 65535, not metres"),
        "{said}"
    );
    assert!(!out.exists());
    assert!(
        read(&["--black-m", "-5", "--white-m", "10"])
            .status
            .success()
    );
    // A metre for each step to the east, four for each to the south, of ten metres.
    let expected = 17f32.sqrt().atan2(10.0).to_degrees();
    assert!(
        (values(&out).at(1, 1) - expected).abs() < 1e-3,
        "{}",
        values(&out).at(1, 1)
    );
    // Of a model in metres nothing else can be said.
    let model = model(folder.path());
    let arguments = [
        "read",
        "slope",
        path(&model),
        path(&out),
        "--black-m",
        "0",
        "--white-m",
        "1",
    ];
    assert_eq!(morphogen(&arguments).status.code(), Some(2));
}

/// Ruggedness (Riley et al. 1999), position index (Weiss 2001), the range of
/// nine cells, and slope by Zevenbergen and Thorne (1987), on the real
/// elevation model.
#[test]
fn relief_readings_agree_with_gdaldem() {
    let folder = TempDir::new().expect("a folder");
    let model = model(folder.path());
    let output = |name: &str| folder.path().join(name);
    let off = |a: f32, b: f32| (a - b).abs();
    for (ours, mode, options) in [
        ("ruggedness", "TRI", &["-alg", "Riley"][..]),
        ("position", "TPI", &[]),
        ("range", "roughness", &[]),
        ("slope-quadratic", "slope", &["-alg", "ZevenbergenThorne"]),
    ] {
        let theirs = gdal(mode, &model, &output("theirs.tif"), options);
        let ours = read(ours, &model, &output("ours.tif"));
        assert_agree(&ours, &theirs, 2e-3, off);
    }
}

/// Whatever numbers, tiles and packing GDAL writes a model with, it is read as it is; the
/// heights of this one are whole metres.
#[test]
fn models_are_read_however_gdal_writes_them() {
    let folder = TempDir::new().expect("a folder");
    let plane = model(folder.path());
    let heights = values(&plane);
    for (i, options) in [
        &["-ot", "Int16"][..],
        &["-ot", "UInt16", "-co", "COMPRESS=LZW"],
        &["-ot", "Float32", "-co", "COMPRESS=DEFLATE"],
        &[
            "-ot",
            "Float32",
            "-co",
            "TILED=YES",
            "-co",
            "BLOCKXSIZE=64",
            "-co",
            "BLOCKYSIZE=64",
        ],
        &[
            "-ot",
            "Int16",
            "-co",
            "COMPRESS=DEFLATE",
            "-co",
            "PREDICTOR=2",
        ],
        &["-ot", "Float32", "-co", "BIGTIFF=YES"],
        &["-ot", "Float32", "-co", "ENDIANNESS=BIG"],
        &["-of", "AAIGrid"],
    ]
    .into_iter()
    .enumerate()
    {
        let ending = if options.contains(&"AAIGrid") {
            "asc"
        } else {
            "tif"
        };
        let written = folder.path().join(format!("model-{i}.{ending}"));
        let arguments = [&["-q"], options, &[path(&plane), path(&written)]].concat();
        run("gdal_translate", &arguments);
        assert_eq!(values(&written), heights, "{options:?}");
    }
}

/// What cannot be taken as heights is refused, and says why: several bands, complex
/// numbers, cells without data.
#[test]
fn models_that_are_no_heights_are_refused() {
    let folder = TempDir::new().expect("a folder");
    let plane = model(folder.path());
    for (options, said) in [
        (&["-b", "1", "-b", "1", "-b", "1"][..], "3"),
        (&["-ot", "CFloat32"], ""),
        (&["-a_nodata", "300"], "300"),
    ] {
        let (written, out) = (folder.path().join("bad.tif"), folder.path().join("out.tif"));
        let arguments = [&["-q"], options, &[path(&plane), path(&written)]].concat();
        run("gdal_translate", &arguments);
        let done = morphogen(&["read", "slope", path(&written), path(&out)]);
        let message = String::from_utf8_lossy(&done.stderr).into_owned();
        assert_eq!(done.status.code(), Some(2), "{options:?}: {message}");
        assert!(message.contains(said), "{options:?}: {message}");
        assert!(!out.exists(), "nothing is written");
    }
}

/// A coordinate system goes from the file that is read into the one that is written, as GDAL
/// understands both.
#[test]
fn coordinates_survive_a_reading() {
    let folder = TempDir::new().expect("a folder");
    let plane = model(folder.path());
    let slope = folder.path().join("slope.tif");
    read("slope", &plane, &slope);
    let about = |file: &Path| -> Value {
        let text = run("gdalinfo", &["-json", path(file)]);
        serde_json::from_str(&text).expect("JSON")
    };
    let (before, after) = (about(&plane), about(&slope));
    let system = |about: &Value| {
        about["coordinateSystem"]["wkt"]
            .as_str()
            .expect("a system")
            .to_owned()
    };
    assert!(system(&before).contains("UTM zone 17N"));
    assert_eq!(system(&after), system(&before));
    let places = |about: &Value| -> Vec<f64> {
        let transform = about["geoTransform"].as_array().expect("six numbers");
        transform
            .iter()
            .map(|value| value.as_f64().expect("a number"))
            .collect()
    };
    for (a, b) in places(&after).iter().zip(places(&before)) {
        assert!((a - b).abs() < 1e-6, "{a} and {b}");
    }
}
