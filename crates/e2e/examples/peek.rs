use anyhow::Result;
use e2e::{Browser, Service, test_id};
use std::time::Duration;
async fn shot(b: &Browser, n: &str) -> Result<()> {
    tokio::time::sleep(Duration::from_millis(2500)).await;
    std::fs::write(format!("/tmp/peek/{n}.png"), b.screenshot().await?)?;
    Ok(())
}
#[tokio::main]
async fn main() -> Result<()> {
    std::fs::create_dir_all("/tmp/peek")?;
    let want: Vec<String> = std::env::args().skip(1).collect();
    let w = |n: &str| want.is_empty() || want.iter().any(|x| x == n);
    let s = Service::start("peek").await?;
    let b = Browser::open(s.folder()).await?;
    b.resize(1280, 800, 1.0).await?;
    b.go(&s.page("/")).await?;
    b.find("li a").await?;
    if w("shelf") {
        shot(&b, "shelf").await?;
    }
    if w("import") {
        b.give_file(
            &test_id("file-picker"),
            &e2e::repository("crates/formats/tests/data/jacksboro.tif"),
        )
        .await?;
        b.find(&test_id("import-preview")).await?;
        shot(&b, "import").await?;
        b.press("Cancel").await?;
    }
    if w("help") {
        b.click(&test_id("help")).await?;
        shot(&b, "help").await?;
        b.key(&[], Browser::ESCAPE).await?;
    }
    s.open_demo_in(&b).await?;
    if w("form") {
        b.click(&test_id("open-landscape")).await?;
        shot(&b, "form").await?;
        b.click(&test_id("open-landscape")).await?;
    }
    if w("ground") {
        b.click(&test_id("stage-ground")).await?;
        b.click(&test_id("open-snow")).await?;
        shot(&b, "ground").await?;
        b.click("[aria-label='Show the mask on the land']").await?;
        shot(&b, "mask").await?;
        b.key(&[], 'g').await?;
        shot(&b, "grey").await?;
        b.click(&test_id("snow.beside")).await?;
        shot(&b, "beside").await?;
        b.key(&[], Browser::ESCAPE).await?;
        b.key(&[], 'g').await?;
        b.click(&test_id("stage-form")).await?;
    }
    if w("moments") {
        b.click(&test_id("open-massif")).await?;
        b.fill(&test_id("massif.height_m"), "900").await?;
        b.grown().await?;
        b.click(&test_id("open-massif")).await?;
        b.click(&test_id("bench")).await?;
        b.click(&test_id("bench-moments")).await?;
        b.click("[aria-label='Compare with revision 1']").await?;
        tokio::time::sleep(Duration::from_secs(4)).await;
        shot(&b, "moments").await?;
        b.key(&[], Browser::ESCAPE).await?;
    }
    if w("dark") {
        b.prefers("prefers-color-scheme", "dark").await?;
        shot(&b, "dark").await?;
        b.prefers("prefers-contrast", "more").await?;
        shot(&b, "contrast").await?;
        b.prefers("prefers-color-scheme", "light").await?;
    }
    if w("small") {
        b.resize(1024, 700, 1.0).await?;
        b.click(&test_id("open-massif")).await?;
        shot(&b, "w1024").await?;
        b.resize(390, 800, 1.0).await?;
        shot(&b, "w390").await?;
        b.click(&test_id("part-column")).await?;
        shot(&b, "w390c").await?;
        b.resize(640, 400, 2.0).await?;
        shot(&b, "zoom200").await?;
    }
    b.close().await
}
