//! Work of the hand: strokes on relief and plan, kept, undone and painted back; pens.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::Value;
use std::time::Duration;

const REVISION: &str = "[data-testid=kept]";
const ESCAPE: char = '\u{e00c}';

/// The demo with a step of hand work on top, its band open.
async fn begun(service: &Service) -> Result<Browser> {
    let browser = service.open_demo().await?;
    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("add-hand_work")).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 2")
        .await?;
    browser.click(&test_id("show-plan")).await?;
    browser.grown().await?;
    Ok(browser)
}

async fn strokes(browser: &Browser, count: usize) -> Result<()> {
    let wanted = format!("{count} stroke");
    let said = test_id("hand-strokes");
    browser
        .until(&said, |text| text.starts_with(&wanted))
        .await?;
    Ok(())
}

/// What the service answers to a question about the landscape.
async fn asked(browser: &Browser, of: &str) -> Result<Value> {
    let script = "const all = await (await fetch('/api/landscapes')).json();
        return (await fetch(`/api/landscapes/${all[0].id}${arguments[0]}`)).json();";
    let script = format!("return (async (...arguments) => {{ {script} }})(...arguments)");
    browser.script(&script, vec![of.into()]).await
}

/// The strokes of the landscape as the service has them.
async fn kept_strokes(browser: &Browser) -> Result<Vec<Value>> {
    let head = asked(browser, "").await?;
    let steps = head["recipe"]["strands"][0]["steps"].as_array();
    let last = steps.and_then(|steps| steps.last()).cloned();
    let strokes = last.and_then(|step| step["do"]["hand_work"]["strokes"].as_array().cloned());
    Ok(strokes.unwrap_or_default())
}

/// What hand work has added at a place, metres.
async fn added(browser: &Browser, (x_m, y_m): (f64, f64)) -> Result<f64> {
    let core = asked(browser, &format!("/core?x_m={x_m}&y_m={y_m}&cells=512")).await?;
    let steps = core["steps"].as_array().cloned().unwrap_or_default();
    let by_hand = steps.iter().find(|step| step["name"] == "Hand work");
    Ok(by_hand.map_or(f64::NAN, |step| number(&step["change_m"])))
}

fn number(value: &Value) -> f64 {
    value.as_f64().unwrap_or(f64::NAN)
}

/// Where the first of the strokes began.
async fn begin_of_first(browser: &Browser) -> Result<(f64, f64)> {
    let strokes = kept_strokes(browser).await?;
    let point = &strokes[0]["points"][0];
    Ok((number(&point[0]), number(&point[1])))
}

/// The height under the pointer, as the page shows it.
async fn under_pointer(browser: &Browser) -> Result<f64> {
    let height = browser.content("[data-testid=readout] strong").await?;
    let signed = height.replace('−', "-");
    let plain = signed
        .chars()
        .filter(|c| c.is_ascii_digit() || "-.".contains(*c));
    Ok(plain.collect::<String>().parse()?)
}

