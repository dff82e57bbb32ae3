//! Files of a landscape: whole, in strips, and in tiles.

use std::collections::HashMap;
use std::path::{Path, PathBuf};

use deliver::{DeliverError, Delivered, Layer, Order, Wish, deliver};
use formats::{Limits, Picture, read_picture};
use recipe::document::Product;
use recipe::grow::NoAssets;
use recipe::{Assets, Grower, Recipe};
use terrain::{Cancel, Frame, Grid, Run};

const DEMO: &str = include_str!("../../../demo/hollin-fjord.json");

fn order(recipe: &Recipe, cells: usize, tile: Option<usize>, layers: &[Layer]) -> Order {
    let names = layers.iter().map(|layer| layer.name().into_owned());
    let wish = Wish {
        cells,
        tile,
        layers: names.collect(),
        ..Wish::default()
    };
    Order::of(&wish, recipe).expect("sound")
}

fn demo() -> Recipe {
    Recipe::from_json(DEMO).expect("the demo is valid")
}

/// Delivers all of an order.
fn deliver_all(recipe: &Recipe, order: &Order, dir: &Path) -> Result<Delivered, DeliverError> {
    let land = (recipe, &NoAssets as &dyn Assets);
    let run = Run::to_the_end();
    deliver(&Grower::new(1 << 28), land, order, dir, &|_| (), run)
}

/// Delivers until a share of the work is done, and says whether it was stopped.
fn stopped_at(share: f32, order: &Order, dir: &Path) -> bool {
    let cancel = Cancel::new();
    let report = |done: f32| {
        if done >= share {
            cancel.cancel();
        }
    };
    let (recipe, run) = (demo(), Run::until(&cancel));
    let land = (&recipe, &NoAssets as &dyn Assets);
    deliver(&Grower::new(1 << 28), land, order, dir, &report, run).is_err()
}

fn written(cells: usize, tile: Option<usize>, layers: &[Layer], dir: &Path) {
    let recipe = demo();
    let order = order(&recipe, cells, tile, layers);
    deliver_all(&recipe, &order, dir).expect("delivers");
}

fn read(path: &Path) -> Picture {
    let bytes = std::fs::read(path).unwrap_or_else(|error| panic!("{}: {error}", path.display()));
    read_picture(&bytes, Limits::default()).expect("a picture")
}

/// The six numbers of a world file.
fn world(path: PathBuf) -> Vec<f64> {
    let text = std::fs::read_to_string(&path).unwrap_or_else(|error| panic!("{path:?}: {error}"));
    text.lines()
        .map(|line| line.parse().expect("a number"))
        .collect()
}

const MAPS: [Layer; 9] = [
    Layer::Weights,
    Layer::Covers,
    Layer::Id,
    Layer::Albedo,
    Layer::Normal,
    Layer::NormalDown,
    Layer::Roughness,
    Layer::Displacement,
    Layer::Plan,
];

/// What steps leave comes as a map of its own: the field itself, in its unit.
#[test]
fn what_steps_leave_is_delivered_as_they_left_it() {
    let dir = tempfile::tempdir().expect("a folder");
    let recipe = demo();
    let layers = Layer::usual(&recipe);
    let left: Vec<Layer> = layers.into_iter().skip(Layer::ALL.len()).collect();
    assert!(left.len() >= 4, "{left:?}");
    written(96, None, &left, dir.path());
    let grower = Grower::new(1 << 28);
    let frame = Frame::with_cells(recipe.extent.into(), 96);
    let land = grower.land(&recipe, &NoAssets, &frame, Run::to_the_end());
    let land = land.expect("it grows");
    let mut something = 0;
    for layer in left {
        let path = dir.path().join(format!("{}.tif", layer.name()));
        let Layer::Product(product) = layer else {
            panic!("{layer:?} is no field");
        };
        // Beds of rock that are off leave nothing.
        let none = Grid::filled(frame.cols, frame.rows, 0.0);
        let field = land.product(product).unwrap_or(none);
        something += usize::from(field.range().1 > 0.0);
        assert_eq!(read(&path).channels, [field], "{}", path.display());
    }
    assert!(something >= 4, "{something} maps have something on them");
}

