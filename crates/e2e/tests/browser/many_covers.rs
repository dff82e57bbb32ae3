//! As many covers as there may be, all at once.

use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};
use serde_json::{Value, json};

/// As many as a recipe may have.
const MOST: usize = 32;

const NAME: &str = "Crowded";

/// Keeps a recipe.
async fn keep(browser: &Browser, recipe: &Value) -> Result<()> {
    let post = "return fetch('/api/landscapes', {
        method: 'POST', headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ name: arguments[0].name, start: { recipe: arguments[0] } }),
    }).then((answer) => answer.json())";
    let kept = browser.script(post, vec![recipe.clone()]).await?;
    ensure!(kept["id"].is_string(), "the answer: {kept}");
    browser.reload().await
}

/// The demo with more covers over its own, each one on a band of heights.
fn crowded() -> Result<Value> {
    let demo = std::fs::read(e2e::repository("demo/hollin-fjord.json"))?;
    let mut recipe: Value = serde_json::from_slice(&demo)?;
    recipe["name"] = NAME.into();
    let covers = recipe["covers"].as_array_mut().expect("a list");
    let materials = ["slate", "limestone", "moss", "sand", "scree", "lush_grass"];
    for k in covers.len()..MOST {
        let low = 40.0 * k as f64;
        let band = json!({ "of": "height", "from": low, "to": low + 30.0, "soft_from": 5.0 });
        covers.push(json!({
            "id": format!("band-{k}"), "name": format!("Band {k}"),
            "colour": "#8a837a", "material": materials[k % materials.len()], "mask": { "terms": [band] },
        }));
    }
    Ok(recipe)
}

/// The legend lists them, and the land is drawn with all of them in every quality:
/// no shader refuses them.
#[tokio::test(flavor = "multi_thread")]
async fn as_many_covers_as_there_may_be_are_drawn() -> Result<()> {
    let service = Service::start("many_covers").await?;
    let browser = service.open_shelf().await?;
    keep(&browser, &crowded()?).await?;
    // What a shader that is refused says, and else nobody would hear.
    let listen = "window.faults = []; const say = console.error;
        console.error = (...words) => { window.faults.push(words.join(' ')); say(...words); };";
    browser.script(listen, vec![]).await?;
    browser.follow(NAME).await?;
    browser.grown().await?;
    browser.click(&test_id("stage-ground")).await?;
    browser.find(&test_id("open-band-31")).await?;
    let count = "return document
        .querySelectorAll('[aria-label=Legend] [data-testid^=grip-]').length";
    let count = browser.script(count, vec![]).await?;
    ensure!(count == json!(MOST), "{count} covers in the legend");
    // Until the finest quality has been drawn.
    let frame = "return document.querySelector('canvas[data-frame]')?.dataset.frame ?? ''";
    let since = Instant::now();
    let drawn = loop {
        let drawn = browser.script(frame, vec![]).await?;
        let drawn = drawn.as_str().unwrap_or_default().to_owned();
        if drawn.starts_with('2') {
            break drawn;
        }
        ensure!(
            since.elapsed() < Duration::from_secs(150),
            "the last frame: {drawn}"
        );
        tokio::time::sleep(Duration::from_millis(500)).await;
    };
    let faults = browser.script("return window.faults", vec![]).await?;
    ensure!(faults == json!([]), "{faults} (frame {drawn})");
    browser.close().await
}
