//! An acknowledged edit is kept, even if the service dies the next moment.

use std::time::Duration;

use serde_json::{Value, json};
use sqlx::{Connection, PgConnection};
use tempfile::TempDir;

use crate::served::{Served, new_database};

/// Many rounds with `MORPHOGEN_LONG_ATTACK`, a few without.
fn rounds() -> usize {
    match std::env::var_os("MORPHOGEN_LONG_ATTACK") {
        Some(_) => 30,
        None => 4,
    }
}

/// What is being exported is given back when the service is ended, and does not count as an
/// attempt.
#[tokio::test(flavor = "multi_thread")]
async fn an_export_is_given_back_when_the_service_is_ended() {
    let database = new_database("ended").await;
    let cache = TempDir::new().expect("a folder");
    let served = Served::start(&database, cache.path(), &[]);
    let client = reqwest::Client::new();
    let get = async |path: &str| {
        let answer = client.get(format!("{}{path}", served.url)).send().await;
        answer
            .expect("an answer")
            .json::<Value>()
            .await
            .expect("JSON")
    };
    let shelf = get("/api/landscapes").await;
    let id = shelf[0]["id"].as_str().expect("the demo").to_owned();
    let path = format!("{}/api/landscapes/{id}/exports", served.url);
    let wish = json!({ "wish": { "cells": 8192 } });
    let begun = client.post(path).json(&wish).send().await;
    let begun: Value = begun.expect("an answer").json().await.expect("JSON");
    let export = format!("/api/exports/{}", begun["id"].as_str().expect("an id"));
    while get(&export).await["state"] != "running" {
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    served.end();
    let mut connection = PgConnection::connect(&database).await.expect("connects");
    let row: (String, i32) = sqlx::query_as("select state, attempts from exports")
        .fetch_one(&mut connection)
        .await
        .expect("one");
    assert_eq!(row, ("queued".to_owned(), 0));
}

/// In each round edits are sent one after the other until the service is killed in
/// the middle of them; all that were acknowledged are there afterwards.
#[tokio::test(flavor = "multi_thread")]
async fn acknowledged_edits_survive_kill_9() {
    let database = new_database("killed").await;
    let cache = TempDir::new().expect("a folder");

    let client = reqwest::Client::new();
    let mut last: Option<(i64, String)> = None;
    let mut acknowledged = 0;
    for round in 0..rounds() {
        let served = Served::start(&database, cache.path(), &[]);
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
        drop(served);
        if let Some((revision, name, count)) = editing.await.expect("no panic") {
            acknowledged += count;
            last = Some((revision, name));
        }
    }
    println!("{acknowledged} edits acknowledged");
    assert!(acknowledged > rounds(), "hardly any edit was made");
}