/// What nothing leaves is refused by name before anything is grown or written.
#[test]
fn what_no_step_leaves_is_refused() {
    let dir = tempfile::tempdir().expect("a folder");
    let recipe = demo();
    let known = recipe.leaves();
    let missing = Product::fields().find(|product| !known.contains(product));
    let missing = missing.expect("the demo does not have everything");
    let wish = Wish {
        cells: 64,
        layers: vec!["height".to_owned(), missing.name().to_owned()],
        ..Wish::default()
    };
    let said = Order::of(&wish, &recipe).expect_err("refused");
    assert!(said.contains(missing.name()), "{said}");
    // An order of another land is refused as well, before anything is grown.
    let other = Recipe::flat("Flat", recipe.extent);
    let wear = known.iter().next().expect("the demo leaves something");
    let order = order(&recipe, 64, None, &[Layer::Product(*wear)]);
    let out = dir.path().join("files");
    let refused = deliver_all(&other, &order, &out);
    let said = refused.expect_err("refused").to_string();
    assert!(said.contains(wear.name()), "{said}");
    assert!(!out.exists(), "nothing was written");
}

/// Tiles put side by side are the map in one file, bit for bit.
#[test]
fn tiles_meet_exactly() {
    let dir = tempfile::tempdir().expect("a folder");
    let (whole, tiles) = (dir.path().join("whole"), dir.path().join("tiles"));
    let layers = [
        MAPS.as_slice(),
        &[Layer::Height16, Layer::Occlusion, Layer::Height],
    ]
    .concat();
    written(200, None, &layers, &whole);
    written(200, Some(64), &layers, &tiles);
    let mut stems: HashMap<String, usize> = HashMap::new();
    for entry in std::fs::read_dir(&whole).expect("files") {
        let path = entry.expect("a file").path();
        let ending = path
            .extension()
            .and_then(|e| e.to_str())
            .expect("an ending");
        if ending == "json" {
            continue;
        }
        let stem = path.file_stem().and_then(|s| s.to_str()).expect("a name");
        if ending == "pgw" {
            let [whole, part] = [path.clone(), tiles.join(format!("{stem}-x2-y1.pgw"))].map(world);
            // Two tiles of 64 cells to the east, one to the south.
            let [x, y] = [whole[0], whole[3]];
            let expected = [x, 0.0, 0.0, y, whole[4] + 128.0 * x, whole[5] + 64.0 * y];
            assert_eq!(part, expected, "{stem}");
            continue;
        }
        let all = read(&path);
        let (cols, rows) = (all.channels[0].cols(), all.channels[0].rows());
        for (y, row) in (0..rows).step_by(64).enumerate() {
            for (x, col) in (0..cols).step_by(64).enumerate() {
                let part = read(&tiles.join(format!("{stem}-x{x}-y{y}.{ending}")));
                let size = (64.min(cols - col), 64.min(rows - row));
                for (part, all) in part.channels.iter().zip(&all.channels) {
                    assert_eq!(
                        *part,
                        all.cropped(col, row, size.0, size.1),
                        "{stem}, {x}, {y}"
                    );
                }
                *stems.entry(format!("{stem}.{ending}")).or_default() += 1;
            }
        }
    }
    // 200 × 133 cells are four by three tiles.
    assert!(stems.len() > 14, "{stems:?}");
    assert!(stems.values().all(|count| *count == 12), "{stems:?}");
    assert!(tiles.join("tiles.json").exists());
}

/// Over all files the weights of a cell sum to exactly 65,535 and 255, and the
/// id is that of the greatest.
#[test]
fn weights_sum_to_white_in_every_cell() {
    let dir = tempfile::tempdir().expect("a folder");
    written(
        160,
        None,
        &[Layer::Covers, Layer::Weights, Layer::Id],
        dir.path(),
    );
    let covers: Vec<Picture> = (1..=6)
        .map(|k| read(&dir.path().join(format!("cover-{k}.png"))))
        .collect();
    let bytes: Vec<Picture> = (1..=2)
        .map(|k| read(&dir.path().join(format!("weights-{k}.png"))))
        .collect();
    let id = read(&dir.path().join("id.png"));
    for cell in 0..covers[0].channels[0].values().len() {
        let values: Vec<f32> = covers
            .iter()
            .map(|c| c.channels[0].values()[cell])
            .collect();
        assert_eq!(values.iter().sum::<f32>(), 65_535.0);
        let four = bytes.iter().flat_map(|picture| &picture.channels);
        assert_eq!(
            four.map(|channel| channel.values()[cell]).sum::<f32>(),
            255.0
        );
        let most = values[id.channels[0].values()[cell] as usize];
        assert!(values.iter().all(|value| *value <= most + 1.0));
    }
}