/// Waits until it is what is wanted.
async fn until_under_pointer(
    browser: &Browser,
    what: &str,
    wanted: impl Fn(f64) -> bool,
) -> Result<f64> {
    for _ in 0..100 {
        let height = under_pointer(browser).await?;
        if wanted(height) {
            return Ok(height);
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("{what}: {} m", under_pointer(browser).await?)
}

/// Raised, smoothed, pushed; each undone; there again after a reload; painted back.
#[tokio::test(flavor = "multi_thread")]
async fn land_is_sculpted_undone_and_painted_back() -> Result<()> {
    let service = Service::start("sculpted").await?;
    let browser = begun(&service).await?;
    let plan = test_id("plan");
    let way = [(40.0, 6.0), (40.0, -4.0), (40.0, 10.0)];
    let place = (0.3, 0.5);
    browser.click(&test_id("deed-raise")).await?;
    browser.fill(&test_id("hand.by_m"), "300").await?;
    browser.fill(&test_id("hand.size_m"), "1500").await?;
    // While it is drawn it shows; given up, the land is what it was.
    browser
        .drag_from(&plan, place, &[(2.0, 0.0)], false)
        .await?;
    let raised = until_under_pointer(&browser, "raised", |height| height > 200.0).await?;
    browser.key(&[], ESCAPE).await?;
    let bare = until_under_pointer(&browser, "given up", |height| height < raised - 200.0).await?;
    browser.release_mouse().await?;
    strokes(&browser, 0).await?;

    let mut heights = vec![0.0];
    for (deed, count) in [("raise", 1), ("weather", 2), ("push", 3)] {
        if deed != "raise" {
            browser.click(&test_id(&format!("deed-{deed}"))).await?;
        }
        browser.drag_from(&plan, place, &way, true).await?;
        strokes(&browser, count).await?;
        let revision = format!("kept as revision {}", 2 + count);
        browser.until(REVISION, |text| text == revision).await?;
        let at = begin_of_first(&browser).await?;
        heights.push(added(&browser, at).await?);
    }
    ensure!(
        (heights[1] - 240.0).abs() < 15.0,
        "raised by 80 % of 300 m: {heights:?}"
    );
    ensure!(
        heights[2] != heights[1] && heights[3] != heights[2],
        "{heights:?}"
    );
    // Each is one undo.
    let at = begin_of_first(&browser).await?;
    for count in [2, 1] {
        browser.click(&test_id("undo")).await?;
        strokes(&browser, count).await?;
        ensure!(
            added(&browser, at).await? == heights[count],
            "after {count} strokes"
        );
    }
    browser.reload().await?;
    browser.grown().await?;
    browser.click(&test_id("open-hand_work-1")).await?;
    strokes(&browser, 1).await?;
    ensure!(
        added(&browser, at).await? == heights[1],
        "the stroke is gone"
    );
    // Strength by a key, and all of it painted back.
    browser.click(&test_id("deed-paint_back")).await?;
    browser.fill(&test_id("hand.size_m"), "9000").await?;
    browser.fill(&test_id("hand.softness"), "0.1").await?;
    let blur = "document.activeElement.blur()";
    browser.script(blur, vec![]).await?;
    browser.key(&[], '0').await?;
    let full = "return document.querySelector('[data-testid=\"hand.strength\"]').value";
    ensure!(
        browser.script(full, vec![]).await? == "1",
        "the key has no strength"
    );
    browser.drag_from(&plan, place, &way, true).await?;
    strokes(&browser, 2).await?;
    ensure!(added(&browser, at).await? == 0.0, "painted back");
    let back = until_under_pointer(&browser, "painted back", |_| true).await?;
    ensure!(back < raised, "{back} m, {bare} m before");
    browser.close().await
}

/// A stroke is drawn on the relief as on the plan.
#[tokio::test(flavor = "multi_thread")]
async fn a_stroke_is_drawn_on_the_relief() -> Result<()> {
    let service = Service::start("relief_stroke").await?;
    let browser = begun(&service).await?;
    browser.click(&test_id("show-relief")).await?;
    browser.grown().await?;
    browser.click(&test_id("deed-lower")).await?;
    browser.fill(&test_id("hand.by_m"), "250").await?;
    let relief = "[data-testid=relief] canvas";
    let way = [(30.0, 0.0), (30.0, 8.0)];
    browser.drag_from(relief, (0.35, 0.36), &way, true).await?;
    strokes(&browser, 1).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    let drawn = kept_strokes(&browser).await?;
    ensure!(
        drawn.len() == 1 && drawn[0]["do"]["lower"]["by_m"] == 250.0,
        "{drawn:?}"
    );
    browser.close().await
}

/// A pen that is pressed harder and harder: its pressure is in the stroke, and the land is
/// raised in proportion to it.
#[tokio::test(flavor = "multi_thread")]
async fn a_pen_draws_as_hard_as_it_is_pressed() -> Result<()> {
    let service = Service::start("pen").await?;
    let browser = begun(&service).await?;
    browser.click(&test_id("deed-raise")).await?;
    browser.fill(&test_id("hand.by_m"), "200").await?;
    browser.fill(&test_id("hand.strength"), "1").await?;
    browser.fill(&test_id("hand.size_m"), "1000").await?;
    let recorded: Vec<_> = (0..=20)
        .map(|k| {
            let share = f64::from(k) / 20.0;
            (0.2 + 0.5 * share, 0.4 + 0.1 * share, 0.2 + 0.8 * share)
        })
        .collect();
    browser.pen_stroke(&test_id("plan"), &recorded).await?;
    strokes(&browser, 1).await?;
    browser
        .until(REVISION, |text| text == "kept as revision 3")
        .await?;
    let drawn = kept_strokes(&browser).await?;
    let points = drawn[0]["points"].as_array().cloned().unwrap_or_default();
    let (first, last) = (&points[0], &points[points.len() - 1]);
    ensure!((number(&first[2]) - 0.2).abs() < 0.02, "{first}");
    ensure!((number(&last[2]) - 1.0).abs() < 0.02, "{last}");
    // A straight way with even pressure is told by its ends, or little more.
    ensure!(points.len() <= 6, "{} points", points.len());
    // What the step has raised, where the pen came by at three quarters of its pressure.
    let at = |share: f64| {
        let [x, y] =
            [0, 1].map(|i| number(&first[i]) + share * (number(&last[i]) - number(&first[i])));
        (x, y)
    };
    for share in [0.25, 0.5, 0.9] {
        let raised = added(&browser, at(share)).await?;
        let wanted = 200.0 * (0.2 + 0.8 * share);
        ensure!(
            (raised - wanted).abs() < 8.0,
            "{raised} m at {share}, {wanted} wanted"
        );
    }
    browser.close().await
}
