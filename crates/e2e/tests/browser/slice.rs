//! One landscape, looked at, changed, compared and taken back.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

const MEAN: &str = "[data-testid=mean-height]";
const REVISION: &str = "[data-testid=kept]";

#[tokio::test(flavor = "multi_thread")]
async fn an_edit_changes_the_land_and_is_kept() -> Result<()> {
    let service = Service::start("edit").await?;
    let browser = service.open_demo_in_relief().await?;
    let mean = browser.content(MEAN).await?;

    browser.click(&test_id("open-massif")).await?;
    browser.fill(&test_id("massif.height_m"), "1.4km").await?;
    let higher = browser.until(MEAN, |text| text != mean).await?;
    ensure!(
        higher.parse::<f64>()? > mean.parse::<f64>()?,
        "{mean} m became {higher} m"
    );
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;

    // A reload shows what was kept, not what the page remembered.
    browser.grown().await?;
    let full = browser.content(MEAN).await?;
    browser.reload().await?;
    browser.grown().await?;
    browser.until(MEAN, |text| text == full).await?;

    browser.click(&test_id("undo")).await?;
    browser.until(MEAN, |text| text == mean).await?;
    browser
        .key(&[Browser::CONTROL, Browser::SHIFT], 'z')
        .await?;
    browser.until(MEAN, |text| text == full).await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dragged_slider_shows_the_land_before_it_is_let_go() -> Result<()> {
    let service = Service::start("drag").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;
    browser.click(&test_id("open-massif")).await?;
    let slider = "[aria-label='Height, slider']";
    browser
        .drag(slider, &[(8.0, 0.0), (8.0, 0.0), (8.0, 0.0)], false)
        .await?;
    browser.until(MEAN, |text| text != mean).await?;
    browser.until(REVISION, |text| text == "keeping …").await?;
    browser.release_mouse().await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn two_windows_stay_in_step() -> Result<()> {
    let service = Service::start("windows").await?;
    let here = service.open_demo().await?;
    let there = service.open_demo().await?;
    let mean = there.content(MEAN).await?;
    here.click(&test_id("open-massif")).await?;
    here.fill(&test_id("massif.height_m"), "500").await?;
    there.until(MEAN, |text| text != mean).await?;
    there
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;

    // Held, a key shows the land as it was; let go, as it is.
    there.grown().await?;
    let lower = there.content(MEAN).await?;
    there.click("h1").await?;
    there.hold('b', true).await?;
    there.until(MEAN, |text| text == mean).await?;
    there.hold('b', false).await?;
    there.until(MEAN, |text| text == lower).await?;
    there.key(&[], '?').await?;
    there
        .until("dialog[aria-label='Help and preferences']", |text| {
            text.contains("Undo")
        })
        .await?;
    here.close().await?;
    there.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_value_out_of_range_is_refused_in_words() -> Result<()> {
    let service = Service::start("refusal").await?;
    let browser = service.open_demo().await?;
    let mean = browser.content(MEAN).await?;
    browser.click(&test_id("open-massif")).await?;
    browser.fill(&test_id("massif.octaves"), "99").await?;
    // Where it was typed, by the name that it has there.
    browser
        .until("[data-testid=band-massif] [role=alert]", |text| {
            text == "Octaves can be 0.1 to 16."
        })
        .await?;
    // Whoever sends it in spite of that is refused in the same words.
    let send = "
        const id = location.pathname.split('/').pop();
        const path = '/strands/0/steps/1/do/noise/octaves';
        const body = { base: 1, label: '', patch: [{ op: 'replace', path, value: 99 }] };
        return fetch(`/api/landscapes/${id}/edits`, { method: 'POST',
            headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
            .then((answer) => answer.json()).then(({ detail }) => detail);";
    let said = browser.script(send, vec![]).await?;
    ensure!(
        said == "step ‘Massif’: Octaves is 99; it can be 0.1 to 16",
        "said: {said}"
    );
    browser
        .until(REVISION, |text| text == "kept as revision 1")
        .await?;
    browser.until(MEAN, |text| text == mean).await?;
    browser.close().await
}
