//! Without a mouse: order is changed, every handle is moved, and what has the focus is
//! seen to have it.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::{Value, json};

/// Arrow keys by their WebDriver codes (W3C WebDriver, 17.4.2).
const ARROW_UP: char = '\u{e013}';
const ARROW_DOWN: char = '\u{e015}';
const ARROW_RIGHT: char = '\u{e014}';
const TAB: char = '\u{e004}';
const ENTER: char = '\u{e007}';
const REVISION: &str = "[data-testid=kept]";

async fn focus(browser: &Browser, css: &str) -> Result<()> {
    browser.find(css).await?;
    let script = "document.querySelector(arguments[0]).focus()";
    browser.script(script, vec![json!(css)]).await?;
    Ok(())
}

async fn kept(browser: &Browser, revision: u32) -> Result<()> {
    let wanted = format!("kept as revision {revision}");
    browser.until(REVISION, |text| text == wanted).await?;
    Ok(())
}

/// Ids of bands or covers from the top down, as they are drawn.
async fn order(browser: &Browser, what: &str) -> Result<Vec<String>> {
    let script = "return [...document.querySelectorAll(`[data-testid^=${arguments[0]}-]`)]
        .map((entry) => entry.dataset.testid.slice(arguments[0].length + 1))";
    let ids = browser.script(script, vec![json!(what)]).await?;
    Ok(serde_json::from_value(ids)?)
}

/// Lifts an entry, moves it one place with an arrow, and ends with a key.
async fn carried(browser: &Browser, id: &str, arrow: char, end: char) -> Result<()> {
    focus(browser, &test_id(&format!("grip-{id}"))).await?;
    for key in [' ', arrow] {
        browser.key(&[], key).await?;
        // The list is measured anew after each of them.
        tokio::time::sleep(std::time::Duration::from_millis(400)).await;
    }
    browser.key(&[], end).await
}

#[tokio::test(flavor = "multi_thread")]
async fn steps_and_grounds_are_put_in_order_with_keys() -> Result<()> {
    let service = Service::start("order").await?;
    let browser = service.open_demo().await?;
    let place = |ids: &[String], id: &str| ids.iter().position(|other| other == id);

    let before = order(&browser, "band").await?;
    carried(&browser, "massif", ARROW_UP, ' ').await?;
    kept(&browser, 2).await?;
    let after = order(&browser, "band").await?;
    let (from, to) = (place(&before, "massif"), place(&after, "massif"));
    ensure!(to < from, "{before:?} became {after:?}");
    let told = "return document.querySelector('[id^=DndLiveRegion]').textContent";
    let told = browser.script(told, vec![]).await?;
    ensure!(
        told.as_str()
            .is_some_and(|text| text.contains("Massif is laid down at place")),
        "a screen reader hears {told}"
    );

    // Escape leaves it where it was, and nothing is kept.
    carried(&browser, "massif", ARROW_DOWN, Browser::ESCAPE).await?;
    ensure!(order(&browser, "band").await? == after);

    browser.click(&test_id("stage-ground")).await?;
    let before = order(&browser, "cover").await?;
    carried(&browser, "snow", ARROW_DOWN, ' ').await?;
    kept(&browser, 3).await?;
    let after = order(&browser, "cover").await?;
    let (from, to) = (place(&before, "snow"), place(&after, "snow"));
    ensure!(to > from, "{before:?} became {after:?}");
    browser.close().await
}

/// What an attribute of an element says.
async fn said(browser: &Browser, css: &str, attribute: &str) -> Result<Value> {
    browser.find(css).await?;
    let script = "return document.querySelector(arguments[0]).getAttribute(arguments[1])";
    browser
        .script(script, vec![json!(css), json!(attribute)])
        .await
}

