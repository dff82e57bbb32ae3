//! What somebody may send who means no good: refused in words, nothing changed, and
//! everybody else served as before.

use std::time::{Duration, Instant};

use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{HEIGHT, Service, detail};
use crate::viewer::{Viewer, is};

/// The demo's step of running water.
const WATER: &str = "/strands/0/steps/5/do/water/scale_m";

async fn edit(service: &Service, id: &str, patch: Value) -> reqwest::Response {
    let base = service.head(id).await["revision"].clone();
    let edit = json!({ "base": base, "label": "Attack", "patch": patch });
    service
        .post(&format!("/api/landscapes/{id}/edits"), &edit)
        .await
}

fn replace(path: &str, value: Value) -> Value {
    json!([{ "op": "replace", "path": path, "value": value }])
}

/// The shelf and the demo are as quick as ever, and the head is the one that was.
async fn assert_unharmed(service: &Service, demo: &str, before: &Value) {
    let since = Instant::now();
    service.get("/api/landscapes").await;
    assert_eq!(&service.head(demo).await, before);
    assert!(
        since.elapsed() < Duration::from_secs(2),
        "the shelf is slow"
    );
}

/// 80,000² cells for a preview of 128.
#[tokio::test(flavor = "multi_thread")]
async fn a_first_grid_that_is_too_fine_is_refused_with_the_nearest_value() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    assert!(
        before["recipe"].pointer(WATER).is_some(),
        "the demo has water there"
    );
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer.hear_until(is("picture")).await;
    let patch = replace(WATER, json!(0.1));
    viewer
        .say(json!({ "type": "preview", "base": before["revision"], "patch": patch }))
        .await;
    let fault = viewer.hear_until(is("fault")).await;
    assert_eq!(fault["pointer"], WATER);
    let fits = fault["fits"].as_f64().expect("a value that fits");
    assert!(fits > 0.1 && fits < 30.0, "{fault}");
    // An edit is refused too: nothing that is kept is refused afterwards.
    let refused = edit(&service, &demo, patch).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let said = detail(refused).await;
    assert!(
        said.contains("scale_m is 0.1") && said.contains("GB"),
        "{said}"
    );
    assert_unharmed(&service, &demo, &before).await;
    let kept = edit(&service, &demo, replace(WATER, json!(fits))).await;
    assert_eq!(kept.status(), StatusCode::OK);
}

/// One metre of land, and everything on it looks twenty kilometres around.
#[tokio::test(flavor = "multi_thread")]
async fn wide_filters_on_a_tiny_land_grow_and_harm_nobody() {
    let service = Service::start().await;
    let wide = |of: Value| json!({ "terms": [{ "of": of }], "blur_m": 20_000, "grow_m": 2_000 });
    let step = |id: &str, operation: Value, mask: Value| {
        json!({
            "id": id, "name": id, "do": operation, "mask": mask, "combine": "add",
        })
    };
    let recipe = json!({
        "version": 1, "name": "Tiny", "extent": { "width_m": 1, "depth_m": 1 },
        "strands": [{ "name": "land", "steps": [
            step("a", json!({ "noise": {} }), json!({ "terms": [] })),
            step("b", json!({ "blur": { "radius_m": 20_000 } }), wide(json!({ "occlusion": { "reach_m": 5_000 } }))),
            step("c", json!({ "sharpen": { "radius_m": 20_000, "strength": 1 } }), wide(json!({ "position": { "scale_m": 5_000 } }))),
            step("d", json!({ "flatten": {} }), wide(json!({ "sunlight": { "bearing_deg": 90, "altitude_deg": 9 } }))),
        ] }],
    });
    let id = service.make("Tiny", json!({ "recipe": recipe })).await;
    let mut viewer = Viewer::of(&service, &id).await;
    let shown = viewer.hear_until(|m| m["type"] == "picture" && m["complete"] == true);
    let shown = tokio::time::timeout(Duration::from_secs(40), shown).await;
    assert_eq!(shown.expect("in time")["cols"], 512);
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_of_strands_and_knots_of_masks_hang_nobody() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    let strands: Vec<Value> = (0..500)
        .map(|i| json!({ "name": format!("s{i}"), "steps": [
            { "id": format!("i{i}"), "name": "In", "do": { "take_in": { "strand": format!("s{}", i + 1) } } },
        ] }))
        .collect();
    let many = json!({ "op": "add", "path": "/strands", "value": strands });
    let refused = edit(&service, &demo, json!([many])).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let said = detail(refused).await;
    assert!(said.contains("at most 64"), "{said}");
    // Two to the thirtieth ways through, each mask looked at once.
    let masks: Vec<Value> = (0..30)
        .map(|i| {
            let next =
                json!({ "of": { "named": { "mask": format!("m{}", i + 1) } }, "join": "add" });
            json!({ "name": format!("m{i}"), "mask": { "terms": [next, next] } })
        })
        .chain([json!({ "name": "m30", "mask": { "terms": [{ "of": "slope", "from": 20 }] } })])
        .collect();
    let uses = json!({ "terms": [{ "of": { "named": { "mask": "m0" } } }] });
    let knots = json!([
        { "op": "add", "path": "/masks", "value": masks },
        { "op": "add", "path": "/covers/0/mask", "value": uses },
    ]);
    let since = Instant::now();
    let kept = edit(&service, &demo, knots).await;
    assert_eq!(
        kept.status(),
        StatusCode::OK,
        "{}",
        kept.text().await.expect("text")
    );
    assert!(
        since.elapsed() < Duration::from_secs(2),
        "{:?}",
        since.elapsed()
    );
    let after = service.head(&demo).await;
    let mut viewer = Viewer::of(&service, &demo).await;
    let shown = viewer.hear_until(|m| m["type"] == "picture" && m["complete"] == true);
    tokio::time::timeout(Duration::from_secs(30), shown)
        .await
        .expect("it grows");
    let row: Vec<Value> = (0..12_000)
        .map(|i| {
            json!({ "name": format!("r{i}"), "mask": { "terms": [
            { "of": { "near": { "mask": format!("r{}", i + 1) } } },
        ] } })
        })
        .collect();
    let refused = edit(
        &service,
        &demo,
        json!([{ "op": "add", "path": "/masks", "value": row }]),
    )
    .await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    assert_unharmed(&service, &demo, &after).await;
    assert_ne!(after["revision"], before["revision"]);
}

