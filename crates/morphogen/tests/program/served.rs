//! The service as a program of its own.

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};

use sqlx::{Connection, Executor, PgConnection};

use crate::support::repository;

/// A service with the demo; killed when dropped.
pub struct Served {
    child: Child,
    /// Its address.
    pub url: String,
}

impl Served {
    /// Starts it on `database`, with more `options`.
    pub fn start(database: &str, cache: &Path, options: &[&str]) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_morphogen"))
            .args(["serve", "--database", database, "--cache-dir"])
            .arg(cache)
            .arg("--demo")
            .arg(repository("demo"))
            .args(options)
            .stdout(Stdio::piped())
            .spawn()
            .expect("it runs");
        let mut line = String::new();
        let out = child.stdout.take().expect("its output");
        BufReader::new(out)
            .read_line(&mut line)
            .expect("it says where it is");
        let url = line
            .trim()
            .rsplit(' ')
            .next()
            .expect("an address")
            .to_owned();
        Self { child, url }
    }
}

impl Served {
    /// Ends it as whoever runs services does (SIGTERM), and waits until it has.
    pub fn end(mut self) {
        let id = self.child.id().to_string();
        let asked = Command::new("kill").args(["-TERM", &id]).status();
        assert!(asked.expect("it runs").success());
        let ended = self.child.wait().expect("it ends");
        assert!(ended.success(), "{ended}");
    }
}

impl Drop for Served {
    /// On Unix, this is SIGKILL: the service gets no chance to tidy up.
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// An empty database; its address.
pub async fn new_database(called: &str) -> String {
    let given = std::env::var("DATABASE_URL")
        .expect("DATABASE_URL must name a PostgreSQL server; ./check sets it");
    let mut connection = PgConnection::connect(&given)
        .await
        .expect("PostgreSQL answers");
    let name = format!("{called}_{}", std::process::id());
    connection
        .execute(sqlx::AssertSqlSafe(format!("create database {name}")))
        .await
        .expect("a new database");
    let (server, _) = given.rsplit_once('/').expect("a database URL");
    format!("{server}/{name}")
}
