//! Orders: formats of fields, ranges of steps, masks, packed channels, the list of files; and
//! targets that wishes are held against.

use std::fs;
use std::path::Path;

use deliver::{
    Bounds, ColourFormat, Detail, FieldFormat, GridSides, Layer, MeshOrder, MeshWish, Order,
    Packed, Target, ValueRange, Weight, Wish, check, deliver, picture,
};
use formats::{Limits, read_heightfield, read_picture, read_raw16};
use proptest::prelude::*;
use recipe::grow::NoAssets;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use terrain::mesh::Camera;
use terrain::{Frame, Grid, Run};

const DEMO: &str = include_str!("../../../demo/hollin-fjord.json");
const CELLS: usize = 96;

/// The demo, with a mask that has a name of its own.
fn demo() -> Recipe {
    let mut document: Value = serde_json::from_str(DEMO).expect("JSON");
    let steep = json!({ "of": "slope", "from": 20.0, "soft_from": 10.0 });
    let mask = json!({ "name": "Steep ground", "mask": { "terms": [steep] } });
    document["masks"] = json!([mask]);
    Recipe::from_value(document).expect("valid")
}

fn delivered(wish: &Wish, dir: &Path) -> Vec<String> {
    let recipe = demo();
    let order = Order::of(wish, &recipe).expect("sound");
    let grower = Grower::new(1 << 28);
    let land = (&recipe, &NoAssets as &dyn recipe::Assets);
    let run = Run::to_the_end();
    let made = deliver(&grower, land, &order, dir, &|_| (), run).expect("delivers");
    let names = made.files.iter().filter_map(|path| path.file_name());
    names.map(|name| name.to_string_lossy().into()).collect()
}

fn heights() -> Grid {
    let recipe = demo();
    let grower = Grower::new(1 << 28);
    let frame = Frame::with_cells(recipe.extent.into(), CELLS);
    let land = grower.land(&recipe, &NoAssets, &frame, Run::to_the_end());
    land.expect("grows").heights()
}

fn wish(layers: &[&str]) -> Wish {
    Wish {
        cells: CELLS,
        layers: layers.iter().map(|name| (*name).to_owned()).collect(),
        ..Wish::default()
    }
}

fn json_of(path: &Path) -> Value {
    let text = fs::read_to_string(path).unwrap_or_else(|error| panic!("{path:?}: {error}"));
    serde_json::from_str(&text).expect("JSON")
}

/// The demo with masks of these names, each of ground steeper than another number of degrees.
fn with_masks(names: &[&str]) -> Recipe {
    let mut document: Value = serde_json::from_str(DEMO).expect("JSON");
    let masks = names.iter().enumerate().map(|(k, name)| {
        let steep = json!({ "of": "slope", "from": 10.0 + 5.0 * k as f64, "soft_from": 2.0 });
        json!({ "name": name, "mask": { "terms": [steep] } })
    });
    document["masks"] = masks.collect();
    Recipe::from_value(document).expect("valid")
}

/// Names of masks are the artist's; those of files must differ whatever they are.
#[test]
fn masks_whose_names_come_to_the_same_have_files_of_their_own() {
    let long = "Ö".repeat(200);
    let names = [
        "Steep ground",
        "steep-ground",
        "Steep ground 2",
        "Föhn",
        &long,
    ];
    let recipe = with_masks(&names);
    let layers: Vec<String> = names.iter().map(|name| format!("mask:{name}")).collect();
    let layers: Vec<&str> = layers.iter().map(String::as_str).collect();
    let dir = tempfile::tempdir().expect("a folder");
    let order = Order::of(&wish(&layers), &recipe).expect("sound");
    let grower = Grower::new(1 << 28);
    let land = (&recipe, &NoAssets as &dyn recipe::Assets);
    deliver(
        &grower,
        land,
        &order,
        dir.path(),
        &|_| (),
        Run::to_the_end(),
    )
    .expect("delivers");
    let listed = json_of(&dir.path().join("manifest.json"));
    let mut hashes = Vec::new();
    for layer in &layers {
        let files = listed["files"].as_array().expect("files").iter();
        let files: Vec<_> = files.filter(|file| file["layer"] == **layer).collect();
        assert_eq!(files.len(), 1, "{layer}: {files:?}");
        hashes.push(files[0]["sha256"].as_str().expect("a hash"));
    }
    hashes.sort_unstable();
    hashes.dedup();
    assert_eq!(hashes.len(), names.len(), "a file was written over another");
}