/// 1e39 is more than a float holds: it used to be stored as null.
#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_read_again_is_never_kept() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    let gradient = |from: f64, by: Value, stops: Value| {
        let gradient = json!({ "by": by, "from": from, "to": 5.0, "stops": stops });
        json!([{ "op": "add", "path": "/covers/0/gradient", "value": gradient }])
    };
    let stop = json!([{ "at": 0, "colour": "#123456" }]);
    let stroke = json!({ "points": [], "size_m": 9, "strength": 1, "softness": 0 });
    for (patch, words) in [
        (gradient(1e39, json!("height"), stop.clone()), "From"),
        (
            gradient(-1e10, json!("height"), stop.clone()),
            "From is −10000000000",
        ),
        (
            gradient(0.0, json!({ "painted": { "strokes": [stroke] } }), stop),
            "Points",
        ),
        (gradient(0.0, json!("height"), json!([])), "Stops"),
        (replace("/name", json!("Fjord\u{0}")), "U+0000"),
        (replace("/name", json!("a".repeat(3_000))), "200 characters"),
        (replace("/version", json!(99)), "newer version"),
    ] {
        let refused = edit(&service, &demo, patch).await;
        assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
        let said = detail(refused).await;
        assert!(said.contains(words), "‘{said}’ does not say ‘{words}’");
    }
    for label in ["zero\u{0}", &"long ".repeat(99)] {
        let edit = json!({ "base": before["revision"], "label": label, "patch": [] });
        let refused = service
            .post(&format!("/api/landscapes/{demo}/edits"), &edit)
            .await;
        assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    }
    let new = json!({ "name": "a".repeat(3 << 20), "start": { "copy_of": demo } });
    let refused = service.post("/api/landscapes", &new).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    assert_unharmed(&service, &demo, &before).await;
    assert_eq!(service.count("revisions").await, 1);
}

/// 1.2 KB of patch that copy a list into itself made 4.7 GB.
#[tokio::test(flavor = "multi_thread")]
async fn a_patch_that_copies_itself_is_stopped_in_time() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    let copy = json!({ "op": "copy", "from": "/covers", "path": "/covers/-" });
    let bomb = json!(vec![copy; 24]);
    let since = Instant::now();
    let refused = edit(&service, &demo, bomb.clone()).await;
    assert_eq!(refused.status(), StatusCode::PAYLOAD_TOO_LARGE);
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer.hear_until(is("head")).await;
    viewer
        .say(json!({ "type": "preview", "base": before["revision"], "patch": bomb }))
        .await;
    viewer.hear_until(is("fault")).await;
    assert!(
        since.elapsed() < Duration::from_secs(5),
        "{:?}",
        since.elapsed()
    );
    assert_unharmed(&service, &demo, &before).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_refusal_is_a_problem_document_and_has_the_same_headers() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let url = |path: &str| service.url(path);
    let client = &service.client;
    let edits = url(&format!("/api/landscapes/{demo}/edits"));
    let requests = [
        (client.post(&edits).body("{"), 415),
        (client.post(&edits).json(&json!({ "base": "one" })), 422),
        (client.get(url("/api/landscapes/not-an-id")), 400),
        (
            client.get(url(&format!("/api/landscapes/{demo}/core?x_m=a"))),
            400,
        ),
        (client.get(url("/api/nothing")), 404),
        (client.delete(url("/api/landscapes")), 405),
        (
            client
                .get(url("/api/landscapes"))
                .header("host", "elsewhere.example"),
            403,
        ),
        (
            client
                .get(url("/api/landscapes"))
                .header("origin", "http://elsewhere.example"),
            403,
        ),
    ];
    for (request, status) in requests {
        let answer = request.send().await.expect("an answer");
        assert_eq!(answer.status(), status);
        let headers = answer.headers();
        assert_eq!(
            headers["content-type"], "application/problem+json",
            "{status}"
        );
        assert!(headers.contains_key("content-security-policy"), "{status}");
        assert!(headers.contains_key("x-request-id"), "{status}");
    }
    let named = client.get(url("/api/landscapes")).header("host", "[::1]");
    assert_eq!(
        named.send().await.expect("an answer").status(),
        StatusCode::OK
    );
}

