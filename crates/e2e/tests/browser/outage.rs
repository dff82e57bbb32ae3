//! What the page does when others are in the way: no database, other writers, a
//! landscape that is gone.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

const HEIGHT: &str = "[data-testid='massif.height_m']";
const REVISION: &str = "[data-testid=kept]";
const ARROW_UP: char = '\u{e013}';

/// An edit that cannot be kept is held, shown and sent again.
#[tokio::test(flavor = "multi_thread")]
async fn an_edit_outlasts_an_outage_of_the_database() -> Result<()> {
    let service = Service::start("outage").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-massif")).await?;
    service.database_answers(false).await?;
    browser.fill(HEIGHT, "1300").await?;
    let said = browser
        .until(&test_id("away"), |text| !text.is_empty())
        .await?;
    ensure!(said.contains("held here and sent again"), "{said}");
    browser.until(REVISION, |text| text == "keeping …").await?;
    // The land shows what is meant, and another edit can be made meanwhile.
    browser.fill(HEIGHT, "1350").await?;
    browser
        .until(&test_id("away"), |text| text.contains("2 edits are held"))
        .await?;
    service.database_answers(true).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    browser.until_gone(&test_id("away")).await?;
    browser.reload().await?;
    browser.grown().await?;
    browser.click(&test_id("open-massif")).await?;
    let kept = browser.find(HEIGHT).await?.prop("value").await?;
    ensure!(kept.as_deref() == Some("1350"), "{kept:?}");
    browser.close().await
}

/// A key that is held is one edit, however often it repeats; so undo takes all of it.
#[tokio::test(flavor = "multi_thread")]
async fn a_held_arrow_key_is_one_edit() -> Result<()> {
    let service = Service::start("held").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-massif")).await?;
    let before = browser.find(HEIGHT).await?.prop("value").await?;
    browser.find(HEIGHT).await?.click().await?;
    browser.repeat(ARROW_UP, 12).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    let after = browser.find(HEIGHT).await?.prop("value").await?;
    ensure!(before != after, "{before:?} stayed");
    browser.click(&test_id("undo")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 1")
        .await?;
    let back = browser.find(HEIGHT).await?.prop("value").await?;
    ensure!(back == before, "{back:?} is not {before:?}");
    browser.close().await
}

/// Two windows, one landscape: both end with the edits of both, and are told when it
/// is deleted.
#[tokio::test(flavor = "multi_thread")]
async fn two_windows_end_with_the_same_land() -> Result<()> {
    let service = Service::start("both").await?;
    let one = service.open_demo().await?;
    let two = service.open_demo().await?;
    one.click(&test_id("open-massif")).await?;
    two.click(&test_id("open-massif")).await?;
    for k in 0..3 {
        let (a, b) = (format!("{}", 1000 + k), format!("{}", 2000 + k));
        let (first, second) = tokio::join!(
            one.fill(HEIGHT, &a),
            two.fill("[data-testid='massif.feature_m']", &b)
        );
        first?;
        second?;
    }
    for browser in [&one, &two] {
        browser
            .until(REVISION, |text| text == "kept as revision 7")
            .await?;
        let height = browser.find(HEIGHT).await?.prop("value").await?;
        let feature = browser.find("[data-testid='massif.feature_m']").await?;
        let feature = feature.prop("value").await?;
        ensure!(height.as_deref() == Some("1002"), "{height:?}");
        ensure!(feature.as_deref() == Some("2002"), "{feature:?}");
    }
    let gone =
        "return fetch('/api' + location.pathname, { method: 'DELETE' }).then((a) => a.status)";
    one.script(gone, vec![]).await?;
    for browser in [&one, &two] {
        browser
            .until("main p", |text| text.contains("not here any more"))
            .await?;
    }
    two.close().await?;
    one.close().await
}

/// An address at which there is nothing has a page that says so.
#[tokio::test(flavor = "multi_thread")]
async fn an_unknown_address_says_so() -> Result<()> {
    let service = Service::start("address").await?;
    let browser = Browser::open(service.folder()).await?;
    browser.go(&service.page("/nowhere/at/all")).await?;
    browser
        .until("main h1", |text| text.contains("nothing at this address"))
        .await?;
    browser.follow("To the shelf").await?;
    browser.follow("Hollin Fjord").await?;
    browser.close().await
}
