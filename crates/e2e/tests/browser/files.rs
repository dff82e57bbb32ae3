//! Files in and out, through the page.

use std::io::Read;
use std::path::PathBuf;

use anyhow::{Context, Result, ensure};
use e2e::{Service, test_id};
use formats::{Limits, read_heightfield};

fn elevation_model() -> PathBuf {
    e2e::repository("crates/formats/tests/data/jacksboro.tif")
}

#[tokio::test(flavor = "multi_thread")]
async fn an_elevation_model_is_imported_eroded_covered_and_exported() -> Result<()> {
    let service = Service::start("import").await?;
    let browser = service.open_shelf().await?;
    browser.find("[data-testid=file-picker]").await?;
    browser
        .give_file("[data-testid=file-picker]", &elevation_model())
        .await?;
    // What it is and what it becomes is shown before anything is kept.
    browser.find(&test_id("import-preview")).await?;
    browser.click(&test_id("import-ground")).await?;
    browser.click(&test_id("import-keep")).await?;
    let before = browser.grown().await?;

    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("add-water")).await?;
    let after = browser.grown_since(&before).await?;
    ensure!(after != before, "erosion made no revision");
    browser
        .until("[aria-label='Mass balance']", |text| {
            text.contains("Eroded")
        })
        .await?;

    browser.click(&test_id("stage-ground")).await?;
    let rock = browser.content(&test_id("share-rock")).await?;
    ensure!(rock.ends_with('%'), "the share of rock reads ‘{rock}’");

    browser.click(&test_id("stage-deliver")).await?;
    browser.choose(&test_id("export-cells"), "256").await?;
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let path = service.downloaded("zip").await?;
    let mut archive = zip::ZipArchive::new(std::fs::File::open(&path)?)?;
    let mut bytes = Vec::new();
    archive
        .by_name("height.tif")
        .context("the heights")?
        .read_to_end(&mut bytes)?;
    let heights = read_heightfield(&bytes, Limits::default())?;
    let longer = heights.values.cols().max(heights.values.rows());
    ensure!(longer == 256, "{longer} cells along the longer side");
    // The heights of the model's region, give or take what rain moved.
    let (low, high) = heights.values.range();
    ensure!(
        (150.0..600.0).contains(&low) && (600.0..1200.0).contains(&high),
        "{low} to {high} m"
    );
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_is_no_heightfield_is_refused_and_nothing_is_stored() -> Result<()> {
    let service = Service::start("refused_file").await?;
    let browser = service.open_shelf().await?;
    browser.find("li a").await?;
    let shelf = browser.content("main ul").await?;

    let model = std::fs::read(elevation_model())?;
    let truncated = service.folder().join("truncated.tif");
    std::fs::write(&truncated, &model[..model.len() / 3])?;
    let text = service.folder().join("letter.png");
    std::fs::write(&text, "Dear artist, this is a letter.")?;
    let not_numbers = service.folder().join("holes.asc");
    std::fs::write(
        &not_numbers,
        "ncols 2\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 10\n1 2\nnan 4\n",
    )?;
    for file in [&truncated, &text, &not_numbers] {
        browser.give_file("[data-testid=file-picker]", file).await?;
        let toast = browser
            .until("[data-sonner-toast]", |text| !text.is_empty())
            .await?;
        ensure!(
            toast.len() > 20,
            "{} was answered with ‘{toast}’",
            file.display()
        );
        // Not with the mouse: the message may still be on its way in.
        let close = "document.querySelector('[data-sonner-toast] [data-close-button]').click()";
        browser.script(close, vec![]).await?;
        browser.until_gone("[data-sonner-toast]").await?;
    }
    browser.reload().await?;
    browser.find("li a").await?;
    ensure!(
        browser.content("main ul").await? == shelf,
        "the shelf has changed"
    );
    browser.close().await
}

/// What the steps of a land leave is on the list of files, and comes as it is in metres.
#[tokio::test(flavor = "multi_thread")]
async fn what_steps_leave_can_be_downloaded() -> Result<()> {
    let service = Service::start("left").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-deliver")).await?;
    browser.choose(&test_id("export-cells"), "256").await?;
    // All but what was worn and laid down.
    let left = "const layers = document.querySelectorAll('label:has([data-testid^=layer-])');
        return [...layers].map((label) => {
        const wanted = /^(Wear|Deposit)/.test(label.textContent);
        const box = label.querySelector('input');
        if (box.checked !== wanted) box.click();
        return label.textContent;
    })";
    browser.find(&test_id("layer-wear")).await?;
    let listed = browser.script(left, vec![]).await?;
    let listed: Vec<String> = serde_json::from_value(listed)?;
    ensure!(listed.iter().any(|title| title == "Wear"), "{listed:?}");
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let path = service.downloaded("zip").await?;
    let mut archive = zip::ZipArchive::new(std::fs::File::open(&path)?)?;
    let names: Vec<String> = (0..archive.len())
        .map(|i| Ok(archive.by_index(i)?.name()?.into_owned()))
        .collect::<Result<_>>()?;
    let (list, fields): (Vec<String>, Vec<String>) =
        names.into_iter().partition(|name| name == "manifest.json");
    ensure!(
        list.len() == 1
            && (fields == ["wear.tif", "deposit.tif"] || fields == ["deposit.tif", "wear.tif"]),
        "{fields:?}"
    );
    for name in fields {
        let mut bytes = Vec::new();
        archive.by_name(&name)?.read_to_end(&mut bytes)?;
        let field = formats::read_heightfield(&bytes, formats::Limits::default())?;
        let (low, high) = field.values.range();
        ensure!(
            low >= 0.0 && high > 1.0,
            "{name} goes from {low} to {high} m"
        );
    }
    browser.close().await
}
