//! Weight maps in, all maps out, ready covers and what is done to the whole
//! ground, from the page.

use std::io::Read;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result, ensure};
use e2e::{Browser, Service, test_id};
use formats::{Limits, Picture, read_picture};
use terrain::Grid;

const REVISION: &str = "[data-testid=kept]";

/// A weight map whose three channels are stripes from west to east.
fn weights(path: &Path) -> Result<()> {
    let map = Grid::by_rows(120, 80, |_, row: &mut [[u8; 3]]| {
        for (c, pixel) in row.iter_mut().enumerate() {
            pixel[match c {
                0..60 => 0,
                60..96 => 1,
                _ => 2,
            }] = 255;
        }
    });
    formats::write_rgb8(std::fs::File::create(path)?, &map)?;
    Ok(())
}

/// A weight map makes three grounds that take what its channels say. All maps
/// are exported again in tiles: the weights in them are those of the picture.
#[tokio::test(flavor = "multi_thread")]
async fn a_weight_map_comes_in_and_all_maps_go_out() -> Result<()> {
    let service = Service::start("weights").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    let file = service.folder().join("country.png");
    weights(&file)?;
    browser.click(&test_id("add-ground")).await?;
    browser.give_file(&test_id("import-weights"), &file).await?;
    browser.click(&test_id("weights-take")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    for (cover, wanted) in [
        ("weights-1", 50.0),
        ("weights-2", 30.0),
        ("weights-3", 20.0),
    ] {
        let near = |text: &str| {
            let percent = text.trim_end_matches(" %").parse::<f64>();
            percent.is_ok_and(|percent| (percent - wanted).abs() < 1.0)
        };
        browser
            .until(&test_id(&format!("share-{cover}")), near)
            .await?;
    }
    // The third is dragged below the second, which then hides what it had.
    browser.click(&test_id("open-weights-3")).await?;
    browser
        .drag(&test_id("grip-weights-3"), &[(0.0, 8.0); 6], true)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.click(&test_id("undo")).await?;

    browser.click(&test_id("stage-deliver")).await?;
    browser.choose(&test_id("export-cells"), "256").await?;
    browser.choose(&test_id("export-tile"), "128").await?;
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let path = service.downloaded("zip").await?;
    let mut archive = zip::ZipArchive::new(std::fs::File::open(&path)?)?;
    let mut read = |name: &str| -> Result<Picture> {
        let mut bytes = Vec::new();
        archive
            .by_name(name)
            .with_context(|| name.to_owned())?
            .read_to_end(&mut bytes)?;
        Ok(read_picture(&bytes, Limits::default())?)
    };
    for (map, channels) in [
        ("albedo", 3),
        ("normal", 3),
        ("normal-down", 3),
        ("roughness", 1),
        ("displacement", 1),
        ("occlusion", 1),
        ("id", 1),
        ("plan", 3),
        ("height", 1),
        ("hillshade", 1),
    ] {
        for (tile, cols, rows) in [("x0-y0", 128, 128), ("x1-y1", 128, 43)] {
            let picture = read(&format!("{map}-{tile}.png"))?;
            let size = (picture.channels[0].cols(), picture.channels[0].rows());
            ensure!(size == (cols, rows), "{map} {tile} has {size:?} cells");
            ensure!(picture.channels.len() == channels, "{map}");
        }
    }
    // Nine grounds, three pictures of four; the imported ones are the last three
    // and hide the others.
    let west = [read("weights-2-x0-y0.png")?, read("weights-3-x0-y0.png")?];
    let east = [read("weights-2-x1-y0.png")?, read("weights-3-x1-y0.png")?];
    let at = |pictures: &[Picture; 2], c: usize| {
        let layers = [
            &pictures[0].channels[2],
            &pictures[0].channels[3],
            &pictures[1].channels[0],
        ];
        layers.map(|layer| layer.at(c, 60))
    };
    ensure!(at(&west, 40) == [255.0, 0.0, 0.0], "{:?}", at(&west, 40));
    ensure!(at(&east, 40) == [0.0, 255.0, 0.0], "{:?}", at(&east, 40));
    ensure!(at(&east, 110) == [0.0, 0.0, 255.0], "{:?}", at(&east, 110));
    browser.close().await
}

/// A ready cover is laid with one click and looked at alone; its mask is fetched
/// as a file; a wash and a wet shore are added and taken back.
#[tokio::test(flavor = "multi_thread")]
async fn ready_covers_and_the_whole_ground() -> Result<()> {
    let service = Service::start("ready").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("add-ground")).await?;
    browser.click(&test_id("lay-silt-on-flats")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    // A coarse picture comes first, and says a little more or less.
    browser.grown_since("complete 1").await?;
    let share = test_id("share-silt-1");
    let takes = browser.until(&share, |text| text.ends_with(" %")).await?;
    browser.click(&test_id("solo-silt-1")).await?;
    browser
        .until(&test_id("whole-land"), |text| text.contains("alone"))
        .await?;
    browser.until(&share, |text| text.ends_with(" %")).await?;
    browser.click(&test_id("whole-land")).await?;
    browser.until(&share, |text| text == takes).await?;

    let mask = test_id("silt-1.download");
    let script =
        "const link = document.querySelector(arguments[0]); link.closest('details').open = true;";
    browser.script(script, vec![mask.clone().into()]).await?;
    browser.click(&mask).await?;
    let file = service.downloaded("png").await?;
    let picture = read_picture(&std::fs::read(file)?, Limits::default())?;
    ensure!(picture.channels.len() == 1 && picture.channels[0].cols() == 1024);
    let (low, high) = picture.channels[0].range();
    ensure!(low == 0.0 && high > 60_000.0, "{low} to {high} of 65,535");

    browser.click(&test_id("add-wash")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.find(&test_id("wash-wash-1")).await?;
    browser.click(&test_id("hollows")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;
    browser.click(&test_id("undo")).await?;
    browser.click(&test_id("undo")).await?;
    browser.until_gone(&test_id("wash-wash-1")).await?;
    browser.close().await
}

/// A set of maps becomes the material of a cover: which is which is told by the
/// names of the files, and the land takes their colour.
#[tokio::test(flavor = "multi_thread")]
async fn a_set_of_maps_becomes_a_material() -> Result<()> {
    let service = Service::start("maps").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("show-plan")).await?;
    let before = redness(&browser).await?;
    browser.click(&test_id("open-rock")).await?;
    browser.choose(&test_id("rock.material"), "images").await?;
    // Looked at alone, it is all of the land.
    browser.click(&test_id("solo-rock")).await?;
    browser
        .until(&test_id("whole-land"), |text| text.contains("alone"))
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;

    let brick = |_: usize| [200, 60, 30];
    let level = |_: usize| [128, 128, 255];
    let coarse = |c: usize| [if c % 16 < 8 { 40 } else { 220 }; 3];
    let file = |name: &str, colour: &dyn Fn(usize) -> [u8; 3]| -> Result<PathBuf> {
        let map = Grid::from_vec(64, 64, (0..64 * 64).map(|i| colour(i % 64)).collect())?;
        let path = service.folder().join(name);
        formats::write_rgb8(std::fs::File::create(&path)?, &map)?;
        Ok(path)
    };
    let set = [
        file("brick_albedo.png", &brick)?,
        file("brick_nrm.png", &level)?,
        file("brick_height.png", &coarse)?,
        file("brick_rough.png", &coarse)?,
    ];
    let set: Vec<&Path> = set.iter().map(PathBuf::as_path).collect();
    browser.give_files(&test_id("rock.maps"), &set).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    for map in ["albedo", "normal", "height", "roughness"] {
        let known = format!("[data-testid='rock.map-{map}'][aria-label$=change]");
        browser.find(&known).await?;
    }
    browser
        .until(&test_id("complete"), |text| text == "complete 3")
        .await?;
    let after = redness(&browser).await?;
    ensure!(after > before + 25.0, "{before}, then {after}");
    browser.click(&test_id("undo")).await?;
    browser.grown_since("complete 3").await?;
    let undone = redness(&browser).await?;
    ensure!(undone < after - 25.0, "{after}, then {undone}");
    browser.close().await
}

/// How much more red than blue the plan has, of 255.
async fn redness(browser: &Browser) -> Result<f64> {
    let script = "const plan = document.querySelector('[data-testid=plan]');
        const canvas = plan.matches('canvas') ? plan : plan.querySelector('canvas');
        const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
        let sum = 0;
        for (let i = 0; i < data.length; i += 4) sum += data[i] - data[i + 2];
        return sum / (data.length / 4);";
    let found = browser.script(script, vec![]).await?;
    found.as_f64().context("a number")
}

/// Alpha that is full everywhere is no fourth ground, unless somebody says so; and what is
/// left out is not laid.
#[tokio::test(flavor = "multi_thread")]
async fn opaque_alpha_is_no_ground() -> Result<()> {
    let service = Service::start("alpha").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    let map = Grid::by_rows(64, 48, |_, row: &mut [[u8; 4]]| {
        for (c, pixel) in row.iter_mut().enumerate() {
            *pixel = if c < 32 {
                [255, 0, 0, 255]
            } else {
                [0, 255, 0, 255]
            };
        }
    });
    let file = service.folder().join("opaque.png");
    formats::write_rgba8(std::fs::File::create(&file)?, &map)?;
    browser.click(&test_id("add-ground")).await?;
    browser.give_file(&test_id("import-weights"), &file).await?;
    browser.find(&test_id("weights-3")).await?;
    let ticked = "return [0, 1, 2, 3].map((k) =>
        document.querySelector(`[data-testid=weights-${k}]`).checked)";
    let found = browser.script(ticked, vec![]).await?;
    ensure!(
        found == serde_json::json!([true, true, true, false]),
        "{found}"
    );
    browser.click(&test_id("weights-2")).await?;
    browser.click(&test_id("weights-take")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    let grounds = "return document.querySelectorAll('[data-testid^=cover-weights]').length";
    ensure!(browser.script(grounds, vec![]).await? == 2);
    for cover in ["weights-1", "weights-2"] {
        browser
            .until(&test_id(&format!("share-{cover}")), |text| text == "50.0 %")
            .await?;
    }
    browser.close().await
}
