//! Looks.
use anyhow::Result;
use e2e::{Browser, Service, test_id};
use std::time::Duration;

#[tokio::main]
async fn main() -> Result<()> {
    let service = Service::start("look").await?;
    let browser = Browser::open(service.folder()).await?;
    let page = &browser;
    page.go(&service.page("/")).await?;
    page.find("li a").await?;
    page.follow("Hollin Fjord").await?;
    page.grown().await?;
    let script = std::env::args().nth(1).unwrap_or_default();
    for step in script.split(';') {
        let parts: Vec<&str> = step.split(',').collect();
        println!("{step}");
        match parts[0] {
            "click" => page.click(&test_id(parts[1])).await?,
            "css" => page.click(parts[1]).await?,
            "at" => {
                page.click_at(&test_id(parts[1]), parts[2].parse()?, parts[3].parse()?)
                    .await?
            }
            "choose" => page.choose(&test_id(parts[1]), parts[2]).await?,
            "wait" => tokio::time::sleep(Duration::from_millis(parts[1].parse()?)).await,
            "shot" => {
                tokio::time::sleep(Duration::from_millis(2500)).await;
                std::fs::write(
                    format!("/tmp/look-{}.png", parts[1]),
                    page.screenshot().await?,
                )?;
            }
            "frame" => println!(
                "{}",
                page.script(
                    "return document.querySelector('[data-testid=relief] canvas').dataset.frame",
                    vec![]
                )
                .await?
            ),
            "key" => page.key(&[], parts[1].chars().next().unwrap()).await?,
            _ => {}
        }
    }
    browser.close().await
}