/// Mutated recipes and patches: whatever comes, the service answers and stands.
#[tokio::test(flavor = "multi_thread")]
async fn mutated_edits_are_answered_and_harm_nothing() {
    use proptest::strategy::{Strategy, ValueTree};
    use proptest::test_runner::TestRunner;
    let rounds = match std::env::var_os("MORPHOGEN_LONG_ATTACK") {
        Some(_) => 5_000,
        None => 150,
    };
    let service = Service::start().await;
    let demo = service.demo().await;
    let document = service.head(&demo).await["recipe"].clone();
    let mut places = Vec::new();
    pointers(&document, "", &mut places);
    let values = proptest::prop_oneof![
        proptest::strategy::Just(json!(null)),
        (-1e40..1e40_f64).prop_map(|v| json!(v)),
        (-1e3..1e3_f64).prop_map(|v| json!(v)),
        "[a-z#]{0,9}".prop_map(|v| json!(v)),
        proptest::collection::vec(0..9_i32, 0..4).prop_map(|v| json!(v)),
    ];
    let operations = ["add", "replace", "remove", "copy", "move", "test"];
    let mut runner = TestRunner::deterministic();
    for _ in 0..rounds {
        let mut draw = |n: usize| (0..n).new_tree(&mut runner).expect("a number").current();
        let (kind, at, from) = (
            draw(operations.len()),
            draw(places.len()),
            draw(places.len()),
        );
        let value = values.new_tree(&mut runner).expect("a value").current();
        let patch = json!([{ "op": operations[kind], "path": places[at], "from": places[from], "value": value }]);
        let answer = edit(&service, &demo, patch.clone()).await;
        let status = answer.status();
        assert!(!status.is_server_error(), "{status} for {patch}");
        if status == StatusCode::OK {
            service
                .post(&format!("/api/landscapes/{demo}/undo"), &json!({}))
                .await;
        }
    }
    assert_eq!(service.head(&demo).await["recipe"], document);
    assert_eq!(
        service.set(&demo, HEIGHT, json!(777.0)).await.status(),
        StatusCode::OK
    );
}

fn pointers(value: &Value, at: &str, found: &mut Vec<String>) {
    found.push(at.to_owned());
    match value {
        Value::Array(items) => items
            .iter()
            .enumerate()
            .for_each(|(i, item)| pointers(item, &format!("{at}/{i}"), found)),
        Value::Object(fields) => fields
            .iter()
            .for_each(|(name, field)| pointers(field, &format!("{at}/{name}"), found)),
        _ => {}
    }
}

/// Scripts that the shelf loads before anything shows, as they are sent.
async fn assert_first_load_is_light(service: &Service, page: &str) {
    const MOST_BYTES: usize = 150_000;
    let scripts = page.split("src=\"").skip(1);
    let mut sum = 0;
    for path in scripts.filter_map(|rest| rest.split('"').next()) {
        let script = service.client.get(service.url(path));
        let script = script.header("accept-encoding", "gzip").send().await;
        let script = script.expect("an answer");
        assert_eq!(script.headers()["content-encoding"], "gzip", "{path}");
        sum += script.bytes().await.expect("bytes").len();
    }
    assert!((1..=MOST_BYTES).contains(&sum), "{sum} bytes of script");
}

/// What is large is sent compressed to those who take it, and what is known not again.
#[tokio::test(flavor = "multi_thread")]
async fn answers_are_compressed_and_known_files_not_sent_again() {
    let service = Service::start().await;
    let kinds = service.client.get(service.url("/api/kinds"));
    let kinds = kinds.header("accept-encoding", "gzip").send().await;
    assert_eq!(
        kinds.expect("an answer").headers()["content-encoding"],
        "gzip"
    );
    let page = service
        .client
        .get(service.url("/"))
        .send()
        .await
        .expect("an answer");
    assert_eq!(
        page.status(),
        StatusCode::OK,
        "./check builds the page first"
    );
    let tag = page.headers()["etag"].clone();
    let text = page.text().await.expect("text");
    assert_first_load_is_light(&service, &text).await;
    let again = service
        .client
        .get(service.url("/"))
        .header("if-none-match", tag);
    assert_eq!(
        again.send().await.expect("an answer").status(),
        StatusCode::NOT_MODIFIED
    );
    for (path, status) in [("/landscapes/some-id", 200), ("/no/such/page", 404)] {
        let answer = service
            .client
            .get(service.url(path))
            .send()
            .await
            .expect("an answer");
        assert_eq!(answer.status(), status, "{path}");
    }
    let measured = service.client.get(service.url("/metrics")).send().await;
    let measured = measured.expect("an answer").text().await.expect("text");
    assert!(measured.contains("morphogen_viewers"), "{measured}");
}
