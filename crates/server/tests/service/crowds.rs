//! Many at once: the order in which they are told, and who keeps a turn from whom.

use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::{Duration, Instant};

use recipe::grow::Budget;
use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{HEIGHT, Service};
use crate::viewer::{Viewer, is};

/// Six writers on one landscape: every acknowledgement is of the writer's own edit,
/// and every viewer sees all moves in the order of their commits.
#[tokio::test(flavor = "multi_thread")]
async fn heads_arrive_in_order_whoever_wrote() {
    const WRITERS: usize = 6;
    const EDITS: usize = 12;
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut viewers = Vec::new();
    for _ in 0..3 {
        let mut viewer = Viewer::of(&service, &demo).await;
        viewer.say(json!({ "type": "look", "cells": 8 })).await;
        let head = viewer.hear_until(is("head")).await;
        viewers.push((viewer, head["version"].as_i64().expect("a count")));
    }
    let path = format!("/api/landscapes/{demo}/edits");
    let writers = (0..WRITERS).map(|writer| {
        let (service, demo, path) = (&service, &demo, &path);
        async move {
            let mut acknowledged = Vec::new();
            for edit in 0..EDITS {
                let label = format!("writer {writer}, edit {edit}");
                loop {
                    let base = service.head(demo).await["revision"].clone();
                    let height = 500.0 + (writer * EDITS + edit) as f64;
                    let patch = json!([{ "op": "replace", "path": HEIGHT, "value": height }]);
                    let edit = json!({ "base": base, "label": label, "patch": patch });
                    let answer = service.post(path, &edit).await;
                    if answer.status() == StatusCode::CONFLICT {
                        continue;
                    }
                    let moved: Value = answer.json().await.expect("JSON");
                    assert_eq!(moved["undo"], json!(label), "somebody else's");
                    acknowledged.push((moved["revision"].clone(), label));
                    break;
                }
            }
            acknowledged
        }
    });
    let acknowledged: Vec<_> = futures::future::join_all(writers).await.concat();
    let revisions = service
        .get(&format!("/api/landscapes/{demo}/revisions"))
        .await;
    for (revision, label) in &acknowledged {
        let listed = revisions.as_array().expect("a list").iter();
        let mut listed = listed.filter(|entry| entry["revision"] == *revision);
        assert_eq!(listed.next().expect("it is kept")["label"], json!(label));
    }
    let last = service.head(&demo).await;
    assert_eq!(acknowledged.len(), WRITERS * EDITS);
    for (mut viewer, mut version) in viewers {
        while version < last["version"].as_i64().expect("a count") {
            let told = viewer
                .hear_until(|m| m["type"] == "moved" || m["type"] == "head")
                .await;
            let now = told["version"].as_i64().expect("a count");
            match told["type"] == "moved" {
                true => assert_eq!(now, version + 1, "one after the other"),
                false => assert!(now > version, "never backwards"),
            }
            version = now;
        }
    }
}

/// An unfinished edit of an older head is not dropped in silence.
#[tokio::test(flavor = "multi_thread")]
async fn a_preview_of_an_older_head_is_told_so() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut viewer = Viewer::of(&service, &demo).await;
    let head = viewer.hear_until(is("head")).await;
    service.set(&demo, HEIGHT, json!(900.0)).await;
    let moved = viewer.hear_until(is("moved")).await;
    let patch = json!([{ "op": "replace", "path": "/name", "value": "Late" }]);
    viewer
        .say(json!({ "type": "preview", "base": head["revision"], "patch": patch }))
        .await;
    let outdated = viewer.hear_until(is("outdated")).await;
    assert_eq!(outdated["revision"], moved["revision"]);
    viewer.say(json!({ "type": "whole" })).await;
    let whole = viewer.hear_until(is("head")).await;
    assert_eq!(whole["recipe"], service.head(&demo).await["recipe"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn viewers_are_told_when_a_landscape_is_deleted() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer.hear_until(is("head")).await;
    let url = service.url(&format!("/api/landscapes/{demo}"));
    let deleted = service.client.delete(url).send().await.expect("an answer");
    assert_eq!(deleted.status(), StatusCode::NO_CONTENT);
    viewer.hear_until(is("gone")).await;
}

/// Requests that were given up stop working, and others get their pictures.
#[tokio::test(flavor = "multi_thread")]
async fn aborted_requests_leave_nobody_without_a_picture() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let of = service.head(&demo).await["recipe"]["covers"][1]["id"].clone();
    let of = of.as_str().expect("an id");
    let path = format!("/api/landscapes/{demo}/mask-file?of={of}&cells=3000&bits=8&format=png");
    for _ in 0..24 {
        let request = service.client.get(service.url(&path));
        let given_up = request.timeout(Duration::from_millis(15)).send().await;
        assert!(given_up.is_err(), "it was not given up");
    }
    let since = Instant::now();
    let mut viewer = Viewer::of(&service, &demo).await;
    let shown = viewer.hear_until(is("picture"));
    tokio::time::timeout(Duration::from_secs(8), shown)
        .await
        .expect("a picture in time");
    // Nothing of them waits or works any more: a study comes at once.
    let core = format!("/api/landscapes/{demo}/core?x_m=6000&y_m=4000&cells=64");
    let studied = tokio::time::timeout(Duration::from_secs(8), service.get(&core));
    studied.await.expect("a study in time");
    println!("picture and study after {:?}", since.elapsed());
}