#[tokio::test(flavor = "multi_thread")]
async fn every_handle_is_moved_with_keys() -> Result<()> {
    let service = Service::start("handles").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-trough")).await?;
    let curve = "[data-testid=curve] circle:nth-of-type(3)";
    let sun = test_id("sun-dial");
    let range = test_id("snow.0.from");
    let mut revision = 1;
    for (handle, attribute, key) in [
        (curve, "cy", ARROW_UP),
        (sun.as_str(), "aria-valuetext", ARROW_RIGHT),
        (range.as_str(), "aria-valuenow", ARROW_RIGHT),
    ] {
        if handle == range {
            browser.click(&test_id("stage-ground")).await?;
            browser.click(&test_id("open-snow")).await?;
        }
        let before = said(&browser, handle, attribute).await?;
        focus(&browser, handle).await?;
        browser.key(&[Browser::SHIFT], key).await?;
        revision += 1;
        kept(&browser, revision).await?;
        let after = said(&browser, handle, attribute).await?;
        ensure!(before != after, "{handle} stays at {before}");
    }
    browser.close().await
}

/// Whatever the Tab key comes to, one sees that it is there.
#[tokio::test(flavor = "multi_thread")]
async fn what_has_the_focus_is_seen() -> Result<()> {
    let service = Service::start("focus").await?;
    let browser = service.open_demo_in_relief().await?;
    browser.click(&test_id("open-massif")).await?;
    let look = "
        const here = document.activeElement;
        const looks = (element) => {
            const { outlineStyle, outlineWidth, outlineColor, boxShadow, fill, stroke } =
                getComputedStyle(element);
            return JSON.stringify([outlineStyle, outlineWidth, outlineColor, boxShadow, fill, stroke]);
        };
        if (here === document.body) return null;
        const focused = looks(here);
        here.blur();
        const resting = looks(here);
        here.focus({ focusVisible: true });
        const name = here.getAttribute('aria-label') ?? here.title ?? '';
        return [focused !== resting, here.tagName + ' ' + (name || here.textContent.slice(0, 40))];";
    let (mut seen, mut unseen) = (0, Vec::new());
    for _ in 0..70 {
        browser.key(&[], TAB).await?;
        let found = browser.script(look, vec![]).await?;
        let Some(found) = found.as_array() else {
            continue;
        };
        match found[0].as_bool() {
            Some(true) => seen += 1,
            _ => unseen.push(found[1].to_string()),
        }
    }
    ensure!(unseen.is_empty(), "{seen} are seen, not so {unseen:#?}");
    ensure!(seen > 40, "only {seen} stops");
    browser.close().await
}

/// Presses Tab, or Shift and Tab, until what `css` finds has the focus.
async fn tab_to(browser: &Browser, css: &str) -> Result<()> {
    browser.find(css).await?;
    let here = "return document.activeElement?.matches(arguments[0]) ?? false";
    for _ in 0..120 {
        if browser.script(here, vec![json!(css)]).await? == true {
            return Ok(());
        }
        browser.key(&[], TAB).await?;
    }
    anyhow::bail!("the Tab key never comes to {css}")
}

async fn types(browser: &Browser, text: &str) -> Result<()> {
    for key in text.chars() {
        browser.key(&[], key).await?;
    }
    Ok(())
}

