//! A day's work in the studio: the landscape itself, moments, masks, company, what one likes.

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::json;

const REVISION: &str = "[data-testid=kept]";

async fn kept(browser: &Browser, revision: u32) -> Result<()> {
    let wanted = format!("kept as revision {revision}");
    browser.until(REVISION, |text| text == wanted).await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_landscape_itself_is_set_at_the_foot_of_its_column() -> Result<()> {
    let service = Service::start("landscape").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-landscape")).await?;
    browser
        .fill(&test_id("landscape.name"), "Hollin Fjord, dawn")
        .await?;
    kept(&browser, 2).await?;
    browser
        .until("h1", |text| text == "Hollin Fjord, dawn")
        .await?;
    browser.fill(&test_id("landscape.width_m"), "7 km").await?;
    kept(&browser, 3).await?;
    browser
        .until(&test_id("landscape.proportion"), |text| {
            text.starts_with("7 : 8, 56 km²")
        })
        .await?;
    browser
        .fill(&test_id("landscape.sea_level_m"), "30")
        .await?;
    kept(&browser, 4).await?;
    browser
        .fill(&test_id("landscape.datum"), "Mean sea level")
        .await?;
    kept(&browser, 5).await?;
    browser.fill(&test_id("sun.altitude_deg"), "9").await?;
    kept(&browser, 6).await?;

    // What cannot be is said where it was typed, by the name that it has there.
    browser
        .fill(&test_id("landscape.sea_level_m"), "abc")
        .await?;
    let wrong = "[aria-label=Landscape] [role=alert]";
    browser
        .until(wrong, |text| text.contains("“abc” is not a number"))
        .await?;
    browser
        .fill(&test_id("landscape.sea_level_m"), "99 km")
        .await?;
    browser
        .until(wrong, |text| {
            text == "Sea level can be -12,000 m to 12,000 m."
        })
        .await?;
    browser.key(&[], Browser::ESCAPE).await?;
    browser.until_gone(wrong).await?;
    kept(&browser, 6).await?;
    browser.reload().await?;
    browser.grown().await?;
    browser.click(&test_id("open-landscape")).await?;
    let value = "return document.querySelector('[data-testid=\"landscape.datum\"]').value";
    ensure!(browser.script(value, vec![]).await? == "Mean sea level");
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn any_two_moments_are_compared_in_words_and_pictures() -> Result<()> {
    let service = Service::start("compared").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-massif")).await?;
    let mut before = browser.grown().await?;
    for height in ["900", "500"] {
        browser.fill(&test_id("massif.height_m"), height).await?;
        before = browser.grown_since(&before).await?;
    }
    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("bench-moments")).await?;
    browser
        .until(&test_id("revision-3"), |text| {
            text.contains("Massif: height from 900 to 500 m")
        })
        .await?;
    browser.click("[aria-label='Look at revision 2']").await?;
    browser
        .until(&test_id("newest"), |text| text.contains("Revision 2"))
        .await?;
    browser
        .click("[aria-label='Compare with revision 1']")
        .await?;
    browser
        .until(&test_id("changes"), |text| {
            text.contains("From revision 1 to 2") && text.contains("to 900 m")
        })
        .await?;
    browser
        .until(&test_id("compared"), |text| text == "against 1")
        .await?;
    // Escape leaves the comparison, and what was looked at.
    browser.key(&[], Browser::ESCAPE).await?;
    browser.until_gone(&test_id("compare-tools")).await?;
    browser.until_gone(&test_id("newest")).await?;
    // Whoever changes the land while looking at the past comes back to the present.
    browser.click("[aria-label='Look at revision 1']").await?;
    browser.find(&test_id("newest")).await?;
    browser.fill(&test_id("massif.height_m"), "650").await?;
    browser.until_gone(&test_id("newest")).await?;
    kept(&browser, 4).await?;
    browser.close().await
}

/// Two artists on one landscape see one another, and nobody takes back another's edit
/// without being told.
#[tokio::test(flavor = "multi_thread")]
async fn others_who_are_here_are_seen_and_named() -> Result<()> {
    let service = Service::start("company").await?;
    let mira = service.open_demo().await?;
    mira.click(&test_id("help")).await?;
    mira.fill(&test_id("my-name"), "Mira").await?;
    mira.press("Close").await?;
    let jon = Browser::open(service.folder()).await?;
    service.open_demo_in(&jon).await?;
    jon.until(&test_id("people"), |text| text.contains('M'))
        .await?;
    mira.until(&test_id("people"), |text| !text.is_empty())
        .await?;
    mira.click("[aria-label='Massif is on']").await?;
    kept(&jon, 2).await?;
    let title = "return document.querySelector('[data-testid=undo]').title";
    let said = jon.script(title, vec![]).await?;
    ensure!(
        said.as_str()
            .is_some_and(|said| said.contains("Mira’s edit: Switch off Massif")),
        "{said}"
    );
    let own = mira.script(title, vec![]).await?;
    ensure!(
        own.as_str().is_some_and(|said| !said.contains("Mira")),
        "{own}"
    );
    mira.close().await?;
    jon.until_gone(&test_id("people")).await?;
    jon.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn masks_are_seen_in_grey_small_and_beside_one_another() -> Result<()> {
    let service = Service::start("grey").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("show-plan")).await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("open-snow")).await?;
    let loaded = "const picture = document.querySelector(arguments[0]);
        return picture !== null && picture.complete && picture.naturalWidth > 0";
    for thumb in ["thumb-snow", "thumb-snow#1"] {
        let css = format!("[data-testid='{thumb}']");
        let element = browser.find(&css).await?;
        browser
            .script(
                "arguments[0].scrollIntoView()",
                vec![serde_json::to_value(&element)?],
            )
            .await?;
        for _ in 0..900 {
            if browser.script(loaded, vec![json!(css)]).await? == true {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(100)).await;
        }
        ensure!(
            browser.script(loaded, vec![json!(css)]).await? == true,
            "{thumb} is not drawn"
        );
    }
    browser
        .click("[aria-label='Show the mask on the land']")
        .await?;
    browser.find(&test_id("plan-hatch")).await?;
    browser.key(&[], 'g').await?;
    browser.until_gone(&test_id("plan-hatch")).await?;
    // Nothing but grey is left, from black to white.
    let grey = "
        const canvas = document.querySelector('[data-testid=plan] canvas');
        const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
        let [low, high, coloured] = [255, 0, 0];
        for (let i = 0; i < data.length; i += 4) {
            if (data[i] !== data[i + 1] || data[i] !== data[i + 2]) coloured++;
            low = Math.min(low, data[i]);
            high = Math.max(high, data[i]);
        }
        return [low, high, coloured];";
    let mut found = json!(null);
    for _ in 0..900 {
        found = browser.script(grey, vec![]).await?;
        if found[2] == 0 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    ensure!(found == json!([0, 255, 0]), "low, high, coloured: {found}");
    browser.key(&[], 'g').await?;
    browser.find(&test_id("plan-hatch")).await?;
    browser.click(&test_id("snow.beside")).await?;
    browser.find(&test_id("masks-differ")).await?;
    browser.choose(&test_id("other-mask"), "scree").await?;
    browser
        .find("[data-testid=masks-differ] [data-testid=thumb-scree]")
        .await?;
    browser.close().await
}

/// After a ready combination its newest step is open and has the focus; of grounds too.
#[tokio::test(flavor = "multi_thread")]
async fn what_was_added_is_open_and_has_the_focus() -> Result<()> {
    let service = Service::start("focus_added").await?;
    let browser = service.open_demo().await?;
    let focused = "return document.activeElement?.dataset.testid ?? ''";
    let until_focused = async |wanted: &str| -> Result<()> {
        let mut found = json!(null);
        for _ in 0..60 {
            found = browser.script(focused, vec![]).await?;
            if found == wanted {
                return Ok(());
            }
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
        anyhow::bail!("{found} has the focus, not {wanted}")
    };
    // Pictures of a list that is closed are not asked for; once it is open they are.
    let asked = "return performance.getEntriesByType('resource')
        .filter(({ name }) => name.includes('/api/kinds/')).length";
    let asked = browser.script(asked, vec![]).await?;
    ensure!(asked == 0, "{asked} pictures");
    browser.key(&[], 'n').await?;
    browser.find("dialog[open] img[src^='/api/kinds/']").await?;
    browser.write(&test_id("find-kind"), "volcano").await?;
    browser.click(&test_id("lay-cut-volcano")).await?;
    kept(&browser, 2).await?;
    let top = "return document.querySelector('[data-testid^=band-]').dataset.testid.slice(5)";
    let top = browser.script(top, vec![]).await?;
    let top = top.as_str().unwrap_or_default();
    until_focused(&format!("open-{top}")).await?;
    let open = "return document.querySelector(`[data-testid=\"${arguments[0]}\"]`).ariaExpanded";
    ensure!(
        browser
            .script(open, vec![json!(format!("open-{top}"))])
            .await?
            == "true"
    );
    // A word that nothing is called by finds what is meant.
    browser.key(&[], 'n').await?;
    browser.fill(&test_id("find-kind"), "cliff").await?;
    until_focused("open-outcrop-1").await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.click(&test_id("add-ground")).await?;
    browser.click(&test_id("add-cover")).await?;
    until_focused("open-cover-1").await?;
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_one_likes_is_kept() -> Result<()> {
    let service = Service::start("likes").await?;
    let browser = service.open_demo_in_relief().await?;
    let background =
        "return getComputedStyle(document.querySelector('[data-testid=status]')).backgroundColor";
    let light = browser.script(background, vec![]).await?;
    browser.prefers("prefers-color-scheme", "dark").await?;
    let dark = browser.script(background, vec![]).await?;
    ensure!(light != dark, "the system's wish for dark is not heard");
    browser.click(&test_id("help")).await?;
    browser.choose(&test_id("prefer-theme"), "paper").await?;
    ensure!(
        browser.script(background, vec![]).await? == light,
        "the switch does not override"
    );
    browser.choose(&test_id("prefer-contrast"), "more").await?;
    ensure!(browser.script(background, vec![]).await? != light);
    // Another key for the plan, and the old one does nothing any more.
    browser.click(&test_id("key-projection")).await?;
    browser.key(&[], 'x').await?;
    browser.press("Close").await?;
    browser.key(&[], 'v').await?;
    browser.key(&[], 'x').await?;
    browser.find(&test_id("plan")).await?;
    // How the land is looked at is kept a moment later.
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    browser.reload().await?;
    browser.find(&test_id("plan")).await?;
    browser.key(&[], 'x').await?;
    browser.find(&test_id("relief")).await?;
    // Parts are folded away, and stay so.
    browser.click(&test_id("fold-column")).await?;
    browser.until_gone("[aria-label=Column]").await?;
    browser.key(&[], '-').await?;
    browser.until_gone("[aria-label=Section]").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    browser.reload().await?;
    browser.click(&test_id("unfold-column")).await?;
    browser.find("[aria-label=Column]").await?;
    browser.click(&test_id("unfold-section")).await?;
    browser.find("[aria-label=Section]").await?;
    browser.close().await
}

/// Variants are put aside, crossed with one another, and adopted.
#[tokio::test(flavor = "multi_thread")]
async fn favourites_are_crossed_and_adopted() -> Result<()> {
    let service = Service::start("favourites").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-massif")).await?;
    browser.click(&test_id("sheet-massif")).await?;
    browser.click(&test_id("keep-2")).await?;
    browser.click(&test_id("keep-5")).await?;
    browser.click(&test_id("favourite-1")).await?;
    browser.click(&test_id("favourite-2")).await?;
    browser.click(&test_id("cross")).await?;
    let words = browser
        .until(&test_id("children"), |text| {
            text.contains("What it has of whom")
        })
        .await?;
    ensure!(words.matches("Adopt").count() == 8, "{words}");
    browser
        .click("[data-testid=children] li:nth-child(3) button")
        .await?;
    browser
        .until(REVISION, |text| text.starts_with("kept as revision"))
        .await?;
    // The tray is there the next time, too.
    browser.reload().await?;
    browser.grown().await?;
    browser.click(&test_id("open-massif")).await?;
    browser.click(&test_id("sheet-massif")).await?;
    browser.find(&test_id("favourite-2")).await?;
    browser.close().await
}

/// The sun is placed by the time of a day.
#[tokio::test(flavor = "multi_thread")]
async fn the_sun_of_an_hour() -> Result<()> {
    let service = Service::start("hour").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("open-landscape")).await?;
    let open = "document.querySelector('[aria-label=Landscape] details').open = true";
    browser.script(open, vec![]).await?;
    browser.fill(&test_id("sun.hour"), "12").await?;
    kept(&browser, 2).await?;
    // South at noon, and on midsummer at 60° north 90° − 60° + 23.4° high.
    let sun = "return ['bearing_deg', 'altitude_deg'].map((key) =>
        Number(document.querySelector(`[data-testid=\"sun.${key}\"]`).value))";
    let found = browser.script(sun, vec![]).await?;
    ensure!(
        found == json!([180, 53.4]) || found == json!([180, 53.5]),
        "{found}"
    );
    browser.fill(&test_id("sun.hour"), "0").await?;
    browser
        .until("[aria-label=Landscape] details", |text| {
            text.contains("The sun is down")
        })
        .await?;
    kept(&browser, 2).await?;
    browser.close().await
}
