//! Erosion from the page: rivers and snow on the demo, their traces, stopping.

use anyhow::{Result, ensure};
use e2e::{Service, test_id};

const MEAN: &str = "[data-testid=mean-height]";
const REVISION: &str = "[data-testid=kept]";

#[tokio::test(flavor = "multi_thread")]
async fn rivers_and_snow_leave_ledgers_and_traces_and_can_be_undone() -> Result<()> {
    let service = Service::start("erosion").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;

    // Before rivers wear the land down: little of it is high enough for snow afterwards.
    browser.click(&test_id("add-step")).await?;
    browser.fill(&test_id("find-kind"), "snow falls").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    let snow = browser.grown_since("complete 1").await?;
    browser
        .until("[aria-label='Mass balance']", |text| {
            text.contains("Brought in")
        })
        .await?;

    browser.click(&test_id("add-step")).await?;
    browser.fill(&test_id("find-kind"), "river network").await?;
    browser.grown_since(&snow).await?;
    browser.until(MEAN, |text| text != mean).await?;
    // The band of the snow gave way to this one.
    let ledger = browser
        .until("[aria-label='Mass balance']", |text| {
            text.contains("Eroded") && !text.contains("Brought in")
        })
        .await?;
    ensure!(
        ledger.contains("Carried off the land"),
        "the ledger reads ‘{ledger}’"
    );

    // What was left behind can be shown instead of the ground.
    browser.open_menu("look-menu").await?;
    browser.choose(&test_id("show-trace"), "drainage").await?;
    browser.open_menu("look-menu").await?;
    browser.choose(&test_id("show-trace"), "change").await?;
    browser.grown().await?;

    // Stopping keeps what is shown and changes nothing that is kept.
    browser.click(&test_id("open-rain")).await?;
    browser.fill(&test_id("rain.duration"), "3000").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;
    browser.click(&test_id("stop-growing")).await?;
    browser
        .until("[data-sonner-toast]", |text| text.contains("Stopped"))
        .await?;
    for revision in [3, 2, 1] {
        browser.click(&test_id("undo")).await?;
        let kept = format!("kept as revision {revision}");
        browser.until(REVISION, |text| text == kept).await?;
    }
    browser.until(MEAN, |text| text == mean).await?;
    browser.close().await
}

/// Outcrops are laid in, a second rain spares them, the change is looked at
/// beside the moment before, and taken back.
#[tokio::test(flavor = "multi_thread")]
async fn a_second_rain_spares_outcrops() -> Result<()> {
    let service = Service::start("outcrops").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;

    browser.click(&test_id("add-step")).await?;
    // It has nothing to spare yet.
    let lay = browser.find(&test_id("lay-weathering")).await?;
    ensure!(
        lay.attr("disabled").await?.is_some(),
        "without outcrops there is nothing to spare"
    );
    browser.fill(&test_id("find-kind"), "rock outcrops").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    let outcrops = browser.grown_since("complete 1").await?;

    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("lay-weathering")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.grown_since(&outcrops).await?;
    browser
        .until("[aria-label='Mass balance']", |text| {
            text.contains("Deposited")
        })
        .await?;
    browser.open_menu("look-menu").await?;
    browser.click(&test_id("flow-lines")).await?;

    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("bench-moments")).await?;
    browser
        .click("[aria-label='Compare with revision 2']")
        .await?;
    browser
        .until(&test_id("compared"), |text| text == "against 2")
        .await?;
    browser.click(&test_id("compare-difference")).await?;
    browser
        .until(&test_id("difference"), |text| text.contains("RMS"))
        .await?;
    browser.click(&test_id("compare-end")).await?;
    for revision in [2, 1] {
        browser.click(&test_id("undo")).await?;
        let kept = format!("kept as revision {revision}");
        browser.until(REVISION, |text| text == kept).await?;
    }
    browser.until(MEAN, |text| text == mean).await?;
    browser.close().await
}
