//! Revisions, named moments, going back, branching.

use reqwest::StatusCode;
use serde_json::json;

use crate::support::{HEIGHT, Service, detail};

async fn edited(service: &Service) -> (String, i64, i64) {
    let demo = service.demo().await;
    let first = service.head(&demo).await["revision"]
        .as_i64()
        .expect("a number");
    assert_eq!(
        service.set(&demo, HEIGHT, json!(700)).await.status(),
        StatusCode::OK
    );
    let second = service.head(&demo).await["revision"]
        .as_i64()
        .expect("a number");
    (demo, first, second)
}

#[tokio::test(flavor = "multi_thread")]
async fn moments_are_named_listed_and_forgotten_and_survive_a_restart() {
    let service = Service::start().await;
    let (demo, first, second) = edited(&service).await;
    let moments = format!("/api/landscapes/{demo}/moments");
    let named = service
        .post(&moments, &json!({ "revision": first, "name": " Before " }))
        .await;
    assert_eq!(named.status(), StatusCode::CREATED);
    let service = service.restarted().await;
    let list = service.get(&moments).await;
    assert_eq!(
        (list[0]["name"].as_str(), list[0]["revision"].as_i64()),
        (Some("Before"), Some(first))
    );
    let id = list[0]["id"].as_str().expect("an id");
    let gone = service
        .client
        .delete(service.url(&format!("{moments}/{id}")))
        .send()
        .await;
    assert_eq!(gone.expect("an answer").status(), StatusCode::NO_CONTENT);
    assert_eq!(service.get(&moments).await, json!([]));
    let revisions = service
        .get(&format!("/api/landscapes/{demo}/revisions"))
        .await;
    let numbers: Vec<i64> = revisions
        .as_array()
        .expect("a list")
        .iter()
        .filter_map(|revision| revision["revision"].as_i64())
        .collect();
    assert_eq!(
        numbers,
        [second, first],
        "forgetting a name forgets no revision"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_moment_of_another_landscape_or_without_a_name_is_refused() {
    let service = Service::start().await;
    let (demo, first, second) = edited(&service).await;
    let flat = json!({ "flat": { "width_m": 900, "depth_m": 900 } });
    let other = service.make("Flat", flat).await;
    let refused = service
        .post(
            &format!("/api/landscapes/{other}/moments"),
            &json!({ "revision": second, "name": "A" }),
        )
        .await;
    assert_eq!(refused.status(), StatusCode::NOT_FOUND);
    let nameless = service
        .post(
            &format!("/api/landscapes/{demo}/moments"),
            &json!({ "revision": first, "name": "  " }),
        )
        .await;
    assert_eq!(nameless.status(), StatusCode::BAD_REQUEST);
    assert!(detail(nameless).await.contains("needs a name"));
    assert_eq!(service.count("moments").await, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn going_back_is_an_edit_that_can_be_undone() {
    let service = Service::start().await;
    let (demo, first, second) = edited(&service).await;
    let before = service.head(&demo).await["recipe"].clone();
    let back = format!("/api/landscapes/{demo}/return");
    let returned = service.post(&back, &json!({ "revision": first })).await;
    assert_eq!(returned.status(), StatusCode::OK);
    let head = service.head(&demo).await;
    assert_ne!(head["recipe"], before);
    assert_eq!(head["parent"].as_i64(), Some(second));
    let undone = service
        .post(&format!("/api/landscapes/{demo}/undo"), &json!({}))
        .await;
    assert_eq!(undone.status(), StatusCode::OK);
    assert_eq!(service.head(&demo).await["recipe"], before);
    let nowhere = service.post(&back, &json!({ "revision": 987_654 })).await;
    assert_eq!(nowhere.status(), StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_branch_begins_as_the_moment_was_and_leaves_the_trunk_alone() {
    let service = Service::start().await;
    let (demo, first, second) = edited(&service).await;
    let start = json!({ "branch": { "landscape": demo, "revision": first } });
    let branch = service.head(&service.make("Branch", start).await).await;
    assert_eq!(branch["recipe"]["name"], "Branch");
    let trunk = service.head(&demo).await;
    assert_eq!(trunk["revision"].as_i64(), Some(second));
    assert_ne!(branch["recipe"]["strands"], trunk["recipe"]["strands"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn every_kind_of_country_makes_a_landscape_of_the_size_asked_for() {
    let service = Service::start().await;
    let lands = service.get("/api/lands").await;
    let lands = lands.as_array().expect("a list");
    assert_eq!(lands.len(), recipe::lands::LANDS.len());
    for land in lands {
        let start = json!({ "land": { "key": land["key"], "width_m": 3000, "depth_m": 1500 } });
        let made = service.head(&service.make("Mine", start).await).await;
        assert_eq!(made["recipe"]["name"], "Mine");
        assert_eq!(made["recipe"]["extent"]["depth_m"], 1500.0);
    }
    let refused = |start| {
        let new = json!({ "name": "Mine", "start": { "land": start } });
        let service = &service;
        async move { service.post("/api/landscapes", &new).await }
    };
    let none = refused(json!({ "key": "moor", "width_m": 3000, "depth_m": 1500 })).await;
    assert_eq!(none.status(), StatusCode::NOT_FOUND);
    let tiny = refused(json!({ "key": "noise", "width_m": 0, "depth_m": 1500 })).await;
    assert_eq!(tiny.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let said = detail(tiny).await;
    assert!(said.contains("Width is 0 m"), "{said}");
}

#[tokio::test(flavor = "multi_thread")]
async fn every_preset_makes_a_landscape_and_has_a_picture() {
    let service = Service::start().await;
    let presets = service.get("/api/presets").await;
    let keys: Vec<&str> = presets
        .as_array()
        .expect("a list")
        .iter()
        .filter_map(|p| p["key"].as_str())
        .collect();
    assert_eq!(keys.len(), recipe::presets::PRESETS.len());
    for key in keys {
        service.make(key, json!({ "preset": key })).await;
    }
    for picture in [
        "/api/presets/drumlin-field/picture.png",
        "/api/lands/rolling-hills/picture.png",
        "/api/kinds/terraces/picture.png",
    ] {
        let answer = service
            .client
            .get(service.url(picture))
            .send()
            .await
            .expect("an answer");
        assert_eq!(answer.headers()["content-type"], "image/png");
        let bytes = answer.bytes().await.expect("bytes");
        assert_eq!(&bytes[1..4], b"PNG");
    }
    let unknown = json!({ "name": "No", "start": { "preset": "atlantis" } });
    assert_eq!(
        service.post("/api/landscapes", &unknown).await.status(),
        StatusCode::NOT_FOUND
    );
}
