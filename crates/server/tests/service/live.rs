//! Live sessions: pictures coarse to fine, every viewer in step.

use serde_json::{Value, json};

use crate::support::{HEIGHT, Service};
use crate::viewer::{Viewer, is};

#[tokio::test(flavor = "multi_thread")]
async fn pictures_come_coarse_to_fine_and_then_the_bands() {
    let service = Service::start().await;
    let mut viewer = Viewer::of(&service, &service.demo().await).await;
    viewer.say(json!({ "type": "look", "cells": 192 })).await;
    let head = viewer.hear_until(is("head")).await;
    assert_eq!(head["recipe"]["name"], "Hollin Fjord");
    let complete = viewer
        .hear_until(|m| m["type"] == "picture" && m["complete"] == true && m["cols"] == 192)
        .await;
    assert!(complete["ledgers"][0]["error"].as_f64().expect("a number") <= 1e-6);
    let shares = complete["covers"].as_array().expect("covers");
    let total: f64 = shares
        .iter()
        .map(|c| c["share"].as_f64().expect("a number"))
        .sum();
    assert!((total - 1.0).abs() < 1e-6);
    let bands = viewer.hear_until(is("bands")).await;
    let steps = head["recipe"]["strands"][0]["steps"].as_array();
    let shown = bands["bands"].as_array().map(Vec::len);
    assert!(shown.is_some() && shown == steps.map(Vec::len), "{bands}");
}

/// Whoever rests sees the land finer than while working, and an edit comes before
/// that: it shows at the working size again.
#[tokio::test(flavor = "multi_thread")]
async fn at_rest_the_land_is_shown_finer() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut viewer = Viewer::of(&service, &demo).await;
    let look = json!({ "type": "look", "cells": 144, "cells_at_rest": 400 });
    viewer.say(look).await;
    let size = |cols: u64| move |m: &Value| m["type"] == "picture" && m["cols"] == cols;
    viewer.hear_until(size(144)).await;
    viewer.hear_until(is("survey")).await;
    for cols in [288, 400] {
        let finer = viewer.hear_until(size(cols)).await;
        assert_eq!(finer["complete"], true);
    }
    service.set(&demo, HEIGHT, json!(1234.0)).await;
    let edited = viewer
        .hear_until(|m| m["type"] == "picture" && m["complete"] == true && m["revision"] == 2)
        .await;
    assert_eq!(edited["cols"], 144);
    // Two moments that are compared have one size: nothing finer comes.
    let look = json!({ "type": "look", "cells": 96, "cells_at_rest": 400, "against": 1 });
    viewer.say(look).await;
    viewer.hear_until(is("survey")).await;
    viewer.say(json!({ "type": "stop" })).await;
    let next = viewer.hear().await;
    assert_eq!(next["type"], "stopped", "{next}");
}

#[tokio::test(flavor = "multi_thread")]
async fn two_viewers_stay_in_step() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut one = Viewer::of(&service, &demo).await;
    let mut two = Viewer::of(&service, &demo).await;
    let head = one.hear_until(is("head")).await;
    assert_eq!(two.hear_until(is("head")).await, head);
    service.set(&demo, HEIGHT, json!(1234.0)).await;
    for viewer in [&mut one, &mut two] {
        let moved = viewer.hear_until(is("moved")).await;
        assert_eq!(moved["base"], head["revision"]);
        assert_eq!(
            moved["patch"],
            json!([{ "op": "replace", "path": HEIGHT, "value": 1234.0 }])
        );
        let revision = moved["revision"].clone();
        viewer
            .hear_until(|m| m["type"] == "picture" && m["revision"] == revision)
            .await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_preview_is_shown_and_not_kept() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mut viewer = Viewer::of(&service, &demo).await;
    let head = viewer.hear_until(is("head")).await;
    let now = viewer.hear_until(is("picture")).await;
    let patch = json!([{ "op": "replace", "path": HEIGHT, "value": 400.0 }]);
    let preview = json!({ "type": "preview", "base": head["revision"], "patch": patch });
    viewer.say(preview).await;
    let shown = viewer
        .hear_until(|m| m["type"] == "picture" && m["preview"] == true)
        .await;
    assert!(
        shown["mean_m"].as_f64() < now["mean_m"].as_f64(),
        "lower valleys, lower land"
    );
    assert_eq!(service.head(&demo).await["revision"], head["revision"]);

    let bad = json!([{ "op": "replace", "path": HEIGHT, "value": "high" }]);
    viewer
        .say(json!({ "type": "preview", "base": head["revision"], "patch": bad }))
        .await;
    let fault = viewer.hear_until(is("fault")).await;
    assert_eq!(fault["pointer"], HEIGHT);
    viewer.say(json!({ "type": "preview_end" })).await;
    let back = viewer
        .hear_until(|m| m["type"] == "picture" && m["preview"] == false)
        .await;
    assert_eq!(back["mean_m"], now["mean_m"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_state_before_the_last_edit_can_be_seen() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let first = service.head(&demo).await["revision"].clone();
    service.set(&demo, HEIGHT, json!(500.0)).await;
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer
        .hear_until(|m| m["type"] == "picture" && m["complete"] == true)
        .await;
    viewer.say(json!({ "type": "before" })).await;
    let before = viewer
        .hear_until(|m| m["type"] == "picture" && m["moment"] == "before")
        .await;
    assert_eq!(before["revision"], first);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_viewer_sees_another_moment_the_difference_and_the_survey() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let first = service.head(&demo).await["revision"].clone();
    service.set(&demo, HEIGHT, json!(1500)).await;
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer
        .say(json!({ "type": "look", "cells": 96, "against": first }))
        .await;
    let (mut difference, mut surveyed) = (None, false);
    while difference.is_none() || !surveyed {
        let message = viewer.hear().await;
        match message["type"].as_str() {
            Some("picture") if message["moment"] == "against" => {
                assert_eq!(message["revision"], first);
                difference = Some(message["difference"].clone());
            }
            Some("survey") => surveyed = true,
            _ => {}
        }
    }
    let difference = difference.expect("a difference");
    let rms = difference["rms_m"].as_f64().expect("metres");
    let most = difference["most_m"].as_f64().expect("metres");
    assert!(rms > 10.0 && most.abs() > rms, "RMS {rms} m, most {most} m");
}
