//! The stage Form: strands, sheets, comparing, core samples, the survey.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

const MEAN: &str = "[data-testid=mean-height]";
const REVISION: &str = "[data-testid=kept]";

/// Whether the legend of a difference and the tools beside it lie apart.
const APART: &str = "
    const box = (id) => document.querySelector(`[data-testid=${id}]`).getBoundingClientRect();
    const [legend, tools] = ['difference', 'compare-tools'].map(box);
    return legend.bottom <= tools.top || legend.right <= tools.left";

#[tokio::test(flavor = "multi_thread")]
async fn a_piece_is_built_in_a_strand_taken_in_and_renamed() -> Result<()> {
    let service = Service::start("strands").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;

    browser.click(&test_id("add-strand")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser.click(&test_id("add-step")).await?;
    browser.fill(&test_id("find-kind"), "primitive").await?;
    browser
        .until(&test_id("band-primitive-1"), |text| {
            text.contains("Primitive")
        })
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.grown().await?;

    browser.click(&test_id("strand-land")).await?;
    browser.until(MEAN, |text| text == mean).await?;
    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("add-take_in")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;
    browser.until(MEAN, |text| text != mean).await?;
    browser.grown().await?;
    let with_piece = browser.content(MEAN).await?;

    // Renaming the strand keeps what takes it in.
    browser.click(&test_id("strand-piece 1")).await?;
    browser.fill(&test_id("strand-name"), "spire").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 5")
        .await?;
    browser.click(&test_id("strand-land")).await?;
    browser
        .until(&test_id("band-take_in-1"), |text| text.contains("spire"))
        .await?;
    browser.until(MEAN, |text| text == with_piece).await?;

    // A strand that would take in itself is refused, with the way around.
    browser.click(&test_id("strand-spire")).await?;
    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("add-take_in")).await?;
    let toast = browser
        .until("[data-sonner-toast]", |text| !text.is_empty())
        .await?;
    ensure!(toast.contains("take in itself"), "said: {toast}");
    browser
        .until(REVISION, |text| text == "kept as revision 5")
        .await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_variant_is_chosen_from_a_sheet_and_compared_with_before() -> Result<()> {
    let service = Service::start("sheet").await?;
    let browser = service.open_demo().await?;
    let before = browser.grown().await?;
    browser.click(&test_id("open-massif")).await?;
    browser.click(&test_id("sheet-massif")).await?;
    browser
        .until(&test_id("sheet-took"), |text| text.contains("16 variants"))
        .await?;
    browser.click(&test_id("variant-4")).await?;
    browser.click(&test_id("adopt-closer")).await?;
    browser.grown_since(&before).await?;
    let seed = browser
        .find(&test_id("massif.seed"))
        .await?
        .prop("value")
        .await?;
    ensure!(seed.as_deref() == Some("5"), "the seed is {seed:?}");

    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("bench-moments")).await?;
    browser.fill(&test_id("moment-name"), "Seed five").await?;
    browser
        .until("[aria-label=Bench]", |text| text.contains("Seed five"))
        .await?;
    browser
        .click("[aria-label='Compare with revision 1']")
        .await?;
    browser
        .until(&test_id("compared"), |text| text == "against 1")
        .await?;
    browser
        .drag(&test_id("divider"), &[(-120.0, 0.0), (-60.0, 0.0)], true)
        .await?;
    let at = browser
        .find(&test_id("divider"))
        .await?
        .attr("aria-valuenow")
        .await?;
    ensure!(
        at.as_deref().is_some_and(|at| at != "50"),
        "the divider stays at {at:?}"
    );
    browser.click(&test_id("compare-side")).await?;
    browser.find(&test_id("side-by-side")).await?;
    browser.click(&test_id("compare-difference")).await?;
    let said = browser
        .until(&test_id("difference"), |text| text.contains("RMS"))
        .await?;
    ensure!(
        said.contains("since revision 1"),
        "the legend reads ‘{said}’"
    );
    let apart = browser.script(APART, vec![]).await?;
    ensure!(apart == true, "the tools lie over the legend");
    browser.click(&test_id("compare-end")).await?;
    browser.until_gone(&test_id("compare-tools")).await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_core_sample_leads_to_the_step_that_did_it() -> Result<()> {
    let service = Service::start("core").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("show-plan")).await?;
    browser.click(&test_id("tool-core")).await?;
    browser.click(&test_id("plan")).await?;
    let log = browser
        .until(&test_id("core-log"), |text| text.contains("Massif"))
        .await?;
    ensure!(
        log.contains("Gneiss") && log.contains("Wear"),
        "the log reads ‘{log}’"
    );
    browser.click(&test_id("core-crags")).await?;
    browser.find(&test_id("crags.height_m")).await?;

    browser.click(&test_id("tool-ruler")).await?;
    browser
        .drag(&test_id("plan"), &[(60.0, 0.0), (60.0, 10.0)], true)
        .await?;
    let measured = browser
        .until(&test_id("ruler"), |text| text.contains("rise"))
        .await?;
    ensure!(
        measured.contains('m') && measured.contains('°'),
        "the ruler reads ‘{measured}’"
    );

    browser.click(&test_id("solo-crags")).await?;
    browser
        .until(&test_id("whole-land"), |text| text.contains("alone"))
        .await?;
    browser.click(&test_id("whole-land")).await?;
    browser.until_gone(&test_id("whole-land")).await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_survey_finds_a_mistake_and_its_fix_is_one_edit() -> Result<()> {
    let service = Service::start("survey").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("open-crags")).await?;
    browser.fill(&test_id("crags.octaves"), "16").await?;
    browser
        .until(&test_id("finding-octaves"), |text| {
            text.contains("finer than two cells")
        })
        .await?;
    browser.click(&test_id("fix-octaves")).await?;
    browser.until_gone(&test_id("finding-octaves")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_step_is_copied_into_another_landscape_and_the_sun_is_dragged() -> Result<()> {
    let service = Service::start("paste").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-massif")).await?;
    browser.click(&test_id("copy-massif")).await?;
    browser
        .drag(&test_id("sun-dial"), &[(10.0, 4.0), (6.0, 4.0)], true)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;

    browser.go(&service.page("/")).await?;
    browser.click(&test_id("preset-drumlin-field")).await?;
    browser.grown().await?;
    let mean = browser.content(MEAN).await?;
    browser.click(&test_id("paste-step")).await?;
    browser
        .until(&test_id("band-noise-1"), |text| text.contains("Massif"))
        .await?;
    browser.until(MEAN, |text| text != mean).await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_landscape_begins_with_a_kind_of_country() -> Result<()> {
    let service = Service::start("new").await?;
    let browser = service.open_demo().await?;
    browser.go(&service.page("/")).await?;
    browser.click(&test_id("new-landscape")).await?;
    browser.click(&test_id("land-rolling-hills")).await?;
    pictures_wait_for_each_other(&browser).await?;
    browser.press("2 : 1").await?;
    browser.fill(&test_id("new-width"), "6km").await?;
    browser.click(&test_id("make-landscape")).await?;
    browser.grown().await?;
    browser
        .until(&test_id("band-ages"), |text| {
            text.contains("Ages of rivers")
        })
        .await?;
    browser.go(&service.page("/")).await?;
    let made = browser.content("ul.divide-y > li").await?;
    ensure!(made.contains("Rolling hills"), "{made}");
    ensure!(made.contains("6000 × 3000 m"), "{made}");
    // An example from the shelf opens with its own name and steps.
    browser.click(&test_id("preset-example-canyon")).await?;
    browser.grown().await?;
    browser
        .until(&test_id("band-ages"), |text| text.contains("Rivers cut in"))
        .await?;
    // It is as fine at rest as was chosen last.
    browser.open_menu("look-menu").await?;
    let detail = "return document.querySelector('[data-testid=detail]').value";
    let detail = browser.script(detail, vec![]).await?;
    ensure!(detail == "512", "{detail} cells at rest");
    browser.close().await
}

/// No more pictures of land are asked for at once than leave connections for clicks.
async fn pictures_wait_for_each_other(browser: &Browser) -> Result<()> {
    browser.pictures("dialog[open]").await?;
    let most_at_once = "const pictures = performance.getEntriesByType('resource')
            .filter(({ name }) => name.includes('picture.png'));
        return Math.max(...pictures.map((one) => pictures.filter((other) =>
            other.startTime <= one.startTime && one.startTime < other.responseEnd).length))";
    let most = browser.script(most_at_once, vec![]).await?;
    ensure!(most == serde_json::json!(2), "{most} pictures at once");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn undo_goes_on_after_a_restart() -> Result<()> {
    let mut service = Service::start("restart").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;
    browser.click(&test_id("open-massif")).await?;
    browser.fill(&test_id("massif.height_m"), "1300").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    service.restart().await?;
    service.open_demo_in(&browser).await?;
    browser.click(&test_id("undo")).await?;
    browser.until(MEAN, |text| text == mean).await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_outline_is_drawn_a_curve_is_bent_and_a_file_becomes_a_step() -> Result<()> {
    let service = Service::start("editors").await?;
    let browser = service.open_demo().await?;

    browser.click(&test_id("add-step")).await?;
    browser
        .fill(&test_id("find-kind"), "cut to an outline")
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser.click(&test_id("edit-outline")).await?;
    let corner = "[data-testid=outline-editor] circle";
    browser
        .drag(corner, &[(12.0, 6.0), (14.0, 8.0)], true)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.click(&test_id("edit-outline")).await?;
    browser.until_gone(&test_id("outline-editor")).await?;

    // A point of the trough's response curve, dragged.
    browser.click(&test_id("open-trough")).await?;
    let point = "[data-testid=curve] circle:nth-of-type(5)";
    browser
        .drag(point, &[(0.0, -6.0), (0.0, -8.0)], true)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;

    let model = e2e::repository("crates/formats/tests/data/jacksboro.tif");
    browser.give_file(&test_id("step-file"), &model).await?;
    browser
        .until(&test_id("band-heightfield-1"), |text| {
            text.contains("Heightfield")
        })
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 5")
        .await?;

    // Copies of an image: choosing it asks for the file.
    browser.click(&test_id("add-step")).await?;
    browser
        .fill(&test_id("find-kind"), "scattered copies")
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 6")
        .await?;
    browser.choose(&test_id("strew-1.stamp"), "image").await?;
    browser
        .give_file(&test_id("strew-1.stamp.file"), &model)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 7")
        .await?;
    browser.close().await
}
