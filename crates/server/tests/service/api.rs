//! The door: who may ask, and what the description says.

use reqwest::StatusCode;
use serde_json::json;

use crate::support::{Service, detail};

#[tokio::test]
async fn other_sites_are_refused() {
    let service = Service::start().await;
    let ask = |name: &'static str, value: &'static str| {
        service
            .client
            .get(service.url("/api/landscapes"))
            .header(name, value)
            .send()
    };
    let foreign = ask("Origin", "http://evil.example")
        .await
        .expect("an answer");
    assert_eq!(foreign.status(), StatusCode::FORBIDDEN);
    assert!(detail(foreign).await.contains("another site"));
    let rebound = ask("Host", "evil.example").await.expect("an answer");
    assert_eq!(rebound.status(), StatusCode::FORBIDDEN);
    let ours = service.client.get(service.url("/api/landscapes"));
    let ours = ours
        .header("Origin", service.url(""))
        .send()
        .await
        .expect("an answer");
    assert_eq!(ours.status(), StatusCode::OK);
    let policy = ours.headers()["content-security-policy"]
        .to_str()
        .expect("text");
    assert!(policy.contains("default-src 'self'"), "{policy}");
}

#[tokio::test]
async fn what_is_not_there_is_answered_with_a_problem() {
    let service = Service::start().await;
    for path in [
        "/api/nothing",
        "/api/landscapes/00000000-0000-0000-0000-000000000000",
    ] {
        let response = service
            .client
            .get(service.url(path))
            .send()
            .await
            .expect("an answer");
        assert_eq!(response.status(), StatusCode::NOT_FOUND, "{path}");
        assert!(detail(response).await.starts_with("there is no"), "{path}");
    }
}

#[tokio::test]
async fn landscapes_are_made_copied_and_deleted() {
    let service = Service::start().await;
    let flat = json!({ "flat": { "width_m": 3000, "depth_m": 2000 } });
    let id = service.make("Plain", flat).await;
    service.make("Other plain", json!({ "copy_of": id })).await;
    let shelf = service.get("/api/landscapes").await;
    assert_eq!(shelf.as_array().expect("a list").len(), 3);
    assert_eq!(shelf[0]["name"], "Other plain");

    let url = service.url(&format!("/api/landscapes/{id}"));
    let gone = service.client.delete(&url).send().await.expect("an answer");
    assert_eq!(gone.status(), StatusCode::NO_CONTENT);
    assert_eq!(
        service
            .get("/api/landscapes")
            .await
            .as_array()
            .expect("a list")
            .len(),
        2
    );

    let tiny = json!({ "flat": { "width_m": 0.2, "depth_m": 2000 } });
    let refused = service
        .post("/api/landscapes", &json!({ "name": "X", "start": tiny }))
        .await;
    assert!(
        detail(refused)
            .await
            .contains("Width is 0.2 m; it can be 1 to 1000000 m")
    );
}

#[tokio::test]
async fn a_deleted_demo_does_not_come_back() {
    let service = Service::start().await;
    let url = service.url(&format!("/api/landscapes/{}", service.demo().await));
    service.client.delete(&url).send().await.expect("an answer");
    let service = service.restarted().await;
    assert_eq!(service.get("/api/landscapes").await, json!([]));
}

/// The front end's types are made from this file.
#[test]
fn the_description_in_the_front_end_is_current() {
    let kept = include_str!("../../../../web/src/api/openapi.json");
    assert!(kept == server::openapi_json(), "renew it: ./renew");
}