/// OpenGL's green is up and DirectX's is down (common practice); nothing else
/// differs.
#[test]
fn normals_differ_in_green_alone() {
    let dir = tempfile::tempdir().expect("a folder");
    written(120, None, &[Layer::Normal, Layer::NormalDown], dir.path());
    let (up, down) = (
        read(&dir.path().join("normal.png")),
        read(&dir.path().join("normal-down.png")),
    );
    assert_eq!(up.channels[0], down.channels[0]);
    assert_eq!(up.channels[2], down.channels[2]);
    let turned = up.channels[1].map(|v| 255.0 - v);
    assert_eq!(turned, down.channels[1]);
}

#[test]
fn a_stopped_delivery_leaves_no_half_file() {
    let dir = tempfile::tempdir().expect("a folder");
    let order = order(&demo(), 96, None, &MAPS);
    // Once the land has grown.
    assert!(stopped_at(0.59, &order, dir.path()));
    let left = std::fs::read_dir(dir.path()).map_or(0, |entries| {
        let partial = |name: std::ffi::OsString| name.to_string_lossy().ends_with(".partial");
        entries
            .filter(|entry| partial(entry.as_ref().expect("a file").file_name()))
            .count()
    });
    assert_eq!(left, 0);
}

/// Breaking up a texture swings its height beyond what the texture has; the map's
/// range holds all of it, and its side file says how far black and white are.
#[test]
fn displacement_is_not_cut_off() {
    let dir = tempfile::tempdir().expect("a folder");
    let document = serde_json::json!({
        "version": 1, "name": "Level", "extent": { "width_m": 60, "depth_m": 60 },
        "strands": [{ "name": "land", "steps": [] }],
        "covers": [{ "id": "a", "name": "Rock", "colour": "#777777", "material": "granite",
            "displacement_m": 4, "texture": { "size_m": 10, "broken_up": true } }],
    });
    let recipe = Recipe::from_value(document).expect("valid");
    let order = order(&recipe, 512, None, &[Layer::Displacement]);
    deliver_all(&recipe, &order, dir.path()).expect("delivers");
    let map = read(&dir.path().join("displacement.png"));
    let (low, high) = map.channels[0].range();
    assert!(low > 0.0 && high < 65_535.0, "cut off at {low} or {high}");
    let side = std::fs::read_to_string(dir.path().join("displacement.json")).expect("there");
    let side: serde_json::Value = serde_json::from_str(&side).expect("JSON");
    let white = side["white_m"].as_f64().expect("metres");
    // √3 − ½ of four metres, either way.
    assert!((white - 4.0 * (3_f64.sqrt() - 0.5)).abs() < 1e-4, "{white}");
}

/// Stopped at any moment, what is there is whole: no file is left half written, and
/// nothing that was not ordered.
#[test]
fn what_is_stopped_leaves_whole_files_alone() {
    let layers = [
        Layer::Height,
        Layer::Slope,
        Layer::Weights,
        Layer::Albedo,
        Layer::Normal,
    ];
    let mut counts = Vec::new();
    for stop_at in [0.05, 0.3, 0.61, 0.65, 0.69] {
        let dir = tempfile::tempdir().expect("a folder");
        let order = order(&demo(), 160, Some(64), &layers);
        let stopped = stopped_at(stop_at, &order, dir.path());
        assert!(stopped, "it was not stopped at {stop_at}");
        let files: Vec<_> = std::fs::read_dir(dir.path())
            .expect("files")
            .map(|entry| entry.expect("a file").path())
            .collect();
        for path in &files {
            match path.extension().and_then(|ending| ending.to_str()) {
                Some("json") => {
                    let bytes = std::fs::read(path).expect("there");
                    let said: Result<serde_json::Value, _> = serde_json::from_slice(&bytes);
                    assert!(said.is_ok(), "{}", path.display());
                }
                _ => drop(read(path)),
            }
        }
        counts.push(files.len());
    }
    assert!(
        counts.windows(2).all(|pair| pair[0] <= pair[1]),
        "{counts:?}"
    );
    assert!(counts[4] > 0, "{counts:?}");
}
