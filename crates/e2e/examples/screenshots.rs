//! Renews the pictures in docs/screenshots from the demo.
//!
//! `cargo run -p e2e --example screenshots [NAME …]`, with DATABASE_URL naming
//! a PostgreSQL server and `morphogen` built. Without names all are taken.

use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use e2e::{Browser, Service, repository, test_id};
use serde_json::json;

struct Shots {
    browser: Browser,
    wanted: Vec<String>,
}

impl Shots {
    fn wants(&self, name: &str) -> bool {
        self.wanted.is_empty() || self.wanted.iter().any(|wanted| wanted == name)
    }

    /// Takes a picture once the page has come to rest.
    async fn take(&self, name: &str) -> Result<()> {
        if self.wants(name) {
            tokio::time::sleep(Duration::from_millis(4000)).await;
            let file = repository("docs/screenshots").join(format!("{name}.png"));
            std::fs::write(file, self.browser.screenshot().await?)?;
            println!("{name}");
        }
        Ok(())
    }

    /// Takes a picture of the relief once it is drawn as finely as it can be.
    async fn take_in_full(&self, name: &str) -> Result<()> {
        if !self.wants(name) {
            return Ok(());
        }
        let script = "const drawn = [...document.querySelectorAll('canvas')];
            return drawn.some((canvas) => (canvas.dataset.frame ?? '').startsWith('2 '));";
        let start = Instant::now();
        while self.browser.script(script, vec![]).await? != true {
            ensure!(start.elapsed() < PATIENCE, "{name} is not drawn in full");
            tokio::time::sleep(Duration::from_millis(500)).await;
        }
        self.take(name).await
    }

    /// A new landscape of a preset: its page.
    async fn made(&self, service: &Service, name: &str, preset: &str) -> Result<String> {
        let script = "return (async (name, preset) => {
            const method = 'POST', headers = { 'content-type': 'application/json' };
            const body = JSON.stringify({ name, start: { preset } });
            const made = await fetch('/api/landscapes', { method, headers, body });
            return (await made.json()).id;
        })(arguments[0], arguments[1])";
        let asked = vec![json!(name), json!(preset)];
        let id = self.browser.script(script, asked).await?;
        Ok(service.page(&format!("/landscapes/{}", id.as_str().unwrap_or_default())))
    }

    /// Looks from a camera at the land as finely as it can be grown.
    async fn look(&self, page: &str, camera: [f64; 6], lens_mm: f64) -> Result<()> {
        let view = json!({ "camera": camera, "lens_mm": lens_mm, "cellsAtRest": FINE });
        // Away from the landscape, which keeps how it is looked at.
        self.browser.go(&format!("{page}/..")).await?;
        self.browser.look_next(page, &view).await?;
        self.browser.go(page).await?;
        self.grown_fine().await
    }

    /// Waits until the land is grown as finely as it can be.
    async fn grown_fine(&self) -> Result<()> {
        let cells = format!("{FINE} ×");
        self.browser
            .until(&test_id("status"), |text| text.contains(&cells))
            .await?;
        Ok(())
    }
}

/// How long a picture may take.
const PATIENCE: Duration = Duration::from_secs(180);
/// Cells along the longer side of the finest picture.
const FINE: usize = 2048;

