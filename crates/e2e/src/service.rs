//! The program, served on a database of its own.

use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use crate::Browser;
use anyhow::{Context, Result};
use serde_json::{Value, json};
use sqlx::{Connection, Executor, PgConnection};
use tempfile::TempDir;

/// The program, served on a database of its own; gone when dropped.
pub struct Service {
    child: Child,
    url: String,
    database: String,
    folder: TempDir,
}

impl Service {
    /// Starts on an empty database with the demo.
    ///
    /// # Errors
    /// When there is no database, or the program was not built.
    pub async fn start(name: &str) -> Result<Self> {
        let given = std::env::var("DATABASE_URL")
            .context("DATABASE_URL must name a PostgreSQL server; ./check sets it")?;
        let name = format!("browser_{name}_{}", std::process::id());
        let mut connection = PgConnection::connect(&given).await?;
        connection
            .execute(sqlx::AssertSqlSafe(format!("create database {name}")))
            .await?;
        let (server, _) = given.rsplit_once('/').context("a database URL")?;
        let database = format!("{server}/{name}");
        let folder = TempDir::new()?;
        let (child, url) = serve(&database, folder.path())?;
        Ok(Self {
            child,
            url,
            database,
            folder,
        })
    }

    /// Kills the program without warning and starts it again.
    ///
    /// # Errors
    /// As [`Service::start`].
    pub async fn restart(&mut self) -> Result<()> {
        self.child.kill()?;
        self.child.wait()?;
        (self.child, self.url) = serve(&self.database, self.folder.path())?;
        Ok(())
    }

    /// Lets the database go away for the service, or come back.
    ///
    /// # Errors
    /// When there is no database server.
    pub async fn database_answers(&self, answers: bool) -> Result<()> {
        let given = std::env::var("DATABASE_URL")?;
        let name = self.database.rsplit('/').next().context("a name")?;
        let mut connection = PgConnection::connect(&given).await?;
        let allow = format!("alter database {name} with allow_connections {answers}");
        connection.execute(sqlx::AssertSqlSafe(allow)).await?;
        if !answers {
            let end = format!(
                "select pg_terminate_backend(pid) from pg_stat_activity where datname = '{name}'"
            );
            connection.execute(sqlx::AssertSqlSafe(end)).await?;
        }
        Ok(())
    }

    /// A window with the demo open and grown, from above and no finer at rest than while
    /// one works: a relief drawn in software and what is finer take time that tests do not
    /// have.
    ///
    /// # Errors
    /// When the browser does not start, or the demo does not grow.
    pub async fn open_demo(&self) -> Result<Browser> {
        let browser = Browser::open(self.folder()).await?;
        self.open_demo_in(&browser).await?;
        Ok(browser)
    }

    /// The same in a window that is open. After a restart the service has another
    /// address, at which the window knows nothing of how landscapes are looked at.
    ///
    /// # Errors
    /// When the demo does not grow.
    pub async fn open_demo_in(&self, browser: &Browser) -> Result<()> {
        self.open_demo_seen_as(browser, "plan").await
    }

    /// A window with the demo as relief, as whoever opens it first sees it.
    ///
    /// # Errors
    /// As [`Service::open_demo`].
    pub async fn open_demo_in_relief(&self) -> Result<Browser> {
        let browser = Browser::open(self.folder()).await?;
        self.open_demo_seen_as(&browser, "relief").await?;
        Ok(browser)
    }

    /// The shelf is not opened for it: its pictures would go on being drawn beside the test.
    async fn open_demo_seen_as(&self, browser: &Browser, projection: &str) -> Result<()> {
        self.coarse(browser).await?;
        let shelf: Value = serde_json::from_str(&browser.content("body").await?)?;
        let is_the_demo = |entry: &&Value| entry["name"] == "Hollin Fjord";
        let demo = shelf.as_array().into_iter().flatten().find(is_the_demo);
        let id = demo.and_then(|demo| demo["id"].as_str());
        let path = format!("/landscapes/{}", id.context("the demo is on the shelf")?);
        let view = json!({ "projection": projection });
        browser.look_next(&path, &view).await?;
        browser.go(&self.page(&path)).await?;
        browser.grown().await?;
        Ok(())
    }

    /// A window with the shelf, where landscapes will be no finer at rest than while one
    /// works.
    ///
    /// # Errors
    /// When the browser does not start.
    pub async fn open_shelf(&self) -> Result<Browser> {
        let browser = Browser::open(self.folder()).await?;
        self.coarse(&browser).await?;
        browser.go(&self.page("/")).await?;
        Ok(browser)
    }

    /// Has landscapes shown no finer at rest than while one works, as the page keeps it
    /// itself; leaves the window at the list of landscapes as the service has it.
    async fn coarse(&self, browser: &Browser) -> Result<()> {
        browser.go(&self.page("/api/landscapes")).await?;
        let prefer = "localStorage.setItem('preferences', arguments[0])";
        let preferences = json!({ "cellsAtRest": 512 }).to_string();
        browser.script(prefer, vec![json!(preferences)]).await?;
        Ok(())
    }

    /// The address of a page.
    pub fn page(&self, path: &str) -> String {
        format!("{}{path}", self.url)
    }

    /// A folder for files of this test.
    pub fn folder(&self) -> &Path {
        self.folder.path()
    }

    /// Waits for a download with this ending that is all there.
    ///
    /// # Errors
    /// When none comes.
    pub async fn downloaded(&self, ending: &str) -> Result<PathBuf> {
        const PATIENCE: Duration = Duration::from_secs(100);
        let start = Instant::now();
        while start.elapsed() < PATIENCE {
            for entry in std::fs::read_dir(self.folder())? {
                let path = entry?.path();
                if path.extension().is_some_and(|found| found == ending) {
                    return Ok(path);
                }
            }
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
        anyhow::bail!("nothing was downloaded")
    }
}

/// Starts the program; it and its address.
fn serve(database: &str, folder: &Path) -> Result<(Child, String)> {
    let mut child = Command::new(program()?)
        .args(["serve", "--database", database, "--demo"])
        .arg(repository("demo"))
        .arg("--cache-dir")
        .arg(folder.join("cache"))
        .arg("--nothing-ahead")
        .stdout(Stdio::piped())
        .spawn()
        .context("the program does not start")?;
    let mut line = String::new();
    let out = child.stdout.take().context("its output")?;
    BufReader::new(out).read_line(&mut line)?;
    let address = line.trim().rsplit(' ').next();
    Ok((child, address.context("an address")?.to_owned()))
}

impl Drop for Service {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// A file of the repository.
pub fn repository(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../..")
        .join(path)
}

/// `morphogen`, beside the tests' own programs in the target folder.
fn program() -> Result<PathBuf> {
    let test = std::env::current_exe()?;
    let folder = test
        .parent()
        .and_then(Path::parent)
        .context("a target folder")?;
    let program = folder.join("morphogen");
    anyhow::ensure!(
        program.exists(),
        "{} is not built; use ./check",
        program.display()
    );
    Ok(program)
}