/// Both would say in the same file what their steps mean.
#[test]
fn two_kinds_of_steps_of_heights_are_told_apart() {
    let dir = tempfile::tempdir().expect("a folder");
    let both = Wish {
        fields: FieldFormat::Raw16,
        ..wish(&["height", "height16"])
    };
    delivered(&both, dir.path());
    for file in ["height.raw", "height16.png"] {
        let stem = file.split('.').next().expect("a stem");
        let said = json_of(&dir.path().join(format!("{stem}.json")));
        assert_eq!(said["file"], file);
        assert!(dir.path().join(file).exists(), "{file}");
    }
}

#[test]
fn packed_pictures_take_no_name_of_another_file() {
    let packed = |name: &str| Wish {
        packed: vec![Packed {
            name: name.to_owned(),
            channels: vec![None, None, Some("slope".to_owned())],
        }],
        ..wish(&["height"])
    };
    for name in [
        "albedo",
        "HEIGHT",
        "normal-down",
        "tiles",
        "mask-a",
        "cover-1",
        "manifest",
    ] {
        let said = Order::of(&packed(name), &demo()).expect_err("refused");
        assert!(said.contains(name), "{said}");
    }
    Order::of(&packed("surface"), &demo()).expect("sound");
}

/// What was found sound for one land is not taken for sound for another.
#[test]
fn an_order_of_another_land_is_refused_before_anything_is_grown() {
    let channels = |of: &str| Wish {
        packed: vec![Packed {
            name: "surface".to_owned(),
            channels: vec![None, None, Some(of.to_owned())],
        }],
        ..wish(&["height"])
    };
    let last = demo().covers.last().expect("covers").name.clone();
    let other = Recipe::flat("Flat", demo().extent);
    for of in ["mask:Steep ground", &format!("cover:{last}"), "wear"] {
        let order = Order::of(&channels(of), &demo()).expect("sound");
        let dir = tempfile::tempdir().expect("a folder");
        let out = dir.path().join("files");
        let grower = Grower::new(1 << 20);
        let land = (&other, &NoAssets as &dyn recipe::Assets);
        let refused = deliver(&grower, land, &order, &out, &|_| (), Run::to_the_end());
        let said = refused.expect_err("refused").to_string();
        assert!(said.contains("surface"), "{of}: {said}");
        assert!(!out.exists(), "{of}: something was written");
    }
}

#[test]
fn heights_are_the_same_in_every_format() {
    let truth = heights();
    let (low, high) = truth.range();
    for format in FieldFormat::ALL {
        let dir = tempfile::tempdir().expect("a folder");
        let ordered = Wish {
            fields: format,
            ..wish(&["height"])
        };
        let files = delivered(&ordered, dir.path());
        let name = format!("height.{}", format.ending());
        assert_eq!(files[0], name, "{format:?}");
        let bytes = fs::read(dir.path().join(&name)).expect("written");
        let read = match format {
            FieldFormat::Raw16 => {
                read_raw16(&bytes, (truth.cols(), truth.rows()), Limits::default())
            }
            _ => read_heightfield(&bytes, Limits::default()),
        };
        let mut values = read.expect("our own file").values;
        if format.in_steps() {
            let said = json_of(&dir.path().join("height.json"));
            let number = |key: &str| said[key].as_f64().expect("a number") as f32;
            let (black, white) = (number("black_m"), number("white_m"));
            assert_eq!((black, white), (low, high), "{format:?}: fitted");
            values = values.map(|step| black + step / 65_535.0 * (white - black));
        }
        // Half a step; half floats have eleven digits.
        let allowed = match format {
            FieldFormat::ExrHalf => high / 2048.0,
            _ if format.in_steps() => 0.51 * (high - low) / 65_535.0,
            _ => 0.0,
        };
        let worst = values.zip_map(&truth, |a, b| (a - b).abs()).range().1;
        assert!(
            worst <= allowed,
            "{format:?}: {worst} m off, {allowed} allowed"
        );
    }
}