/// From an empty piece of ground to the files of a mountain, without a mouse: choosing,
/// typing, placing a point on the land, flying, standing, walking, a section, files.
#[tokio::test(flavor = "multi_thread")]
async fn a_mountain_from_nothing_to_files_with_keys_alone() -> Result<()> {
    let service = Service::start("keys_alone").await?;
    let browser = service.open_shelf().await?;
    browser.find("li a").await?;
    tab_to(&browser, &test_id("new-landscape")).await?;
    browser.key(&[], ENTER).await?;
    tab_to(&browser, "input[name=land]:checked").await?;
    // The first kind of country is the flat one.
    let chosen =
        "return document.querySelector('input[name=land]:checked').closest('label').dataset.testid";
    for _ in 0..12 {
        if browser.script(chosen, vec![]).await? == "land-flat" {
            break;
        }
        browser.key(&[], ARROW_RIGHT).await?;
    }
    browser.key(&[], ENTER).await?;
    browser.grown().await?;
    let mut before = browser.grown().await?;

    // A cone, where the cursor on the land says.
    browser.key(&[], 'n').await?;
    browser.find(&test_id("find-kind")).await?;
    types(&browser, "volcano").await?;
    browser.key(&[], ENTER).await?;
    before = browser.grown_since(&before).await?;
    let added = "return document.activeElement?.dataset.testid ?? ''";
    ensure!(browser.script(added, vec![]).await? == "open-primitive-1");
    tab_to(&browser, &test_id("primitive-1.x_m.place")).await?;
    browser.key(&[], ENTER).await?;
    browser.key(&[], 'd').await?;
    for _ in 0..3 {
        browser.key(&[Browser::SHIFT], ARROW_RIGHT).await?;
    }
    browser.key(&[], ENTER).await?;
    before = browser.grown_since(&before).await?;
    let value = "return Number(document.querySelector('[data-testid=\"primitive-1.x_m\"]').value)";
    let x_m = browser.script(value, vec![]).await?.as_f64().unwrap_or(0.0);
    let middle = "return Number(document.querySelector('[data-testid=\"primitive-1.y_m\"]').value)";
    let y_m = browser
        .script(middle, vec![])
        .await?
        .as_f64()
        .unwrap_or(0.0);
    ensure!(x_m > 1.2 * y_m, "the cone stands at {x_m}, {y_m}");

    // A value is typed.
    tab_to(&browser, &test_id("primitive-1.height_m")).await?;
    types(&browser, "1200").await?;
    browser.key(&[], ENTER).await?;
    before = browser.grown_since(&before).await?;

    // Flying around, and standing on it.
    let camera = "return JSON.parse(localStorage.getItem('view of ' + location.pathname.split('/').pop()))?.camera";
    focus(&browser, "[data-land-keys]").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    let flown = browser.script(camera, vec![]).await?;
    browser.key(&[Browser::ALT], ARROW_RIGHT).await?;
    browser.key(&[], '+').await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    ensure!(
        browser.script(camera, vec![]).await? != flown,
        "Alt and an arrow do not fly"
    );
    tab_to(&browser, &test_id("stand")).await?;
    browser.key(&[], ENTER).await?;
    browser.key(&[], 'd').await?;
    browser.key(&[], ARROW_UP).await?;
    browser.key(&[], ENTER).await?;
    let first = browser
        .until(&test_id("standing"), |text| text.contains("You stand"))
        .await?;
    browser.key(&[Browser::SHIFT], ARROW_UP).await?;
    browser
        .until(&test_id("standing"), |text| text != first)
        .await?;
    tab_to(&browser, &test_id("stand")).await?;
    browser.key(&[], ENTER).await?;
    browser.until_gone(&test_id("standing")).await?;

    // A line for the section, drawn on the plan.
    browser.key(&[], 'v').await?;
    browser.find(&test_id("plan")).await?;
    browser.key(&[], 'd').await?;
    let length = browser.text("[aria-label=Section] header span").await?;
    browser.key(&[], ' ').await?;
    for _ in 0..4 {
        browser.key(&[Browser::SHIFT], ARROW_DOWN).await?;
    }
    browser.key(&[], ' ').await?;
    browser
        .until("[aria-label=Section] header span", |text| text != length)
        .await?;
    let spoken = browser.content(&test_id("cursor-place")).await?;
    ensure!(
        spoken.contains("metres east"),
        "a screen reader hears ‘{spoken}’"
    );

    // Ground, and files.
    browser.key(&[], '2').await?;
    tab_to(&browser, &test_id("add-ground")).await?;
    browser.key(&[], ENTER).await?;
    tab_to(&browser, &test_id("lay-grass-and-rock")).await?;
    browser.key(&[], ENTER).await?;
    browser.grown_since(&before).await?;
    browser
        .until(&test_id("announcer"), |text| {
            text.contains("Add Grass and rock") || text.contains("Land of")
        })
        .await?;
    browser.key(&[], '3').await?;
    tab_to(&browser, &test_id("export-cells")).await?;
    browser.key(&[], '2').await?;
    tab_to(&browser, &test_id("export-begin")).await?;
    browser.key(&[], ENTER).await?;
    tab_to(&browser, &test_id("export-download")).await?;
    browser.key(&[], ENTER).await?;
    let archive = service.downloaded("zip").await?;
    let mut archive = zip::ZipArchive::new(std::fs::File::open(archive)?)?;
    archive.by_name("height.tif")?;
    browser.close().await
}
