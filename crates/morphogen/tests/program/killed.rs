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

/// Many rounds with `MORPHOGEN_LONG_ATTACK`, a few without.
fn rounds() -> usize {
    match std::env::var_os("MORPHOGEN_LONG_ATTACK") {
        Some(_) => 30,
        None => 4,
    }
}

/// In each round edits are sent one after the other until the service is killed in
/// the middle of them; all that were acknowledged are there afterwards.
#[tokio::test(flavor = "multi_thread")]
async fn acknowledged_edits_survive_kill_9() {
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

    let client = reqwest::Client::new();
    let mut last: Option<(i64, String)> = None;
    let mut acknowledged = 0;
    for round in 0..rounds() {
        let mut served = serve(&database, &cache);
        let (client, url) = (client.clone(), served.url.clone());
        let shelf = client.get(format!("{url}/api/landscapes")).send().await;
        let shelf: Value = shelf.expect("an answer").json().await.expect("JSON");
        let id = shelf[0]["id"].as_str().expect("the demo").to_owned();
        let head = client
            .get(format!("{url}/api/landscapes/{id}"))
            .send()
            .await;
        let head: Value = head.expect("an answer").json().await.expect("JSON");
        if let Some((revision, name)) = &last {
            let found = head["revision"].as_i64().expect("a number");
            // One more may have been committed whose answer was lost.
            assert!(
                found == *revision || found == revision + 1,
                "{found}, not {revision}"
            );
            if found == *revision {
                assert_eq!(head["recipe"]["name"], json!(name));
            }
        }
        let mut base = head["revision"].as_i64().expect("a number");
        let editing = tokio::spawn(async move {
            let mut kept = None;
            for k in 0.. {
                let name = format!("Round {round}, edit {k}");
                let patch = json!([{ "op": "replace", "path": "/name", "value": name }]);
                let edit = json!({ "base": base, "label": "Name", "patch": patch });
                let sent = client
                    .post(format!("{url}/api/landscapes/{id}/edits"))
                    .json(&edit);
                let Ok(answer) = sent.send().await else { break };
                let Ok(moved) = answer.json::<Value>().await else {
                    break;
                };
                base = moved["revision"].as_i64().expect("an acknowledgement");
                kept = Some((base, name, k + 1));
            }
            kept
        });
        tokio::time::sleep(std::time::Duration::from_millis(300)).await;
        // On Unix, this is SIGKILL: the service gets no chance to tidy up.
        served.child.kill().expect("killed");
        served.child.wait().expect("gone");
        if let Some((revision, name, count)) = editing.await.expect("no panic") {
            acknowledged += count;
            last = Some((revision, name));
        }
    }
    println!("{acknowledged} edits acknowledged");
    assert!(acknowledged > rounds(), "hardly any edit was made");
}
