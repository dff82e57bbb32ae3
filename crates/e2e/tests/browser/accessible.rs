//! Every main view against the rules of WCAG 2.2, levels A and AA, as far as axe-core
//! can tell.

use anyhow::{Context, Result, ensure};
use e2e::{Browser, Service, test_id};

/// What axe finds wrong on the page as it is, one line each.
async fn faults(browser: &Browser) -> Result<Vec<String>> {
    let axe = e2e::repository("web/node_modules/axe-core/axe.min.js");
    let axe = std::fs::read_to_string(axe).context("axe-core is installed with the front end")?;
    let run = "
        const rules = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
        return axe.run(document, { runOnly: { type: 'tag', values: rules } }).then((found) =>
            found.violations.flatMap(({ id, nodes }) =>
                nodes.map(({ html, any, all, none }) =>
                    [id, html.slice(0, 160), [...any, ...all, ...none].map((c) => c.message)[0]]
                        .join(' | '))));";
    browser.script(&axe, vec![]).await.context("loading axe")?;
    let found = browser.script(run, vec![]).await.context("running axe")?;
    Ok(serde_json::from_value(found)?)
}

async fn ensure_accessible(browser: &Browser, view: &str, all: &mut Vec<String>) -> Result<()> {
    let found = faults(browser).await?;
    all.extend(found.into_iter().map(|fault| format!("{view}: {fault}")));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn every_main_view_is_accessible() -> Result<()> {
    let service = Service::start("accessible").await?;
    let browser = service.open_shelf().await?;
    browser.find("li a").await?;
    let mut all = Vec::new();
    ensure_accessible(&browser, "shelf", &mut all).await?;
    browser
        .click("[aria-label='Rename or tag Hollin Fjord']")
        .await?;
    ensure_accessible(&browser, "renaming", &mut all).await?;
    browser.click(&test_id("new-landscape")).await?;
    browser.find(&test_id("make-landscape")).await?;
    ensure_accessible(&browser, "a new landscape", &mut all).await?;
    browser.press("Cancel").await?;
    let model = e2e::repository("crates/formats/tests/data/jacksboro.tif");
    browser.give_file(&test_id("file-picker"), &model).await?;
    browser.find(&test_id("import-preview")).await?;
    ensure_accessible(&browser, "an import", &mut all).await?;
    browser.close().await?;

    let browser = service.open_demo_in_relief().await?;
    ensure_accessible(&browser, "form", &mut all).await?;
    browser.click(&test_id("help")).await?;
    browser.find(&test_id("my-name")).await?;
    ensure_accessible(&browser, "help", &mut all).await?;
    browser.press("Close").await?;
    browser.click(&test_id("open-landscape")).await?;
    ensure_accessible(&browser, "the landscape", &mut all).await?;
    browser.click(&test_id("open-massif")).await?;
    browser.click(&test_id("sheet-massif")).await?;
    browser.click(&test_id("keep-1")).await?;
    ensure_accessible(&browser, "a sheet and its tray", &mut all).await?;
    browser.key(&[], Browser::ESCAPE).await?;
    browser.open_menu("look-menu").await?;
    ensure_accessible(&browser, "an open band, an open menu", &mut all).await?;
    browser.click(&test_id("show-plan")).await?;
    ensure_accessible(&browser, "plan", &mut all).await?;
    browser.click(&test_id("add-step")).await?;
    browser.find(&test_id("find-kind")).await?;
    ensure_accessible(&browser, "adding a step", &mut all).await?;
    browser.key(&[], Browser::ESCAPE).await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-snow")).await?;
    ensure_accessible(&browser, "ground", &mut all).await?;
    browser.click(&test_id("snow.beside")).await?;
    browser.find(&test_id("masks-differ")).await?;
    ensure_accessible(&browser, "two masks", &mut all).await?;
    browser.key(&[], Browser::ESCAPE).await?;
    for bench in ["survey", "moments", "core", "figures"] {
        if bench == "survey" {
            browser.click(&test_id("bench")).await?;
        }
        browser.click(&test_id(&format!("bench-{bench}"))).await?;
        ensure_accessible(&browser, bench, &mut all).await?;
    }
    browser.click(&test_id("stage-deliver")).await?;
    ensure_accessible(&browser, "deliver", &mut all).await?;
    // The same in the dark, with much contrast, and on a phone.
    browser.prefers("prefers-color-scheme", "dark").await?;
    ensure_accessible(&browser, "deliver in the dark", &mut all).await?;
    browser.click(&test_id("stage-ground")).await?;
    ensure_accessible(&browser, "ground in the dark", &mut all).await?;
    browser.prefers("prefers-contrast", "more").await?;
    ensure_accessible(&browser, "ground with much contrast", &mut all).await?;
    browser.resize(390, 800, 1.0).await?;
    browser.click(&test_id("part-column")).await?;
    ensure_accessible(&browser, "the column on a phone", &mut all).await?;
    ensure!(all.is_empty(), "{}", all.join("\n"));
    browser.close().await
}
