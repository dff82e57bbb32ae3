//! The shelf: what one has is found, put in order, called otherwise, brought back; files are
//! taken or refused with a word, wherever they are dropped.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::json;

/// Names of landscapes on the shelf, as they are listed.
async fn listed(browser: &Browser) -> Result<Vec<String>> {
    let script =
        "return [...document.querySelectorAll('[data-testid^=landscape-] a span.font-medium')]
        .map((name) => name.textContent)";
    Ok(serde_json::from_value(
        browser.script(script, vec![]).await?,
    )?)
}

async fn until_listed(browser: &Browser, wanted: &[&str]) -> Result<()> {
    let mut names = Vec::new();
    for _ in 0..600 {
        names = listed(browser).await?;
        if names == wanted {
            return Ok(());
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    anyhow::bail!("{names:?} are listed and not {wanted:?}")
}

#[tokio::test(flavor = "multi_thread")]
async fn landscapes_are_found_renamed_tagged_and_brought_back() -> Result<()> {
    let service = Service::start("shelf").await?;
    let browser = service.open_shelf().await?;
    browser.click("[aria-label='Copy Hollin Fjord']").await?;
    until_listed(&browser, &["Hollin Fjord copy", "Hollin Fjord"]).await?;

    browser
        .click("[aria-label='Rename or tag Hollin Fjord copy']")
        .await?;
    browser.fill(&test_id("shelf-name"), "Second act").await?;
    until_listed(&browser, &["Second act", "Hollin Fjord"]).await?;
    browser
        .click("[aria-label='Rename or tag Second act']")
        .await?;
    browser
        .fill(&test_id("shelf-tags"), "series, coast")
        .await?;
    browser.until_gone(&test_id("shelf-tags")).await?;
    browser.fill(&test_id("search-shelf"), "coast").await?;
    until_listed(&browser, &["Second act"]).await?;
    browser
        .fill(&test_id("search-shelf"), "nothing like it")
        .await?;
    until_listed(&browser, &[]).await?;
    browser.fill(&test_id("search-shelf"), "hollin").await?;
    until_listed(&browser, &["Hollin Fjord"]).await?;
    browser.fill(&test_id("search-shelf"), " ").await?;
    browser.choose(&test_id("order-shelf"), "name").await?;
    until_listed(&browser, &["Hollin Fjord", "Second act"]).await?;
    browser.choose(&test_id("order-shelf"), "opened").await?;
    // The one that is opened comes first from then on.
    browser.follow("Hollin Fjord").await?;
    browser.grown().await?;
    browser.follow("Shelf").await?;
    until_listed(&browser, &["Hollin Fjord", "Second act"]).await?;

    browser.click("[aria-label='Delete Second act']").await?;
    until_listed(&browser, &["Hollin Fjord"]).await?;
    browser.reload().await?;
    browser.click(&test_id("deleted")).await?;
    browser.click("[data-testid^=bring-back]").await?;
    until_listed(&browser, &["Hollin Fjord", "Second act"]).await?;
    browser.go(&service.page("/valleys/7")).await?;
    browser
        .until(&test_id("not-here"), |text| text.contains("/valleys/7"))
        .await?;
    browser.go(&service.page("/landscapes/none")).await?;
    browser.find(&test_id("not-here")).await?;
    browser.close().await
}

/// Drops a file of a kind on what `css` finds; whether the page took it, so that the browser
/// does not open it in its place.
async fn dropped(browser: &Browser, css: &str, name: &str, text: &str) -> Result<bool> {
    let script = "
        const [css, name, text] = arguments;
        const carried = new DataTransfer();
        carried.items.add(new File([text], name));
        const here = document.querySelector(css);
        let kept = true;
        for (const type of ['dragenter', 'dragover', 'drop']) {
            const event = new DragEvent(type, { dataTransfer: carried, bubbles: true, cancelable: true });
            kept = here.dispatchEvent(event);
        }
        return !kept;";
    let taken = browser.script(script, vec![json!(css), json!(name), json!(text)]);
    Ok(taken.await? == true)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_dropped_anywhere_is_taken_or_refused_with_a_word() -> Result<()> {
    let service = Service::start("dropped").await?;
    let browser = service.open_demo().await?;
    for css in [
        "[aria-label=Column]",
        "[data-testid=status]",
        "[aria-label=Land]",
    ] {
        ensure!(
            dropped(&browser, css, "notes.docx", "hello").await?,
            "{css} lets it through"
        );
        browser
            .until("[data-sonner-toast]", |text| {
                text.contains("notes.docx cannot be taken")
            })
            .await?;
    }
    let grid = "ncols 3\nnrows 2\ncellsize 50\n1 2 3\n4 5 6\n";
    ensure!(dropped(&browser, "[aria-label=Section]", "ramp.asc", grid).await?);
    browser
        .until(&test_id("import-size"), |text| text == "150 × 100 m")
        .await?;
    browser.fill(&test_id("import-cell"), "20").await?;
    browser
        .until(&test_id("import-size"), |text| text == "60 × 40 m")
        .await?;
    browser.fill(&test_id("import-name"), "Ramp of six").await?;
    browser.find(&test_id("import-preview")).await?;
    browser.click(&test_id("import-keep")).await?;
    browser.until("h1", |text| text == "Ramp of six").await?;
    browser.grown().await?;
    // A raw file does not say how many steps are in a row.
    let steps = "twelve steps of text in it"[..24].to_owned();
    ensure!(dropped(&browser, "[aria-label=Section]", "twelve.raw", &steps).await?);
    browser
        .until(&test_id("import-wrong"), |text| text.contains("in a row"))
        .await?;
    browser.fill(&test_id("import-cols"), "4").await?;
    browser
        .until(&test_id("import-size"), |text| text == "40 × 30 m")
        .await?;
    browser.press("Cancel").await?;
    // What is no heights after all says so, and leaves one where one was.
    ensure!(dropped(&browser, "[aria-label=Column]", "broken.tif", "no picture").await?);
    browser
        .until("[data-sonner-toast]", |text| text.contains("broken.tif"))
        .await?;
    ensure!(browser.text("h1").await? == "Ramp of six");
    browser.close().await
}
