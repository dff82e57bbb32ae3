//! An acknowledged edit is kept, even if the service dies the next moment.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use serde_json::{Value, json};
use sqlx::{Connection, Executor, PgConnection};
use tempfile::TempDir;

use crate::support::repository;

struct Served {
    child: Child,
    url: String,
}

fn serve(database: &str, cache: &TempDir) -> Served {
    let mut child = Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(["serve", "--database", database, "--cache-dir"])
        .arg(cache.path())
        .arg("--demo")
        .arg(repository("demo"))
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
    Served { child, url }
}

#[tokio::test]
async fn an_acknowledged_edit_survives_kill_9() {
    let given = std::env::var("DATABASE_URL")
        .expect("DATABASE_URL must name a PostgreSQL server; ./check sets it");
    let mut connection = PgConnection::connect(&given)
        .await
        .expect("PostgreSQL answers");
    let name = format!("killed_{}", std::process::id());
    connection
        .execute(sqlx::AssertSqlSafe(format!("create database {name}")))
        .await
        .expect("a new database");
    let database = format!(
        "{}/{name}",
        given.rsplit_once('/').expect("a database URL").0
    );
    let cache = TempDir::new().expect("a folder");

    let mut served = serve(&database, &cache);
    let client = reqwest::Client::new();
    let get = |url: String| {
        let client = client.clone();
        async move {
            let answer = client.get(url).send().await.expect("an answer");
            answer.json::<Value>().await.expect("JSON")
        }
    };
    let shelf = get(format!("{}/api/landscapes", served.url)).await;
    let id = shelf[0]["id"].as_str().expect("the demo").to_owned();
    let head = get(format!("{}/api/landscapes/{id}", served.url)).await;
    let patch = json!([{ "op": "replace", "path": "/name", "value": "Kept" }]);
    let edit = json!({ "base": head["revision"], "label": "Name", "patch": patch });
    let acknowledged = client
        .post(format!("{}/api/landscapes/{id}/edits", served.url))
        .json(&edit)
        .send()
        .await
        .expect("an answer");
    assert!(acknowledged.status().is_success());
    // On Unix, this is SIGKILL: the service gets no chance to tidy up.
    served.child.kill().expect("killed");
    served.child.wait().expect("gone");

    let mut served = serve(&database, &cache);
    let head = get(format!("{}/api/landscapes/{id}", served.url)).await;
    served.child.kill().expect("killed");
    served.child.wait().expect("gone");
    assert_eq!(head["recipe"]["name"], "Kept");
    assert_eq!(head["undo"], "Name");
}