#[test]
fn whole_metres_can_be_read_off_and_given_ranges_cut() {
    let truth = heights();
    let dir = tempfile::tempdir().expect("a folder");
    let mut ordered = Wish {
        fields: FieldFormat::Raw16,
        range: ValueRange::Whole,
        ..wish(&["height"])
    };
    delivered(&ordered, dir.path());
    let said = json_of(&dir.path().join("height.json"));
    let black = said["black_m"].as_f64().expect("metres");
    assert_eq!(said["white_m"], black + 65_535.0);
    let size = (truth.cols(), truth.rows());
    let raw = fs::read(dir.path().join("height.raw")).expect("written");
    let steps = read_raw16(&raw, size, Limits::default())
        .expect("steps")
        .values;
    for (step, height) in steps.values().iter().zip(truth.values()) {
        assert!((black as f32 + step - height).abs() <= 0.501);
    }

    ordered.range = ValueRange::Given {
        black: 0.0,
        white: 300.0,
    };
    delivered(&ordered, dir.path());
    let said = json_of(&dir.path().join("height.json"));
    let beyond = truth
        .values()
        .iter()
        .filter(|h| **h > 300.003 || **h < -0.003);
    assert_eq!(said["cut_off_cells"], beyond.count());
}

#[test]
fn masks_fields_and_packed_channels_are_what_they_are_of() {
    let dir = tempfile::tempdir().expect("a folder");
    let ordered = Wish {
        packed: vec![Packed {
            name: "surface".to_owned(),
            channels: vec![
                Some("occlusion".to_owned()),
                Some("mask:Steep ground".to_owned()),
                None,
                Some("height".to_owned()),
            ],
        }],
        ..wish(&["occlusion", "mask:Steep ground", "height", "roughness"])
    };
    let files = delivered(&ordered, dir.path());
    assert!(
        files.contains(&"mask-steep-ground.tif".to_owned()),
        "{files:?}"
    );
    let read = |name: &str| {
        let bytes = fs::read(dir.path().join(name)).expect("written");
        read_picture(&bytes, Limits::default())
            .expect("a picture")
            .channels
    };
    let surface = read("surface.png");
    assert_eq!(surface.len(), 4);
    assert_eq!(surface[0], read("occlusion.png")[0]);
    let mask = &read("mask-steep-ground.tif")[0];
    let (low, high) = mask.range();
    assert!(
        low == 0.0 && high == 1.0,
        "some is steep and some is not: {low} to {high}"
    );
    assert_eq!(surface[1], mask.map(|share| (share * 255.0).round()));
    assert_eq!(surface[2].range(), (0.0, 0.0));
    assert_eq!(surface[3].range(), (0.0, 255.0));
    let said = json_of(&dir.path().join("surface.json"));
    let height = &said["channels"]["alpha"];
    let truth = heights().range();
    assert_eq!(height["holds"], "height");
    assert_eq!(height["black"].as_f64().map(|v| v as f32), Some(truth.0));
    assert_eq!(height["white"].as_f64().map(|v| v as f32), Some(truth.1));
}

