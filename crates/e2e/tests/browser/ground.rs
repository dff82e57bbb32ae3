//! Masks of the ground from the page.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

const REVISION: &str = "[data-testid=kept]";
const LEGEND: &str = "[aria-label=Legend]";

/// Waits until a revision is kept and its land is shown in full; what it says of
/// the share of the snow.
async fn share_at(browser: &Browser, revision: u32) -> Result<String> {
    let kept = format!("kept as revision {revision}");
    browser.until(REVISION, |text| text == kept).await?;
    let complete = format!("complete {revision}");
    browser
        .until(&test_id("complete"), |text| text == complete)
        .await?;
    browser.content(&test_id("share-snow")).await
}

/// The snow's mask is made from other readings, its range dragged on the
/// histogram, a bit of it painted out, and its share follows.
#[tokio::test(flavor = "multi_thread")]
async fn a_snow_mask_is_made_from_readings_and_painted_out() -> Result<()> {
    let service = Service::start("masks").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-snow")).await?;
    let share = test_id("share-snow");

    // A fourth reading: snow stays where little sun falls.
    browser.click(&test_id("snow.add-reading")).await?;
    let gentle = share_at(&browser, 2).await?;
    browser
        .choose(&test_id("snow.3.reading"), "sunlight")
        .await?;
    let shaded = share_at(&browser, 3).await?;
    ensure!(shaded != gentle, "another reading leaves {gentle}");

    // The lower end of the height's range is dragged up on the histogram.
    browser
        .drag(&test_id("snow.0.from"), &[(8.0, 0.0), (8.0, 0.0)], true)
        .await?;
    let higher = share_at(&browser, 4).await?;
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
    share_at(&browser, 5).await?;
    browser
        .choose(&test_id("snow.4.reading"), "painted")
        .await?;
    share_at(&browser, 6).await?;
    browser.choose(&test_id("snow.4.join"), "subtract").await?;
    let bare = share_at(&browser, 7).await?;
    ensure!(bare == higher, "without a stroke {bare}, before {higher}");
    browser.click(&test_id("show-plan")).await?;
    browser.click(&test_id("paint")).await?;
    // To and fro over the land, so that it crosses snow somewhere.
    let to_and_fro = [
        (-200.0, -160.0),
        (400.0, 50.0),
        (-400.0, 60.0),
        (400.0, 60.0),
        (-400.0, 60.0),
        (400.0, 60.0),
    ];
    browser.drag(&test_id("plan"), &to_and_fro, true).await?;
    browser
        .until(&test_id("strokes"), |text| text == "1 stroke")
        .await?;
    let painted = browser.until(&share, |text| text != higher).await?;
    browser.click(&test_id("undo")).await?;
    browser.until(&share, |text| text != painted).await?;
    browser.close().await
}

/// A cover gets another material and another place in the order; one stands on
/// the land and looks at it through another lens.
#[tokio::test(flavor = "multi_thread")]
async fn covers_are_made_of_materials_and_reordered() -> Result<()> {
    let service = Service::start("covers").await?;
    let browser = service.open_demo_in_relief().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-heath")).await?;
    browser.choose(&test_id("heath.material"), "moss").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser.fill(&test_id("heath.opacity"), "0.4").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    let share = test_id("share-heath");
    let before = browser.content(&share).await?;
    browser.click("[aria-label='Raise Heath']").await?;
    browser
        .until(REVISION, |text| text == "kept as revision 4")
        .await?;
    // Above the birch wood it shows where that hid it.
    browser.until(&share, |text| text != before).await?;

    // At rest the land becomes as fine as one likes.
    browser.open_menu("look-menu").await?;
    browser.choose(&test_id("detail"), "1024").await?;
    browser
        .until(&test_id("status"), |text| text.contains("1024 ×"))
        .await?;
    let preferred = "return JSON.parse(localStorage.getItem('preferences')).cellsAtRest";
    let preferred = browser.script(preferred, vec![]).await?;
    ensure!(preferred == 1024, "{preferred} cells for other landscapes");
    browser.open_menu("look-menu").await?;
    browser.choose(&test_id("detail"), "512").await?;

    browser.open_menu("camera-menu").await?;
    browser.choose(&test_id("lens"), "24").await?;
    browser.open_menu("camera-menu").await?;
    browser.choose(&test_id("frame"), "2:1").await?;
    browser.find(&test_id("frame-guide")).await?;
    browser.click(&test_id("stand")).await?;
    browser.click_at(&test_id("relief"), 0.45, 0.425).await?;
    browser
        .until(&test_id("stand"), |text| text.contains("Leave the ground"))
        .await?;

    // Steps with the arrow keys, long ones with Shift, as far as they say.
    let standing = test_id("standing");
    let first = place_of(&browser.until(&standing, |text| !text.is_empty()).await?)?;
    browser.key(&[Browser::SHIFT], ARROW_UP).await?;
    let moved = |from: Standing| {
        move |text: &str| place_of(text).is_ok_and(|now| (now.x, now.y) != (from.x, from.y))
    };
    let walked = place_of(&browser.until(&standing, moved(first)).await?)?;
    let (east, north) = (walked.x - first.x, walked.y - first.y);
    let bearing = first.bearing_deg.to_radians();
    ensure!(
        (east - HURRY_M * bearing.sin()).abs() <= 1.5
            && (north - HURRY_M * bearing.cos()).abs() <= 1.5,
        "looking to {}° a step goes {east} m east and {north} m north",
        first.bearing_deg
    );
    browser.key(&[], ARROW_RIGHT).await?;
    let turned = |text: &str| place_of(text).is_ok_and(|now| now.bearing_deg != first.bearing_deg);
    let turned = place_of(&browser.until(&standing, turned).await?)?;
    // A tenth of a radian.
    let turn = (turned.bearing_deg - first.bearing_deg).rem_euclid(360.0);
    ensure!((turn - 5.7).abs() <= 1.0, "turned by {turn}°");

    // Nothing but the land, until Escape.
    browser.click(&test_id("alone")).await?;
    browser.until_gone(LEGEND).await?;
    browser.find(&standing).await?;
    browser.key(&[], Browser::ESCAPE).await?;
    browser.find(LEGEND).await?;
    browser.close().await
}

/// Arrow keys by their WebDriver codes (W3C WebDriver, 17.4.2).
const ARROW_UP: char = '\u{e013}';
const ARROW_RIGHT: char = '\u{e014}';
/// Metres of a long step, by the help of the application.
const HURRY_M: f64 = 60.0;

/// Where one stands, metres, and which way one looks.
#[derive(Clone, Copy, Debug)]
struct Standing {
    x: f64,
    y: f64,
    bearing_deg: f64,
}

/// Reads “You stand at 2427 m E, 126 m N · 918 m · looking to 30°”.
fn place_of(text: &str) -> Result<Standing> {
    let words = text.split_whitespace();
    let numbers: Vec<f64> = words
        .filter_map(|word| word.trim_end_matches('°').replace(',', "").parse().ok())
        .collect();
    ensure!(numbers.len() == 4, "‘{text}’");
    Ok(Standing {
        x: numbers[0],
        y: numbers[1],
        bearing_deg: numbers[3],
    })
}
