//! Drawn courses: points on the plan, evened out, along the way of water, in and out as files.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::Value;

const REVISION: &str = "[data-testid=kept]";

async fn kept(browser: &Browser, revision: u32) -> Result<()> {
    let wanted = format!("kept as revision {revision}");
    browser.until(REVISION, |text| text == wanted).await?;
    Ok(())
}

/// The points of the course as the service has them.
async fn points(browser: &Browser) -> Result<Vec<Value>> {
    let script = "return (async () => {
        const all = await (await fetch('/api/landscapes')).json();
        const { recipe } = await (await fetch(`/api/landscapes/${all[0].id}`)).json();
        return recipe.strands[0].steps.at(-1).do.course.points;
    })()";
    let points = browser.script(script, vec![]).await?;
    Ok(points.as_array().cloned().unwrap_or_default())
}

/// A canyon is laid over the land with one click and stood in: its floor is far below what was
/// there, and the land goes up on both sides.
#[tokio::test(flavor = "multi_thread")]
async fn a_canyon_is_laid_and_stood_in() -> Result<()> {
    let service = Service::start("canyon").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("lay-drawn-canyon")).await?;
    kept(&browser, 2).await?;
    browser.click(&test_id("show-plan")).await?;
    browser.grown().await?;
    // The fourth point of its course, over as much of this land as of that which it was drawn
    // on.
    let (x_m, y_m) = (4500.0 * 12.0 / 8.0, 2700.0 * 8.0 / 5.6);
    browser.click(&test_id("stand")).await?;
    let plan = test_id("plan");
    browser
        .click_at(&plan, x_m / 12_000.0, 1.0 - y_m / 8_000.0)
        .await?;
    browser
        .until(&test_id("standing"), |text| {
            text.starts_with("You stand at")
        })
        .await?;
    let script = "return (async (x, y) => {
        const all = await (await fetch('/api/landscapes')).json();
        const at = `core?x_m=${x}&y_m=${y}&cells=512`;
        const core = await (await fetch(`/api/landscapes/${all[0].id}/${at}`)).json();
        return core.steps.at(-1).height_m;
    })(arguments[0], arguments[1])";
    let mut heights = Vec::new();
    for off_m in [0.0, -900.0, 900.0] {
        let at = vec![serde_json::json!(x_m), serde_json::json!(y_m + off_m)];
        heights.push(
            browser
                .script(script, at)
                .await?
                .as_f64()
                .unwrap_or(f64::NAN),
        );
    }
    ensure!(
        heights[1] > heights[0] + 60.0 && heights[2] > heights[0] + 60.0,
        "{heights:?}"
    );
    browser.close().await
}

/// A course is laid over the land, a point of it is dragged and made wider, and it is evened
/// out; it follows water from a click; it goes out and comes in as GeoJSON, and each of these
/// is one undo.
#[tokio::test(flavor = "multi_thread")]
async fn a_course_is_drawn_followed_and_carried_over() -> Result<()> {
    let service = Service::start("courses").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("add-step")).await?;
    browser.click(&test_id("add-course")).await?;
    kept(&browser, 2).await?;
    let laid = points(&browser).await?;
    // Over as much of this land as of that which it was drawn on.
    ensure!(laid.len() == 4 && laid[0]["x_m"] == 2100.0, "{laid:?}");

    browser.click(&test_id("show-plan")).await?;
    browser.click(&test_id("edit-course")).await?;
    browser.find(&test_id("course-curve")).await?;
    let second = "[data-testid=outline-editor] circle:nth-of-type(2)";
    browser.drag(second, &[(30.0, -40.0)], true).await?;
    kept(&browser, 3).await?;
    let dragged = points(&browser).await?;
    ensure!(
        dragged[1] != laid[1] && dragged[2] == laid[2],
        "{dragged:?}"
    );
    let chosen = browser.text(&test_id("course-point")).await?;
    ensure!(chosen == "Point 2 of 4", "{chosen}");
    browser.fill(&test_id("course.wide"), "1.6").await?;
    kept(&browser, 4).await?;
    ensure!(points(&browser).await?[1]["wide"] == 1.6, "it is not wider");
    browser.click(&test_id("edit-course")).await?;

    browser.fill(&test_id("even-out"), "9").await?;
    kept(&browser, 5).await?;
    let even = points(&browser).await?;
    ensure!(even.len() == 9, "{even:?}");

    // Every two kilometres, and back.
    browser.fill(&test_id("even-every"), "2000").await?;
    kept(&browser, 6).await?;
    let spaced = points(&browser).await?.len();
    ensure!((4..9).contains(&spaced), "{spaced} points");

    browser.click(&test_id("follow-water")).await?;
    browser.click_at(&test_id("plan"), 0.3, 0.2).await?;
    kept(&browser, 7).await?;
    let water = points(&browser).await?;
    ensure!(water.len() >= 3 && water != even, "{water:?}");

    let file = "const { href } = document.querySelector('[data-testid=course-out]');
        return JSON.parse(decodeURIComponent(href.slice(href.indexOf(',') + 1)));";
    let out = browser.script(file, vec![]).await?;
    ensure!(out["geometry"]["type"] == "LineString", "{out}");
    let places = out["geometry"]["coordinates"].as_array().map(Vec::len);
    ensure!(places == Some(water.len()), "{out}");
    // Another program gives a collection of features.
    let given = serde_json::json!({ "type": "FeatureCollection", "features": [
        { "type": "Feature", "properties": null, "geometry": { "type": "LineString",
            "coordinates": [[1000, 2000], [4000, 2500, 12], [9000, 6000]] } },
    ] });
    let path = service.folder().join("course.geojson");
    std::fs::write(&path, given.to_string())?;
    browser.give_file(&test_id("course-in"), &path).await?;
    kept(&browser, 8).await?;
    let came = points(&browser).await?;
    ensure!(came.len() == 3 && came[1]["y_m"] == 2500.0, "{came:?}");
    // What is no course is refused with a word, and changes nothing.
    std::fs::write(&path, "{ \"type\": \"Point\", \"coordinates\": [1, 2] }")?;
    browser.give_file(&test_id("course-in"), &path).await?;
    browser
        .until("[data-sonner-toast]", |text| text.contains("no line"))
        .await?;
    ensure!(points(&browser).await? == came, "it has changed");
    browser.click(&test_id("undo")).await?;
    kept(&browser, 7).await?;
    ensure!(points(&browser).await? == water, "it is not what it was");

    // On the relief a click beside the course goes on to there.
    browser.click(&test_id("show-relief")).await?;
    browser.grown().await?;
    browser.click(&test_id("edit-course")).await?;
    browser
        .click_at("[data-testid=relief] canvas", 0.62, 0.3)
        .await?;
    kept(&browser, 9).await?;
    ensure!(
        points(&browser).await?.len() == water.len() + 1,
        "no point was added"
    );
    browser.close().await
}