#[test]
fn the_list_of_files_has_their_hashes_sizes_units_and_ranges() {
    let dir = tempfile::tempdir().expect("a folder");
    let ordered = Wish {
        tile: Some(64),
        mesh: Some(MeshWish {
            triangles: Some(100),
            ..MeshWish::default()
        }),
        ..wish(&["height", "albedo", "mesh"])
    };
    let mut files = delivered(&ordered, dir.path());
    let list = json_of(&dir.path().join("manifest.json"));
    assert_eq!(files.pop().as_deref(), Some("manifest.json"));
    let listed = list["files"].as_array().expect("a list");
    assert_eq!(listed.len(), files.len());
    for (file, name) in listed.iter().zip(&files) {
        assert_eq!(file["file"], *name);
        let bytes = fs::read(dir.path().join(name)).expect("written");
        assert_eq!(file["bytes"], bytes.len());
        let hash: String = Sha256::digest(&bytes)
            .iter()
            .map(|b| format!("{b:02x}"))
            .collect();
        assert_eq!(file["sha256"], hash);
    }
    let facts = |name: &str| {
        let found = listed.iter().find(|file| file["file"] == name);
        found.unwrap_or_else(|| panic!("{name} is not listed"))
    };
    let corner = facts("height-x1-y0.tif");
    assert_eq!(
        (
            &corner["unit"],
            &corner["cols"],
            &corner["rows"],
            &corner["layer"]
        ),
        (&json!("m"), &json!(32), &json!(64), &json!("height"))
    );
    let part = heights().cropped(64, 0, 32, 64).range();
    assert_eq!(corner["range"][1].as_f64().map(|v| v as f32), Some(part.1));
    assert_eq!(facts("albedo-x0-y0.png")["cols"], 64);
    assert!(facts("land-x0-y0.glb")["triangles"].as_u64() <= Some(100));
}

#[test]
fn colour_in_floats_is_colour_in_linear_light() {
    let dir = tempfile::tempdir().expect("a folder");
    let mut ordered = wish(&["albedo"]);
    delivered(&ordered, dir.path());
    ordered.colour = ColourFormat::Exr;
    delivered(&ordered, dir.path());
    let read = |name: &str| {
        let bytes = fs::read(dir.path().join(name)).expect("written");
        read_picture(&bytes, Limits::default())
            .expect("a picture")
            .channels
    };
    let (bytes, floats) = (read("albedo.png"), read("albedo.exr"));
    for (bytes, floats) in bytes.iter().zip(&floats) {
        for (byte, float) in bytes.values().iter().zip(floats.values()) {
            // IEC 61966-2-1, the curve itself.
            let srgb = match *float <= 0.003_130_8 {
                true => 12.92 * float,
                false => 1.055 * float.powf(1.0 / 2.4) - 0.055,
            };
            assert!((srgb * 255.0 - byte).abs() <= 0.51, "{byte} is {float}");
        }
    }
}

#[test]
fn what_cannot_be_ordered_is_refused_in_words() {
    let recipe = demo();
    let packed = |name: &str, channels: &[&str]| Wish {
        packed: vec![Packed {
            name: name.to_owned(),
            channels: channels.iter().map(|c| Some((*c).to_owned())).collect(),
        }],
        ..wish(&["height"])
    };
    let given = |black, white| Wish {
        range: ValueRange::Given { black, white },
        ..wish(&["height"])
    };
    for (refused, why) in [
        (wish(&["gold"]), "there is no layer called ‘gold’"),
        (
            wish(&["height"; 1001]),
            "layers is 1001, allowed is 0 to 1000",
        ),
        (
            wish(&["mask:Gold"]),
            "no mask of this land is called ‘Gold’",
        ),
        (
            given(3.0, 3.0),
            "range: black is 3 m and white 3 m; white must be above black",
        ),
        (given(f32::NAN, 3.0), "white must be above black"),
        (
            packed("../up", &["height"; 3]),
            "‘../up’ is no name of a file",
        ),
        (
            packed("two", &["height"; 2]),
            "packed: two has 2 channels, allowed are 3 or 4",
        ),
        (
            packed("a", &["albedo"; 3]),
            "packed: a: albedo is not one number a cell",
        ),
        (
            packed("a", &["cover:Gold"; 3]),
            "no cover that is on is called ‘Gold’",
        ),
        (
            Wish {
                cells: 1,
                ..wish(&[])
            },
            "cells is 1, allowed is 2 to 16384",
        ),
        (
            Wish {
                tile: Some(4),
                ..wish(&[])
            },
            "tile is 4, allowed is 16 to 16384",
        ),
    ] {
        let said = Order::of(&refused, &recipe).expect_err("refused");
        assert!(said.contains(why), "{said}, not {why}");
    }
}

