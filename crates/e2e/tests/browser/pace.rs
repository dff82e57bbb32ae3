//! Three jobs from nothing to files, at the pace of a person: how many actions they take,
//! and how long.
//!
//! The pace is that of the keystroke-level model (Card, Moran and Newell 1980): 1.1 s to point
//! at something, 0.2 s to press, 0.28 s for a key, and 1.35 s to make up one's mind where a
//! new choice comes up.

use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Result, ensure};
use e2e::{Browser, Service, test_id};

const POINT: Duration = Duration::from_millis(1_100);
const PRESS: Duration = Duration::from_millis(200);
const KEY: Duration = Duration::from_millis(280);
const MIND: Duration = Duration::from_millis(1_350);

/// With this in the environment the land becomes as fine as for anybody, and seconds count.
const TIMED: &str = "MORPHOGEN_PACE";

/// Somebody at work.
struct Person {
    browser: Browser,
    since: Instant,
    actions: u32,
}

impl Person {
    async fn at(service: &Service) -> Result<Self> {
        let browser = match std::env::var_os(TIMED) {
            Some(_) => {
                let browser = Browser::open(service.folder()).await?;
                browser.go(&service.page("/")).await?;
                browser
            }
            None => service.open_shelf().await?,
        };
        browser.find("li a").await?;
        Ok(Self {
            browser,
            since: Instant::now(),
            actions: 0,
        })
    }

    async fn clicks(&mut self, id: &str) -> Result<()> {
        self.actions += 1;
        self.browser.find(&test_id(id)).await?;
        tokio::time::sleep(POINT + PRESS).await;
        self.browser.click(&test_id(id)).await
    }

    /// Chooses a file in the browser's own dialog.
    async fn gives(&mut self, file: &Path) -> Result<()> {
        self.actions += 1;
        tokio::time::sleep(MIND + POINT + PRESS).await;
        self.browser
            .give_file(&test_id("file-picker"), file)
            .await?;
        self.browser.find(&test_id("import-preview")).await?;
        Ok(())
    }

    /// Chooses among what has just come up.
    async fn chooses(&mut self, id: &str) -> Result<()> {
        tokio::time::sleep(MIND).await;
        self.clicks(id).await
    }

    async fn presses(&mut self, key: char) -> Result<()> {
        self.actions += 1;
        tokio::time::sleep(KEY).await;
        self.browser.key(&[], key).await
    }

    /// Looks at the land until it is grown.
    async fn looks(&self) -> Result<()> {
        self.browser.grown().await?;
        tokio::time::sleep(MIND).await;
        Ok(())
    }

    /// Asks for all files as they come, and fetches them.
    async fn delivers(&mut self) -> Result<()> {
        self.clicks("stage-deliver").await?;
        self.chooses("export-begin").await?;
        self.clicks("export-download").await
    }

    /// Says what the job took, and that it was no more than it may be.
    async fn ends(self, job: &str, most: u32, seconds: u64) -> Result<()> {
        let (actions, took) = (self.actions, self.since.elapsed());
        println!("{job}: {actions} actions, {:.0} s", took.as_secs_f64());
        ensure!(
            actions <= most,
            "{job} takes {actions} actions, at most {most}"
        );
        // Beside other tests, with the browser drawing in software, it takes as long as it
        // takes; alone on a machine it must not.
        let alone = std::env::var_os(TIMED).is_some();
        let most = Duration::from_secs(seconds);
        ensure!(
            !alone || took <= most,
            "{job} takes {took:?}, at most {most:?}"
        );
        self.browser.close().await
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mountain() -> Result<()> {
    let service = Service::start("pace_mountain").await?;
    let mut person = Person::at(&service).await?;
    person.clicks("new-landscape").await?;
    person.chooses("land-noise").await?;
    person.clicks("make-landscape").await?;
    person.looks().await?;
    person.presses('n').await?;
    person.chooses("add-ages").await?;
    person.looks().await?;
    person.clicks("stage-ground").await?;
    person.clicks("add-ground").await?;
    person.chooses("lay-grass-and-rock").await?;
    person.looks().await?;
    person.delivers().await?;
    person.ends("a mountain from noise to files", 12, 40).await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_island() -> Result<()> {
    let service = Service::start("pace_island").await?;
    let mut person = Person::at(&service).await?;
    person.clicks("new-landscape").await?;
    person.chooses("land-mountain-range").await?;
    person.clicks("make-landscape").await?;
    person.looks().await?;
    person.presses('n').await?;
    person.chooses("add-fall_off").await?;
    person.looks().await?;
    person.delivers().await?;
    person.ends("an island", 10, 40).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_model_of_real_land() -> Result<()> {
    let service = Service::start("pace_model").await?;
    let mut person = Person::at(&service).await?;
    let model = e2e::repository("crates/formats/tests/data/jacksboro.tif");
    person.gives(&model).await?;
    person.chooses("import-keep").await?;
    person.looks().await?;
    person.presses('n').await?;
    person.chooses("add-water").await?;
    person.looks().await?;
    person.clicks("stage-ground").await?;
    person.clicks("add-ground").await?;
    person.chooses("lay-grass-and-rock").await?;
    person.looks().await?;
    person.delivers().await?;
    person
        .ends("real land, eroded, covered, delivered", 10, 45)
        .await
}
