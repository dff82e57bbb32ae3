//! Tools over the land: one row, one at a time, laid down with Escape, usable by keys.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::json;

/// Arrow key by its WebDriver code (W3C WebDriver, 17.4.2).
const ARROW_UP: char = '\u{e013}';

/// The bar over the land is one row that nothing sticks out of, with the bench open.
#[tokio::test(flavor = "multi_thread")]
async fn the_bar_over_the_land_is_one_row() -> Result<()> {
    let service = Service::start("one_row").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("bench")).await?;
    let layout = "
        const bar = document.querySelector('[data-testid=land-tools]');
        const parts = [...bar.children].map((part) => part.getBoundingClientRect());
        return [
            new Set(parts.map((part) => Math.round(part.top))).size,
            Math.max(...parts.map((part) => part.right)) - bar.getBoundingClientRect().right,
            Math.max(...parts.map((part) => part.height)),
        ];";
    for projection in ["relief", "plan"] {
        browser
            .click(&test_id(&format!("show-{projection}")))
            .await?;
        let found = browser.script(layout, vec![]).await?;
        let found: Vec<f64> = serde_json::from_value(found)?;
        ensure!(
            found[0] == 1.0 && found[1] <= 0.5 && found[2] < 30.0,
            "{projection}: {} rows, {} px beyond the edge, {} px high",
            found[0],
            found[1],
            found[2]
        );
    }
    browser.close().await
}

/// A line is drawn for a mask with keys alone, and Escape lays the tool down; so it
/// does with a brush.
#[tokio::test(flavor = "multi_thread")]
async fn a_line_is_moved_by_keys_and_escape_lays_tools_down() -> Result<()> {
    let service = Service::start("line").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-snow")).await?;
    browser.click(&test_id("snow.add-reading")).await?;
    browser.choose(&test_id("snow.3.reading"), "line").await?;
    let before = browser.grown().await?;
    browser.click(&test_id("snow.3.edit-line")).await?;
    let focus = "const corner = document.querySelector('[data-testid=outline-editor] circle');
        corner.focus(); return corner.getAttribute('cy')";
    let from = browser.script(focus, vec![]).await?;
    browser.key(&[Browser::SHIFT], ARROW_UP).await?;
    browser.grown_since(&before).await?;
    let to = browser.script(focus, vec![]).await?;
    ensure!(from != to, "the corner stays at {from}");
    browser.key(&[], Browser::ESCAPE).await?;
    browser.until_gone(&test_id("outline-editor")).await?;

    browser
        .choose(&test_id("snow.3.reading"), "painted")
        .await?;
    browser.click(&test_id("paint")).await?;
    let pressed = "return document.querySelector('[data-testid=paint]').ariaPressed";
    ensure!(browser.script(pressed, vec![]).await? == json!("true"));
    browser.key(&[], Browser::ESCAPE).await?;
    ensure!(
        browser.script(pressed, vec![]).await? == json!("false"),
        "the brush is still in hand"
    );
    browser.close().await
}

/// Contour lines are worked out beside the thread that draws, and come.
#[tokio::test(flavor = "multi_thread")]
async fn contours_are_drawn() -> Result<()> {
    let service = Service::start("contours").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("show-plan")).await?;
    browser.open_menu("look-menu").await?;
    browser.click(&test_id("contours")).await?;
    let count = "return Number(document.querySelector('[data-testid=plan]').dataset.contours)";
    let since = std::time::Instant::now();
    // 1,810 m of height, a line each 100 m.
    while browser.script(count, vec![]).await?.as_f64() < Some(15.0) {
        ensure!(since.elapsed().as_secs() < 20, "no contour lines");
        tokio::time::sleep(std::time::Duration::from_millis(200)).await;
    }
    browser.close().await
}

/// A landscape opens with all of it in the picture; however the camera was turned, the key
/// Home shows it so again, and P goes to the place under the pointer.
#[tokio::test(flavor = "multi_thread")]
async fn keys_frame_the_land_and_a_place() -> Result<()> {
    const HOME: char = '\u{e011}';
    let service = Service::start("framing").await?;
    let browser = service.open_demo_in_relief().await?;
    let camera = async |unlike: Option<&Vec<f64>>| -> Result<Vec<f64>> {
        let kept = "const id = location.pathname.split('/').pop();
            return JSON.parse(localStorage.getItem(`view of ${id}`) ?? '{}').camera ?? null";
        for _ in 0..100 {
            let found = browser.script(kept, vec![]).await?;
            let found: Option<Vec<f64>> = serde_json::from_value(found)?;
            match found {
                Some(found) if unlike.is_none_or(|other| far(other, &found) > 1e-3) => {
                    return Ok(found);
                }
                _ => tokio::time::sleep(std::time::Duration::from_millis(100)).await,
            }
        }
        anyhow::bail!("the camera stays where it is")
    };
    let opened = camera(None).await?;
    browser
        .drag(&test_id("relief"), &[(90.0, 20.0), (60.0, 10.0)], true)
        .await?;
    let turned = camera(Some(&opened)).await?;
    browser.key(&[], HOME).await?;
    let framed = camera(Some(&turned)).await?;
    ensure!(far(&opened, &framed) < 0.02, "{opened:?} is now {framed:?}");
    browser.key(&[], 'p').await?;
    let near = camera(Some(&framed)).await?;
    let away = |camera: &[f64]| far(&camera[..3], &camera[3..]);
    ensure!(away(&near) < 0.5 * away(&framed), "{near:?} is no nearer");
    browser.close().await
}

/// How far apart two cameras are.
fn far(a: &[f64], b: &[f64]) -> f64 {
    let squares = a.iter().zip(b).map(|(a, b)| (a - b).powi(2));
    squares.sum::<f64>().sqrt()
}