/// The target is held against the wish; each way out is taken until there is none.
fn mended(wish: Wish, bounds: &Bounds) -> (Wish, Vec<&'static str>) {
    let recipe = demo();
    let grower = Grower::new(1 << 26);
    let mut wish = wish;
    let mut rules = Vec::new();
    for _ in 0..12 {
        let land = (&recipe, &NoAssets as &dyn recipe::Assets);
        let checked = check(&grower, land, &wish, bounds, Run::to_the_end()).expect("checked");
        let wrong = checked
            .findings
            .into_iter()
            .find(|found| found.weight == Weight::Wrong);
        let Some(found) = wrong else {
            return (wish, rules);
        };
        assert!(
            !rules.contains(&found.rule),
            "{} was not mended",
            found.rule
        );
        rules.push(found.rule);
        match found.fix {
            Some(fix) => wish = fix.wish,
            None => return (wish, rules),
        }
    }
    panic!("no end of {rules:?}");
}

#[test]
fn every_finding_offers_a_way_out_that_takes_it_away() {
    let banded = Bounds {
        largest_step_m: Some(0.001),
        ..Bounds::default()
    };
    let (floats, rules) = mended(wish(&["height16"]), &banded);
    assert_eq!(rules, ["steps"]);
    assert_eq!(
        (floats.fields, floats.layers),
        (FieldFormat::Tif, vec!["height".to_owned()])
    );

    let coarse = Wish {
        range: ValueRange::Whole,
        ..wish(&["height16"])
    };
    let fine = Bounds {
        largest_step_m: Some(0.1),
        ..Bounds::default()
    };
    assert_eq!(mended(coarse, &fine).0.range, ValueRange::Fit);

    let few = Bounds {
        most_covers: Some(2),
        most_cells: Some(64),
        floats: true,
        ..Bounds::default()
    };
    let raw = Wish {
        fields: FieldFormat::Raw16,
        ..wish(&["height", "weights"])
    };
    let (fits, rules) = mended(raw, &few);
    assert_eq!(rules, ["cells", "floats", "covers"]);
    assert_eq!((fits.cells, fits.fields), (64, FieldFormat::Exr));
    assert_eq!(fits.layers, ["height", "id"]);

    let body = Bounds {
        closed: true,
        most_triangles: Some(500),
        most_texture_cells: Some(32),
        ..Bounds::default()
    };
    let open = Wish {
        mesh: Some(MeshWish {
            textures: Some(64),
            ..MeshWish::default()
        }),
        ..wish(&["mesh"])
    };
    let (closed, rules) = mended(open, &body);
    assert_eq!(rules, ["triangles", "closed"]);
    let mesh = closed.mesh.expect("a mesh");
    assert_eq!((mesh.solid, mesh.triangles), (true, Some(500)));
}

/// 12 by 8 km: a number of cells that three divides covers it exactly.
#[test]
fn overhanging_cells_are_found_and_a_number_that_fits() {
    let whole = Bounds {
        whole_cells: true,
        ..Bounds::default()
    };
    let (fits, rules) = mended(
        Wish {
            cells: 1024,
            ..wish(&["height"])
        },
        &whole,
    );
    assert_eq!((fits.cells, rules), (1023, vec!["extent"]));
    let square = Bounds {
        square: true,
        grid: Some(GridSides::PowerOfTwo),
        ..Bounds::default()
    };
    let (cut, rules) = mended(
        Wish {
            cells: 768,
            ..wish(&["height"])
        },
        &square,
    );
    assert_eq!((cut.tile, rules), (Some(256), vec!["square"]));
}

