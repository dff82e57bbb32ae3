//! Masks of the ground from the page.

use anyhow::{Result, ensure};
use e2e::{Service, test_id};

const REVISION: &str = "[data-testid=kept]";

/// The snow's mask is made from other readings, its range dragged on the
/// histogram, a bit of it painted out, and its share follows.
#[tokio::test(flavor = "multi_thread")]
async fn a_snow_mask_is_made_from_readings_and_painted_out() -> Result<()> {
    let service = Service::start("masks").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-snow")).await?;
    let share = test_id("share-snow");
    let before = browser.content(&share).await?;

    // A fourth reading: snow stays where little sun falls.
    browser.click(&test_id("snow.add-reading")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser
        .choose(&test_id("snow.3.reading"), "sunlight")
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    let shaded = browser.until(&share, |text| text != before).await?;

    // The lower end of the height's range is dragged up on the histogram.
    browser
        .drag(&test_id("snow.0.from"), &[(8.0, 0.0), (8.0, 0.0)], true)
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;
    let higher = browser.until(&share, |text| text != shaded).await?;
    let percent = |text: &str| {
        text.trim_end_matches(" %")
            .parse::<f64>()
            .unwrap_or(f64::NAN)
    };
    ensure!(
        percent(&higher) < percent(&shaded),
        "{shaded}, then {higher}"
    );

    // What is painted is taken away: a fifth reading, subtracted.
    browser.click(&test_id("snow.add-reading")).await?;
    browser
        .choose(&test_id("snow.4.reading"), "painted")
        .await?;
    browser
        .until(REVISION, |text| text == "kept as revision 6")
        .await?;
    browser.choose(&test_id("snow.4.join"), "subtract").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 7")
        .await?;
    let higher = browser.until(&share, |text| text == higher).await?;
    browser.click(&test_id("show-plan")).await?;
    browser.click(&test_id("paint")).await?;
    browser
        .drag(
            &test_id("plan"),
            &[(60.0, 10.0), (60.0, -20.0), (40.0, 0.0)],
            true,
        )
        .await?;
    browser
        .until(&test_id("strokes"), |text| text == "1 stroke")
        .await?;
    let painted = browser.until(&share, |text| text != higher).await?;
    browser.click(&test_id("undo")).await?;
    browser.until(&share, |text| text != painted).await?;
    browser.close().await
}
