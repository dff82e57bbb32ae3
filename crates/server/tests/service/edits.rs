//! Edits: acknowledged means kept, refused means unchanged.

use proptest::prelude::*;
use proptest::test_runner::{Config, TestRunner};
use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{HEIGHT, Service, detail};

#[tokio::test]
async fn undo_and_redo_survive_a_restart() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let first = service.head(&demo).await;
    assert_eq!(
        service.set(&demo, HEIGHT, json!(1000.0)).await.status(),
        StatusCode::OK
    );
    assert_eq!(
        service.set(&demo, HEIGHT, json!(1200.0)).await.status(),
        StatusCode::OK
    );
    let last = service.head(&demo).await;

    let service = service.restarted().await;
    let undo = format!("/api/landscapes/{demo}/undo");
    let redo = format!("/api/landscapes/{demo}/redo");
    for height in [
        1000.0,
        first["recipe"]
            .pointer(HEIGHT)
            .and_then(Value::as_f64)
            .expect("set"),
    ] {
        let undone = service.post(&undo, &json!({})).await;
        assert_eq!(undone.status(), StatusCode::OK);
        let head = service.head(&demo).await;
        assert_eq!(head["recipe"].pointer(HEIGHT), Some(&json!(height)));
    }
    let nothing = service.post(&undo, &json!({})).await;
    assert_eq!(nothing.status(), StatusCode::CONFLICT);
    assert_eq!(detail(nothing).await, "there is nothing to undo");

    let service = service.restarted().await;
    service.post(&redo, &json!({})).await;
    service.post(&redo, &json!({})).await;
    let mut head = service.head(&demo).await;
    // Two undos and two redos later, else the same.
    assert_eq!(head["version"], last["version"].as_i64().expect("n") + 4);
    head["version"] = last["version"].clone();
    assert_eq!(head, last);
}

#[tokio::test]
async fn a_refused_edit_changes_nothing_and_names_the_fault() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let before = service.head(&demo).await;
    let refused = service.set(&demo, HEIGHT, json!(1e9)).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let problem: Value = refused.json().await.expect("JSON");
    assert_eq!(problem["pointer"], HEIGHT);
    let said = problem["detail"].as_str().expect("text");
    assert_eq!(
        said,
        "step ‘Trunk valley and its sides’: Height is 1000000000 m; it can be −20000 to 20000 m"
    );
    let refused = service.set(&demo, "/strands/7", json!(1)).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(service.head(&demo).await, before);
    assert_eq!(service.count("revisions").await, 1);
}

#[tokio::test]
async fn of_two_edits_of_one_revision_the_second_is_told() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let base = service.head(&demo).await["revision"].clone();
    let edit = |height: f64| {
        let patch = json!([{ "op": "replace", "path": HEIGHT, "value": height }]);
        json!({ "base": base, "label": "Height", "patch": patch })
    };
    let path = format!("/api/landscapes/{demo}/edits");
    let (one, two) = (edit(900.0), edit(800.0));
    let (a, b) = tokio::join!(service.post(&path, &one), service.post(&path, &two));
    let mut statuses = [a.status(), b.status()];
    statuses.sort();
    assert_eq!(statuses, [StatusCode::OK, StatusCode::CONFLICT]);
    assert_eq!(service.count("revisions").await, 2);
}

/// What an artist may do to a landscape.
#[derive(Clone, Copy, Debug)]
enum Act {
    Edit(u32),
    Undo,
    Redo,
}

/// Any run of edits, undos and redos does what a plain list would do.
#[test]
fn history_behaves_like_a_list() {
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    let service = runtime.block_on(Service::start());
    let act = prop_oneof![
        2 => (500..2000_u32).prop_map(Act::Edit),
        2 => Just(Act::Undo),
        1 => Just(Act::Redo),
    ];
    let acts = prop::collection::vec(act, 1..14);
    let mut runner = TestRunner::new(Config {
        cases: 10,
        failure_persistence: None,
        ..Config::default()
    });
    runner
        .run(&acts, |acts| {
            runtime.block_on(async {
                let demo = service.demo().await;
                let id = service.make("Copy", json!({ "copy_of": demo })).await;
                let mut list = vec![service.head(&id).await["recipe"].clone()];
                let mut at = 0;
                for act in acts {
                    let step = |action| format!("/api/landscapes/{id}/{action}");
                    match act {
                        Act::Edit(height) => {
                            service.set(&id, HEIGHT, json!(f64::from(height))).await;
                            list.truncate(at + 1);
                            let mut next = list[at].clone();
                            *next.pointer_mut(HEIGHT).expect("there") = json!(f64::from(height));
                            list.push(next);
                            at += 1;
                        }
                        Act::Undo => {
                            service.post(&step("undo"), &json!({})).await;
                            at = at.saturating_sub(1);
                        }
                        Act::Redo => {
                            service.post(&step("redo"), &json!({})).await;
                            at = (at + 1).min(list.len() - 1);
                        }
                    }
                    prop_assert_eq!(&service.head(&id).await["recipe"], &list[at]);
                }
                Ok(())
            })
        })
        .expect("history is a list");
}
