//! Core samples and sheets over HTTP.

use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{Service, detail};

#[tokio::test(flavor = "multi_thread")]
async fn a_core_sample_explains_a_place() {
    let service = Service::start().await;
    let core = format!("/api/landscapes/{}/core", service.demo().await);
    let sample = service
        .get(&format!("{core}?x_m=6000&y_m=4000&cells=128"))
        .await;
    let steps = sample["steps"].as_array().expect("steps");
    let sum: f64 = steps
        .iter()
        .filter_map(|step| step["change_m"].as_f64())
        .sum();
    let height = sample["height_m"].as_f64().expect("a height");
    assert!(
        (sum - height).abs() < 0.05,
        "{sum} m, the land is {height} m high"
    );
    let url = service.url(&format!("{core}?x_m=-9&y_m=4000&cells=128"));
    let beyond = service.client.get(url).send().await.expect("an answer");
    assert_eq!(beyond.status(), StatusCode::BAD_REQUEST);
    assert!(detail(beyond).await.contains("not on the land"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_sheet_has_a_picture_of_each_variant() {
    let service = Service::start().await;
    let sheet = format!("/api/landscapes/{}/sheet", service.demo().await);
    let wish = |values: Vec<u32>, step: &str| {
        json!({
            "sweeps": [{ "step": step, "parameter": "seed", "values": values }],
            "cells": 48, "shape_only": true,
        })
    };
    let made = service
        .post(&sheet, &wish((1..=9).collect(), "massif"))
        .await;
    assert_eq!(made.status(), StatusCode::OK);
    let made: Value = made.json().await.expect("JSON");
    let variants = made["variants"].as_array().expect("variants");
    assert_eq!(variants.len(), 9);
    assert_eq!(variants[4]["values"], json!([5]));
    assert!(variants.iter().all(|v| {
        v["picture"]
            .as_str()
            .is_some_and(|p| p.starts_with("data:image/png"))
    }));
    for (values, step, said) in [
        ((1..=40).collect::<Vec<u32>>(), "massif", "not 40"),
        (vec![], "massif", "not 0"),
        (vec![1], "nothing", "has no parameter"),
    ] {
        let refused = service.post(&sheet, &wish(values, step)).await;
        assert_eq!(refused.status(), StatusCode::BAD_REQUEST);
        let detail = detail(refused).await;
        assert!(detail.contains(said), "{detail}");
    }
}
