//! The database goes away and comes back; services come and go beside each other.

use std::net::SocketAddr;
use std::sync::Arc;
use std::time::{Duration, Instant};

use reqwest::StatusCode;
use serde_json::{Value, json};
use server::Archives;
use sqlx::{Connection, Executor, PgConnection};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::watch;

use crate::support::{HEIGHT, Service, new_database};
use crate::viewer::{Viewer, is};

/// Stands between the service and its database, and can be cut.
struct Cable {
    address: SocketAddr,
    whole: Arc<watch::Sender<bool>>,
}

impl Cable {
    async fn to(target: SocketAddr) -> Self {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
        let address = listener.local_addr().expect("an address");
        let whole = Arc::new(watch::Sender::new(true));
        let state = whole.clone();
        tokio::spawn(async move {
            while let Ok((mut near, _)) = listener.accept().await {
                let mut state = state.subscribe();
                if !*state.borrow() {
                    continue;
                }
                tokio::spawn(async move {
                    let Ok(mut far) = TcpStream::connect(target).await else {
                        return;
                    };
                    tokio::select! {
                        _ = tokio::io::copy_bidirectional(&mut near, &mut far) => {}
                        _ = state.wait_for(|whole| !whole) => {}
                    }
                });
            }
        });
        Self { address, whole }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn without_the_database_answers_are_quick_and_with_it_all_goes_on() {
    let database = new_database().await;
    let (server, name) = database.rsplit_once('/').expect("a URL");
    let (user, host) = server.rsplit_once('@').expect("a user");
    let cable = Cable::to(host.parse().expect("an address")).await;
    let service = Service::on(format!("{user}@{}/{name}", cable.address)).await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer.say(json!({ "type": "look", "cells": 8 })).await;
    viewer.hear_until(is("head")).await;

    cable.whole.send_replace(false);
    let edit = json!({ "base": before["revision"], "label": "Lost?",
        "patch": [{ "op": "replace", "path": HEIGHT, "value": 800.0 }] });
    let path = format!("/api/landscapes/{demo}/edits");
    for _ in 0..3 {
        let since = Instant::now();
        let away = service.post(&path, &edit).await;
        assert_eq!(away.status(), StatusCode::SERVICE_UNAVAILABLE);
        assert!(away.headers().contains_key("retry-after"));
        assert!(
            since.elapsed() < Duration::from_secs(5),
            "{:?}",
            since.elapsed()
        );
    }
    let health = service
        .client
        .get(service.url("/healthz"))
        .send()
        .await
        .expect("an answer");
    assert_eq!(health.status(), StatusCode::SERVICE_UNAVAILABLE);

    cable.whole.send_replace(true);
    let since = Instant::now();
    let moved = loop {
        let answer = service.post(&path, &edit).await;
        match answer.status() {
            StatusCode::OK => break answer.json::<Value>().await.expect("JSON"),
            StatusCode::SERVICE_UNAVAILABLE => tokio::time::sleep(Duration::from_millis(100)).await,
            other => panic!("{other}"),
        }
        assert!(
            since.elapsed() < Duration::from_secs(20),
            "it does not come back"
        );
    };
    // The viewer hears of it, by the move or, after the gap, by the whole head.
    viewer
        .hear_until(|m| {
            (m["type"] == "moved" || m["type"] == "head") && m["version"] == moved["version"]
        })
        .await;
    let health = service.get("/healthz").await;
    assert_eq!(health["database"], true);
}

/// Two services on one database: edits of the one reach viewers of the other, and
/// the start of the second leaves the exports of the first alone.
#[tokio::test(flavor = "multi_thread")]
async fn two_services_share_a_database() {
    let one = Service::start().await;
    let demo = one.demo().await;
    let path = format!("/api/landscapes/{demo}/exports");
    let begun = one
        .post(
            &path,
            &json!({ "wish": { "cells": 1500, "layers": ["height"] } }),
        )
        .await;
    let begun: Value = begun.json().await.expect("JSON");
    let export = format!("/api/exports/{}", begun["id"].as_str().expect("an id"));

    let two = Service::on(one.database.clone()).await;
    let status = one.get(&export).await;
    assert_ne!(status["state"], "failed", "{status}");
    let mut viewer = Viewer::of(&two, &demo).await;
    viewer.say(json!({ "type": "look", "cells": 8 })).await;
    let head = viewer.hear_until(is("head")).await;
    one.set(&demo, HEIGHT, json!(650.0)).await;
    let moved = viewer.hear_until(is("moved")).await;
    assert_eq!(moved["base"], head["revision"]);
    two.set(&demo, HEIGHT, json!(660.0)).await;
    viewer.hear_until(is("moved")).await;
    assert_eq!(one.head(&demo).await, two.head(&demo).await);
    assert_eq!(ended(&one, &export).await["state"], "done");
}

async fn ended(service: &Service, export: &str) -> Value {
    for _ in 0..600 {
        let status = service.get(export).await;
        if status["state"] != "running" && status["state"] != "queued" {
            return status;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    panic!("the export does not end");
}

/// What a service leaves undone is taken up again: given back by one that stops,
/// and found by others when one has died.
#[tokio::test(flavor = "multi_thread")]
async fn exports_survive_a_restart() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let path = format!("/api/landscapes/{demo}/exports");
    let begun = service
        .post(
            &path,
            &json!({ "wish": { "cells": 1500, "layers": ["height"] } }),
        )
        .await;
    let begun: Value = begun.json().await.expect("JSON");
    let id = begun["id"].as_str().expect("an id").to_owned();
    let service = service.restarted().await;
    let export = format!("/api/exports/{id}");
    assert_eq!(ended(&service, &export).await["state"], "done");
    let file = service
        .client
        .get(service.url(&format!("{export}/file")))
        .send()
        .await;
    assert_eq!(file.expect("an answer").status(), StatusCode::OK);

    // One that has died holds it, and has not said for a minute that it is alive.
    let mut connection = PgConnection::connect(&service.database)
        .await
        .expect("connects");
    let dead = "update exports set state = 'running', alive_at = now() - interval '1 minute',
                    taken_by = '00000000-0000-0000-0000-000000000001'";
    connection.execute(dead).await.expect("left undone");
    assert_eq!(ended(&service, &export).await["state"], "done");
}

/// Of many archives the newest are kept.
#[tokio::test(flavor = "multi_thread")]
async fn old_archives_go() {
    let archives = Archives {
        most: 2,
        ..Archives::default()
    };
    let service = Service::keeping(new_database().await, archives).await;
    let demo = service.demo().await;
    let mut exports = Vec::new();
    for _ in 0..4 {
        let path = format!("/api/landscapes/{demo}/exports");
        let begun = service
            .post(
                &path,
                &json!({ "wish": { "cells": 32, "layers": ["height"] } }),
            )
            .await;
        let begun: Value = begun.json().await.expect("JSON");
        let export = format!("/api/exports/{}", begun["id"].as_str().expect("an id"));
        assert_eq!(ended(&service, &export).await["state"], "done");
        exports.push(export);
    }
    for _ in 0..50 {
        let files = std::fs::read_dir(service.folder().join("exports")).expect("a folder");
        if files.count() == 2 {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    let (oldest, newest) = (
        service.get(&exports[0]).await,
        service.get(&exports[3]).await,
    );
    assert_eq!(
        (&oldest["state"], &newest["state"]),
        (&json!("expired"), &json!("done"))
    );
    let gone = service
        .client
        .get(service.url(&format!("{}/file", exports[0])))
        .send()
        .await;
    assert_eq!(gone.expect("an answer").status(), StatusCode::NOT_FOUND);
    let files = std::fs::read_dir(service.folder().join("exports")).expect("a folder");
    assert_eq!(files.count(), 2);
}
