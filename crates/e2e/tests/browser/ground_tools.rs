//! Weight maps in, all maps out, ready covers and what is done to the whole
//! ground, from the page.

use std::io::Read;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use e2e::{Service, test_id};
use formats::{Limits, Picture, read_picture};
use terrain::Grid;

const REVISION: &str = "[data-testid=kept]";

/// Waits for a file with this ending that is all there.
async fn downloaded(folder: &Path, ending: &str) -> Result<PathBuf> {
    let start = Instant::now();
    while start.elapsed() < Duration::from_secs(30) {
        for entry in std::fs::read_dir(folder)? {
            let path = entry?.path();
            if path.extension().is_some_and(|found| found == ending) {
                return Ok(path);
            }
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("nothing was downloaded")
}

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
    let path = downloaded(service.folder(), "zip").await?;
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
    let file = downloaded(service.folder(), "png").await?;
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