/// First pictures of edits, the median of some.
async fn first_picture(service: &Service, demo: &str, viewer: &mut Viewer) -> Duration {
    let mut took = Vec::new();
    for k in 0..9 {
        let height = service.head(demo).await["recipe"].pointer(HEIGHT).cloned();
        let height = height.and_then(|h| h.as_f64()).expect("metres") + 1.0;
        let since = Instant::now();
        service.set(demo, HEIGHT, json!(height)).await;
        let head = service.head(demo).await;
        viewer
            .hear_until(|m| m["type"] == "picture" && m["revision"] == head["revision"])
            .await;
        // The first one finds nothing ready.
        if k > 0 {
            took.push(since.elapsed());
        }
    }
    took.sort();
    took[took.len() / 2]
}

/// Exports wait for each other, and pictures for none of them. With
/// `MORPHOGEN_LONG_ATTACK`, on a machine that does nothing else, three exports at
/// 16,384 cells leave first pictures within one and a half times of theirs alone.
#[tokio::test(flavor = "multi_thread")]
async fn exports_leave_previews_alone() {
    let alone = std::env::var_os("MORPHOGEN_LONG_ATTACK").is_some();
    let cells = if alone { 16_384 } else { 4096 };
    let service = Service::allowing(Budget {
        bytes: (6_u64 << 30) as f64,
        ..Budget::default()
    })
    .await;
    let demo = service.demo().await;
    let path = format!("/api/landscapes/{demo}/exports");
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer
        .hear_until(|m| m["type"] == "picture" && m["complete"] == true)
        .await;
    let before = first_picture(&service, &demo, &mut viewer).await;
    let mut ids = Vec::new();
    for _ in 0..3 {
        let begun = service
            .post(
                &path,
                &json!({ "wish": { "cells": cells, "layers": ["height"] } }),
            )
            .await;
        assert_eq!(begun.status(), StatusCode::ACCEPTED);
        let begun: Value = begun.json().await.expect("JSON");
        ids.push(begun["id"].as_str().expect("an id").to_owned());
    }
    tokio::time::sleep(Duration::from_secs(if alone { 20 } else { 1 })).await;
    let beside = first_picture(&service, &demo, &mut viewer).await;
    let ratio = beside.as_secs_f64() / before.as_secs_f64();
    println!("first picture alone {before:?}, beside exports {beside:?}: {ratio:.2} times");
    assert!(
        !alone || ratio <= 1.5,
        "{ratio} times as long beside exports"
    );
    assert!(beside < Duration::from_secs(3), "{beside:?}");
    let states = async |ids: &[String]| {
        let mut states = Vec::new();
        for id in ids {
            let status = service.get(&format!("/api/exports/{id}")).await;
            states.push(status["state"].as_str().expect("a state").to_owned());
        }
        states
    };
    let running = states(&ids)
        .await
        .iter()
        .filter(|state| *state == "running")
        .count();
    assert!(running <= 1, "one at a time");
    for id in &ids {
        let url = service.url(&format!("/api/exports/{id}"));
        service.client.delete(url).send().await.expect("an answer");
    }
    for _ in 0..100 {
        let states = states(&ids).await;
        if states
            .iter()
            .all(|state| state == "stopped" || state == "done")
        {
            return;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    panic!("exports that were stopped go on");
}

/// A panic in work is one viewer's fault message; others, and exports, go on.
#[tokio::test(flavor = "multi_thread")]
async fn a_panic_is_one_viewers_fault() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let unlucky = service.make("Unlucky", json!({ "copy_of": demo })).await;
    fail::cfg("picture of Unlucky", "panic(as a test)").expect("a point to fail at");
    let mut viewer = Viewer::of(&service, &unlucky).await;
    let fault = viewer.hear_until(is("fault")).await;
    let detail = fault["detail"].as_str().expect("a detail");
    assert!(detail.contains("went wrong inside the service"), "{detail}");
    let mut other = Viewer::of(&service, &demo).await;
    other.hear_until(is("picture")).await;
    // The painter lives: the next wish is painted as soon as it can be.
    fail::remove("picture of Unlucky");
    viewer.say(json!({ "type": "look", "cells": 64 })).await;
    viewer.hear_until(is("picture")).await;
    let measured = service.client.get(service.url("/metrics")).send().await;
    let measured = measured.expect("an answer").text().await.expect("text");
    assert!(measured.contains("morphogen_panics_total"), "{measured}");
}

/// Two viewers who wish for the same picture at once share it; the one who leaves stops
/// nothing for the other.
#[tokio::test(flavor = "multi_thread")]
async fn a_picture_that_several_wish_for_is_grown_once() {
    static GROWN: AtomicUsize = AtomicUsize::new(0);
    let service = Service::start().await;
    let flat = json!({ "flat": { "width_m": 1000, "depth_m": 1000 } });
    let land = service.make("Shared", flat).await;
    let mut viewers = Vec::new();
    for _ in 0..3 {
        let mut viewer = Viewer::of(&service, &land).await;
        // One picture alone: nothing is finer than the first one.
        viewer.say(json!({ "type": "look", "cells": 100 })).await;
        let asked = |m: &Value| m["type"] == "picture" && m["complete"] == true && m["cols"] == 100;
        viewer.hear_until(asked).await;
        viewers.push(viewer);
    }
    fail::cfg_callback("picture of Shared", || {
        GROWN.fetch_add(1, Ordering::SeqCst);
        std::thread::sleep(Duration::from_millis(600));
    })
    .expect("a point to wait at");
    service.set(&land, "/sea_level_m", json!(-5.0)).await;
    let head = service.head(&land).await;
    tokio::time::sleep(Duration::from_millis(200)).await;
    drop(viewers.remove(0));
    for viewer in &mut viewers {
        let of_head = |m: &Value| m["type"] == "picture" && m["revision"] == head["revision"];
        viewer.hear_until(of_head).await;
    }
    fail::remove("picture of Shared");
    assert_eq!(GROWN.load(Ordering::SeqCst), 1, "times for three viewers");
}

/// What is posted in megabytes keeps nobody waiting who asks for little. The limit is held
/// by nine answers in ten: other tests are at work on the same processors.
#[tokio::test(flavor = "multi_thread")]
async fn large_documents_keep_nobody_waiting() {
    const WANTED: Duration = Duration::from_millis(50);
    let service = Service::start().await;
    let demo = service.demo().await;
    let point = |k: usize| json!({ "x_m": 0.1 * k as f64, "y_m": (7 * k % 1000) as f64 });
    let recipe = |points: usize| {
        let points: Vec<Value> = (0..points).map(point).collect();
        let step = json!({ "id": "c", "name": "C", "do": { "course": { "points": points } } });
        json!({ "version": 8, "name": "Long", "strands": [{ "name": "land", "steps": [step] }],
            "extent": { "width_m": 10_000, "depth_m": 10_000 } })
    };
    // Refused, and legal but long for its notes.
    let refused = json!({ "name": "Long", "start": { "recipe": recipe(90_000) } });
    let mut legal = recipe(2000);
    let noted = |k: usize| {
        json!({ "id": format!("n{k}"), "name": "N", "note": "x".repeat(9_000),
        "on": false, "do": { "noise": {} } })
    };
    legal["strands"][0]["steps"] = (0..300).map(noted).collect();
    let legal = json!({ "name": "Noted", "start": { "recipe": legal } });
    let sheet = json!({ "cells": 48, "shape_only": true, "sweeps": [
        { "step": service.head(&demo).await["recipe"]["strands"][0]["steps"][0]["id"],
          "parameter": HEIGHT.rsplit('/').next(), "values": (0..25).map(|k| 100 + k).collect::<Vec<_>>() }] });
    let (refused, legal, sheet) = (&refused, &legal, &sheet);
    let sheets = format!("/api/landscapes/{demo}/sheet");
    let posts = async {
        for _ in 0..3 {
            let all = (
                service.post("/api/landscapes", refused),
                service.post("/api/landscapes", legal),
                service.post("/api/landscapes", refused),
                service.post(&sheets, sheet),
            );
            let all = futures::future::join4(all.0, all.1, all.2, all.3).await;
            assert_eq!(all.0.status(), StatusCode::UNPROCESSABLE_ENTITY);
            assert_eq!(all.1.status(), StatusCode::CREATED);
            assert_eq!(all.3.status(), StatusCode::OK);
        }
    };
    let mut posts = std::pin::pin!(posts);
    let mut took = Vec::new();
    loop {
        let asks = async {
            tokio::time::sleep(Duration::from_millis(5)).await;
            let since = Instant::now();
            service.get("/healthz").await;
            since.elapsed()
        };
        tokio::select! {
            () = &mut posts => break,
            asked = asks => took.push(asked),
        }
    }
    took.sort();
    let at = took[took.len() * 9 / 10];
    println!("{} answers, nine in ten within {at:?}", took.len());
    assert!(at <= WANTED, "{at:?}");
}