#[tokio::main]
async fn main() -> Result<()> {
    let service = Service::start("screenshots").await?;
    let browser = Browser::open_smooth(service.folder()).await?;
    let wanted = std::env::args().skip(1).collect();
    let shots = Shots { browser, wanted };
    let page = &shots.browser;

    page.go(&service.page("/")).await?;
    page.find("li a").await?;
    shots.browser.pictures("body").await?;
    shots.take("shelf").await?;
    page.click(&test_id("new-landscape")).await?;
    page.click(&test_id("land-mountain-range")).await?;
    shots.browser.pictures("body").await?;
    shots.take("new").await?;
    page.key(&[], Browser::ESCAPE).await?;

    page.follow("Hollin Fjord").await?;
    page.grown().await?;
    page.click(&test_id("bench")).await?;
    shots.take_in_full("form").await?;

    page.click(&test_id("add-step")).await?;
    page.find(&test_id("find-kind")).await?;
    page.pictures("body").await?;
    shots.take("kinds").await?;
    page.key(&[], Browser::ESCAPE).await?;

    page.click(&test_id("bench-figures")).await?;
    page.click(&test_id("open-massif")).await?;
    page.click(&test_id("show-plan")).await?;
    page.open_menu("look-menu").await?;
    page.click(&test_id("contours")).await?;
    shots.take("plan").await?;

    page.click(&test_id("tool-core")).await?;
    page.click(&test_id("plan")).await?;
    page.until(&test_id("core-log"), |text| text.contains("Massif"))
        .await?;
    page.click(&test_id("open-massif")).await?;
    shots.take("core").await?;
    page.open_menu("look-menu").await?;
    page.click(&test_id("contours")).await?;

    page.click(&test_id("show-relief")).await?;
    page.open_menu("look-menu").await?;
    page.click(&test_id("flow-lines")).await?;
    page.open_menu("look-menu").await?;
    page.choose(&test_id("show-trace"), "change").await?;
    shots.take_in_full("erosion").await?;
    page.open_menu("look-menu").await?;
    page.choose(&test_id("show-trace"), "").await?;
    page.open_menu("look-menu").await?;
    page.click(&test_id("flow-lines")).await?;

    page.click(&test_id("open-massif")).await?;
    page.click(&test_id("sheet-massif")).await?;
    page.until(&test_id("sheet-took"), |text| text.contains("16 variants"))
        .await?;
    shots.take("sheet").await?;
    page.click(&test_id("adopt-11")).await?;
    page.grown_since("complete 1").await?;

    page.click(&test_id("bench-moments")).await?;
    page.click(&test_id("show-relief")).await?;
    page.click("[aria-label='Compare with revision 1']").await?;
    page.until(&test_id("compared"), |text| text == "against 1")
        .await?;
    shots.take("compare").await?;
    page.click(&test_id("compare-difference")).await?;
    shots.take("difference").await?;
    page.click(&test_id("compare-end")).await?;
    page.click(&test_id("undo")).await?;
    page.click(&test_id("bench")).await?;

    page.click(&test_id("stage-ground")).await?;
    page.click(&test_id("open-snow")).await?;
    shots.take_in_full("ground").await?;

    page.click(&test_id("open-snow")).await?;
    page.open_menu("camera-menu").await?;
    page.choose(&test_id("lens"), "28").await?;
    page.click(&test_id("stand")).await?;
    page.click_at(&test_id("relief"), 0.444, 0.415).await?;
    page.until(&test_id("stand"), |text| text.contains("Leave the ground"))
        .await?;
    page.open_menu("camera-menu").await?;
    page.choose(&test_id("frame"), "2:1").await?;
    if shots.wants("standing") {
        page.open_menu("look-menu").await?;
        page.choose(&test_id("detail"), &FINE.to_string()).await?;
        page.click(&test_id("look-menu")).await?;
        shots.grown_fine().await?;
        shots.take_in_full("standing").await?;
    }
    page.open_menu("camera-menu").await?;
    page.choose(&test_id("frame"), "none").await?;
    page.click(&test_id("stand")).await?;
    page.open_menu("camera-menu").await?;
    page.choose(&test_id("lens"), "35").await?;

    page.click(&test_id("stage-deliver")).await?;
    page.choose(&test_id("export-target"), "Handheld game")
        .await?;
    page.find(&test_id("export-finding-covers")).await?;
    let drawn = |of: &str| format!("{}[data-shown=true]", test_id(of));
    page.find(&drawn("mesh-picture")).await?;
    page.find(&drawn("land-picture")).await?;
    shots.take("deliver").await?;

    if shots.wants("land") {
        let path = page.script("return location.pathname", vec![]).await?;
        let url = service.page(path.as_str().unwrap_or_default());
        shots.look(&url, OVER_THE_FJORD, 26.0).await?;
        page.click(&test_id("alone")).await?;
        shots.take_in_full("land").await?;
    }
    if shots.wants("hand") {
        let url = shots.made(&service, "Ansty Bay", "example-sculpted-bay");
        page.go(&url.await?).await?;
        page.grown().await?;
        page.click(&test_id("open-by-hand")).await?;
        page.click(&test_id("deed-push")).await?;
        page.fill(&test_id("hand.size_m"), "1400").await?;
        let relief = "[data-testid=relief] canvas";
        page.drag_from(relief, (0.62, 0.42), &[(6.0, 3.0), (4.0, 2.0)], false)
            .await?;
        // On a machine that draws in pieces, until all of them are there.
        tokio::time::sleep(Duration::from_secs(15)).await;
        shots.take("hand").await?;
        page.release_mouse().await?;
    }
    if shots.wants("canyon") {
        let url = shots.made(&service, "Karrow Canyon", "example-drawn-canyon");
        let url = url.await?;
        page.go(&url).await?;
        page.grown().await?;
        shots.look(&url, UP_THE_CANYON, 26.0).await?;
        page.click(&test_id("alone")).await?;
        shots.take_in_full("canyon").await?;
    }
    shots.browser.close().await
}

/// Over the floor of the drawn canyon, towards its head.
const UP_THE_CANYON: [f64; 6] = [0.17, 0.058, 0.072, -0.06, 0.052, -0.055];
/// Over a snowy top in the south, towards the head of the fjord.
const OVER_THE_FJORD: [f64; 6] = [-0.24, 0.125, 0.26, 0.1, 0.02, -0.1];
