//! From a phone to a big screen, and twice as large: everything is there, nothing is cut off.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

/// How wide the narrowest slider that is shown is, in pixels.
const NARROWEST: &str = "return Math.min(...[...document.querySelectorAll('input[type=range]')]
    .map((slider) => slider.getBoundingClientRect().width).filter((width) => width > 0))";

/// What reaches over the window's edge.
async fn cut_off(browser: &Browser) -> Result<Vec<String>> {
    let script = "
        const wide = document.documentElement.clientWidth;
        const shown = (element) => element.checkVisibility({ checkOpacity: true });
        return [...document.querySelectorAll('button, input:not(.hidden, .sr-only), select, a, h1, h2')]
            .filter((element) => shown(element) && !element.closest('.sr-only'))
            .filter((element) => {
                const { left, right } = element.getBoundingClientRect();
                return right - left > 0 && (left < -1 || right > wide + 1);
            })
            .map((element) => element.outerHTML.slice(0, 100));";
    Ok(serde_json::from_value(
        browser.script(script, vec![]).await?,
    )?)
}

async fn ensure_whole(browser: &Browser, view: &str) -> Result<()> {
    // Panels are laid out anew.
    tokio::time::sleep(std::time::Duration::from_millis(400)).await;
    let found = cut_off(browser).await?;
    ensure!(found.is_empty(), "{view}: {found:#?}");
    let scrolls =
        "return document.documentElement.scrollWidth > document.documentElement.clientWidth";
    ensure!(
        browser.script(scrolls, vec![]).await? == false,
        "{view} scrolls sideways"
    );
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_studio_is_of_use_at_any_size() -> Result<()> {
    let service = Service::start("sizes").await?;
    let browser = service.open_demo_in_relief().await?;
    browser.click(&test_id("open-massif")).await?;
    for (width, height) in [(1920, 1080), (1280, 800), (1024, 700)] {
        browser.resize(width, height, 1.0).await?;
        browser.click(&test_id("stage-ground")).await?;
        browser.click(&test_id("open-snow")).await?;
        ensure_whole(&browser, &format!("ground at {width}")).await?;
        let narrowest = browser.script(NARROWEST, vec![]).await?;
        ensure!(
            narrowest.as_f64().is_some_and(|pixels| pixels >= 90.0),
            "at {width} the narrowest slider has {narrowest} pixels"
        );
        browser.click(&test_id("stage-form")).await?;
        ensure_whole(&browser, &format!("form at {width}")).await?;
        browser.click(&test_id("open-massif")).await?;
        let narrowest = browser.script(NARROWEST, vec![]).await?;
        ensure!(
            narrowest.as_f64().is_some_and(|pixels| pixels >= 90.0),
            "{narrowest} pixels"
        );
        browser.click(&test_id("open-massif")).await?;
    }
    // On a phone, and at twice the size on a laptop, one part at a time.
    for (width, height, zoom) in [(390, 800, 1.0), (640, 400, 2.0)] {
        browser.resize(width, height, zoom).await?;
        for part in ["column", "section", "land"] {
            browser.click(&test_id(&format!("part-{part}"))).await?;
            ensure_whole(&browser, &format!("{part} at {width}")).await?;
        }
        browser.click(&test_id("stage-ground")).await?;
        browser.click(&test_id("part-legend")).await?;
        browser.find("[aria-label=Legend]").await?;
        ensure_whole(&browser, &format!("legend at {width}")).await?;
        browser.click(&test_id("stage-deliver")).await?;
        ensure_whole(&browser, &format!("deliver at {width}")).await?;
        browser.click(&test_id("stage-form")).await?;
    }
    browser.follow("Shelf").await?;
    browser.find(&test_id("search-shelf")).await?;
    for width in [390, 640, 1024] {
        browser.resize(width, 800, 1.0).await?;
        ensure_whole(&browser, &format!("shelf at {width}")).await?;
    }
    browser.close().await
}

/// Names as long as they may be push nothing out of its place.
#[tokio::test(flavor = "multi_thread")]
async fn long_names_fit() -> Result<()> {
    let service = Service::start("long_names").await?;
    let browser = service.open_demo().await?;
    let long = "Llanfair under the highest of all hills beyond the outwash plain ".repeat(3);
    browser.click(&test_id("open-landscape")).await?;
    browser
        .fill(&test_id("landscape.name"), &long[..190])
        .await?;
    browser
        .until("h1", |text| text.starts_with("Llanfair"))
        .await?;
    let rename = "
        const id = location.pathname.split('/').pop();
        const head = await (await fetch(`/api/landscapes/${id}`)).json();
        const patch = [
            { op: 'replace', path: '/strands/0/steps/0/name', value: arguments[0] },
            { op: 'replace', path: '/covers/0/name', value: arguments[0] },
        ];
        await fetch(`/api/landscapes/${id}/edits`, { method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ base: head.revision, label: '', patch }) });";
    browser
        .script(
            &format!("return (async () => {{ {rename} }})()")
                .replace("arguments[0]", &format!("{:?}", &long[..190])),
            vec![],
        )
        .await?;
    browser
        .until("[data-testid^=band-]:last-child", |_| true)
        .await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("bench-moments")).await?;
    for width in [1280, 1024] {
        browser.resize(width, 800, 1.0).await?;
        ensure_whole(&browser, &format!("long names at {width}")).await?;
    }
    browser.follow("Shelf").await?;
    browser.find(&test_id("search-shelf")).await?;
    ensure_whole(&browser, "the shelf with long names").await?;
    browser.close().await
}