#[test]
fn targets_that_ship_are_sound_and_take_what_they_begin_with() {
    let mut keys = Vec::new();
    for target in Target::shipped() {
        keys.push(target.key());
        let text = serde_json::to_string(&target).expect("plain data");
        assert_eq!(Target::from_json(&text).as_ref(), Ok(&target));
        let (_, rules) = mended(target.wish, &target.bounds);
        // The demo has twelve by eight kilometres and more covers than small devices blend.
        let known = ["square", "covers", "extent", "size"];
        assert!(
            rules.iter().all(|rule| known.contains(rule)),
            "{}: {rules:?}",
            target.name
        );
    }
    keys.sort();
    keys.dedup();
    assert_eq!(keys.len(), 6);
    for (text, why) in [
        ("{", "EOF"),
        (r#"{ "name": "x", "colour": 1 }"#, "unknown field `colour`"),
        (r#"{ "name": "x", "wish": { "layers": ["gold"] } }"#, "gold"),
        (r#"{ "name": "x", "bounds": { "grid": "hex" } }"#, "hex"),
    ] {
        let said = Target::from_json(text).expect_err("refused");
        assert!(said.contains(why), "{said}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    /// A document comes back as it went.
    #[test]
    fn wishes_survive_json(
        cells in 2..5000_usize,
        tile in prop::option::of(16..512_usize),
        format in 0..FieldFormat::ALL.len(),
        black in -500.0..0.0_f32,
    ) {
        let wish = Wish {
            cells,
            tile,
            fields: FieldFormat::ALL[format],
            range: ValueRange::Given { black, white: black + 900.0 },
            // What is said twice is written once.
            ..wish(&["height", "mask:Steep ground", "height"])
        };
        let text = serde_json::to_string(&wish).expect("plain data");
        let back: Wish = serde_json::from_str(&text).expect("our own text");
        prop_assert_eq!(&back, &wish);
        let order = Order::of(&back, &demo()).expect("sound");
        prop_assert_eq!(order.layers, vec![
            Layer::Height,
            Layer::Mask("Steep ground".to_owned()),
        ]);
    }
}

/// As much as there is to draw is drawn in full; fewer triangles are other pictures, and more
/// of them come nearer.
#[test]
fn pictures_of_meshes_come_nearer_to_the_land_the_more_triangles_they_have() {
    let recipe = demo();
    let grower = Grower::new(1 << 28);
    let camera = Camera {
        bearing_deg: 200.0,
        altitude_deg: 40.0,
        zoom: 1.0,
        at: [0.5, 0.5],
    };
    let drawn = |triangles: Option<usize>| {
        let order = triangles.map(|most| MeshOrder {
            detail: Detail::Triangles(most),
            ..MeshOrder::default()
        });
        let land = (&recipe, &NoAssets as &dyn recipe::Assets, CELLS);
        let run = Run::to_the_end();
        picture(&grower, land, order.as_ref(), (&camera, [160, 120]), run).expect("drawn")
    };
    let full = drawn(None);
    let apart = |other: &Grid<[u8; 3]>| {
        // Its outline before what lies behind it: edges are ink on one of them alone.
        let behind = full.at(0, 0);
        let pairs = full.values().iter().zip(other.values());
        let outline = pairs.filter(|(a, b)| (**a == behind) != (**b == behind));
        outline.count()
    };
    let off = [10, 100, 2000].map(|most| apart(&drawn(Some(most))));
    assert!(off[0] > off[1] && off[1] > off[2], "{off:?}");
}
