//! What a day's work needs beside the land: the shelf, moments, company, masks as pictures.

use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::{Connection, Executor, PgConnection};

use crate::support::{HEIGHT, Service, detail};
use crate::viewer::{Viewer, is};

async fn names(service: &Service, path: &str) -> Vec<String> {
    let shelf = service.get(path).await;
    let entries = shelf.as_array().expect("a list");
    let name = |entry: &Value| entry["name"].as_str().expect("a name").to_owned();
    entries.iter().map(name).collect()
}

const HERE: &str = "/api/landscapes";
const DELETED: &str = "/api/landscapes?deleted=true";

/// What is deleted is off the shelf, closed to everybody, and comes back as it was; only
/// after thirty days it is gone.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_deleted_can_be_brought_back_for_thirty_days() {
    let service = Service::start().await;
    let demo = service.demo().await;
    service.set(&demo, HEIGHT, json!(777.0)).await;
    let before = service.head(&demo).await;
    let mut viewer = Viewer::of(&service, &demo).await;
    viewer.hear_until(is("head")).await;
    let url = service.url(&format!("{HERE}/{demo}"));
    let delete = || service.client.delete(&url).send();
    assert_eq!(
        delete().await.expect("an answer").status(),
        StatusCode::NO_CONTENT
    );
    viewer.hear_until(is("gone")).await;
    assert_eq!(
        delete().await.expect("an answer").status(),
        StatusCode::NOT_FOUND
    );
    assert_eq!(names(&service, HERE).await, Vec::<String>::new());
    let deleted = service.get(DELETED).await;
    assert_eq!(deleted[0]["id"], json!(demo));
    let days = |from: &Value, to: &Value| {
        let time = |at: &Value| at.as_str().expect("a time")[..10].to_owned();
        (time(from), time(to))
    };
    let (from, to) = days(&deleted[0]["deleted_at"], &deleted[0]["gone_at"]);
    assert!(from < to, "{from} to {to}");
    // Nothing can be done to it meanwhile.
    let edit = json!({ "base": 2, "label": "Late", "patch": [] });
    let refused = service.post(&format!("{HERE}/{demo}/edits"), &edit).await;
    assert_eq!(refused.status(), StatusCode::NOT_FOUND);

    let back = format!("{HERE}/{demo}/bring-back");
    assert_eq!(
        service.post(&back, &json!({})).await.status(),
        StatusCode::NO_CONTENT
    );
    assert_eq!(
        service.post(&back, &json!({})).await.status(),
        StatusCode::NOT_FOUND
    );
    assert_eq!(service.head(&demo).await, before);
    assert_eq!(names(&service, DELETED).await, Vec::<String>::new());

    // Long ago is long ago: whoever starts the service finds nothing left of it.
    delete().await.expect("an answer");
    let other = service
        .make("Kept", json!({ "preset": "tower-karst" }))
        .await;
    let url = service.url(&format!("{HERE}/{other}"));
    service.client.delete(&url).send().await.expect("an answer");
    let long_ago = format!(
        "update landscapes set deleted_at = now() - interval '31 days' where id = '{demo}'"
    );
    let mut connection = PgConnection::connect(&service.database)
        .await
        .expect("connects");
    connection
        .execute(sqlx::AssertSqlSafe(long_ago))
        .await
        .expect("done");
    let service = service.restarted().await;
    for _ in 0..50 {
        if service.count("landscapes").await == 1 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    assert_eq!(names(&service, DELETED).await, ["Kept"]);
    assert_eq!(service.count("revisions").await, 1);
}

#[tokio::test]
async fn tags_are_kept_once_each_and_bounded() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let put = async |tags: Value| {
        let url = service.url(&format!("{HERE}/{demo}"));
        let sent = service
            .client
            .put(url)
            .json(&json!({ "tags": tags }))
            .send();
        sent.await.expect("an answer")
    };
    let kept = put(json!([" act two ", "fjord", "", "fjord"])).await;
    assert_eq!(kept.status(), StatusCode::NO_CONTENT);
    let shelf = service.get(HERE).await;
    assert_eq!(shelf[0]["tags"], json!(["act two", "fjord"]));
    let many: Vec<String> = (0..30).map(|k| format!("tag {k}")).collect();
    for bad in [json!(many), json!(["x".repeat(300)]), json!(["a\0"])] {
        assert_eq!(put(bad).await.status(), StatusCode::UNPROCESSABLE_ENTITY);
    }
    assert_eq!(
        service.get(HERE).await[0]["tags"],
        json!(["act two", "fjord"])
    );
    // To look at one is to open it.
    assert_eq!(shelf[0]["opened_at"], Value::Null);
    Viewer::of(&service, &demo)
        .await
        .hear_until(is("head"))
        .await;
    assert!(service.get(HERE).await[0]["opened_at"].is_string());
}

/// An edit without a label is put into words by what it changes; who made it is kept, and
/// whoever would undo it is told.
#[tokio::test]
async fn edits_say_what_changed_and_who_made_them() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let patch = json!([{ "op": "replace", "path": HEIGHT, "value": 900 }]);
    let edit = json!({ "base": 1, "author": " Mira ", "patch": patch });
    let done = service.post(&format!("{HERE}/{demo}/edits"), &edit).await;
    assert_eq!(done.status(), StatusCode::OK);
    let head = service.head(&demo).await;
    let said = head["undo"].as_str().expect("a label");
    assert!(
        said.starts_with("Trunk valley and its sides: height from 1"),
        "{said}"
    );
    assert!(said.ends_with(" to 900 m"), "{said}");
    assert_eq!(head["author"], "Mira");
    service.set(&demo, "/sea_level_m", json!(5)).await;
    let back = json!({ "revision": 1, "author": "Jon" });
    service.post(&format!("{HERE}/{demo}/return"), &back).await;
    let revisions = service.get(&format!("{HERE}/{demo}/revisions")).await;
    let by = |k: usize| revisions[k]["author"].clone();
    assert_eq!([by(0), by(1), by(2), by(3)], ["Jon", "", "Mira", ""]);

    let changes = service
        .get(&format!("{HERE}/{demo}/changes?from=2&to=3"))
        .await;
    assert_eq!(changes, json!(["Sea level from 0 to 5 m"]));
    let changes = service
        .get(&format!("{HERE}/{demo}/changes?from=1&to=4"))
        .await;
    assert_eq!(changes, json!([]));
    let missing = service.url(&format!("{HERE}/{demo}/changes?from=1&to=40"));
    let missing = service.client.get(missing).send().await.expect("an answer");
    assert_eq!(missing.status(), StatusCode::NOT_FOUND);
}

/// Any moment can be looked at in place of the newest one, and compared with any other.
#[tokio::test(flavor = "multi_thread")]
async fn any_two_moments_can_be_compared() {
    let service = Service::start().await;
    let demo = service.demo().await;
    for (revision, height) in [(2, 500.0), (3, 1000.0)] {
        service.set(&demo, HEIGHT, json!(height)).await;
        assert_eq!(service.head(&demo).await["revision"], revision);
    }
    let mut viewer = Viewer::of(&service, &demo).await;
    let look = json!({ "type": "look", "cells": 64, "at": 2, "against": 1 });
    viewer.say(look).await;
    let shown = viewer
        .hear_until(|m| m["type"] == "picture" && m["moment"] == "against")
        .await;
    assert_eq!(shown["revision"], 1);
    assert!(shown["difference"]["rms_m"].as_f64().expect("metres") > 1.0);
    // The same moment beside itself differs by nothing, and it is not the newest one.
    let look = json!({ "type": "look", "cells": 64, "at": 2, "against": 2 });
    viewer.say(look).await;
    let shown = viewer
        .hear_until(|m| m["type"] == "picture" && m["moment"] == "against" && m["revision"] == 2)
        .await;
    assert_eq!(shown["difference"]["most_m"], 0.0);
    viewer.say(json!({ "type": "look", "cells": 64 })).await;
    viewer
        .hear_until(|m| m["type"] == "picture" && m["revision"] == 3)
        .await;
    viewer
        .say(json!({ "type": "look", "cells": 64, "at": 99 }))
        .await;
    let refused = viewer.hear_until(is("fault")).await;
    assert!(
        refused["detail"]
            .as_str()
            .expect("words")
            .contains("no revision 99")
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_is_here_is_shown_to_the_others() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let (mut mira, mut jon) = (
        Viewer::of(&service, &demo).await,
        Viewer::of(&service, &demo).await,
    );
    mira.say(json!({ "type": "here", "name": "Mira", "at": [100, 200] }))
        .await;
    let people = jon.hear_until(is("people")).await;
    assert_eq!(people["people"][0]["name"], "Mira");
    assert_eq!(people["people"][0]["at"], json!([100.0, 200.0]));
    jon.say(json!({ "type": "here", "name": "Jon", "at": null }))
        .await;
    let people = mira
        .hear_until(|m| m["type"] == "people" && m["people"] != json!([]))
        .await;
    assert_eq!(people["people"].as_array().map(Vec::len), Some(1));
    assert_eq!(people["people"][0]["name"], "Jon");
    drop(mira);
    let people = jon
        .hear_until(|m| m["type"] == "people" && m["people"] == json!([]))
        .await;
    assert_eq!(people["people"], json!([]));
}

async fn picture(service: &Service, path: &str) -> (StatusCode, Vec<u8>) {
    let answer = service
        .client
        .get(service.url(path))
        .send()
        .await
        .expect("an answer");
    let status = answer.status();
    (status, answer.bytes().await.expect("bytes").to_vec())
}

/// A mask as a picture, whole and stage by stage.
#[tokio::test(flavor = "multi_thread")]
async fn masks_are_pictures_of_their_own() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let mask = |owner: &str| format!("{HERE}/{demo}/mask.png?owner={owner}&revision=1&cells=96");
    let grey = |png: &[u8]| {
        formats::read_picture(png, formats::Limits::default())
            .expect("a picture")
            .channels[0]
            .clone()
    };
    let (status, whole) = picture(&service, &mask("snow")).await;
    assert_eq!(status, StatusCode::OK);
    let whole = grey(&whole);
    assert_eq!((whole.cols(), whole.rows()), (96, 64));
    assert!(whole.range().0 < 10.0 && whole.range().1 > 245.0);
    // Its first reading alone takes more than all of them, multiplied.
    let (_, first) = picture(&service, &mask("snow%230")).await;
    assert!(grey(&first).sum() > whole.sum());
    for (owner, revision) in [("nobody", 1), ("snow", 9)] {
        let path = format!("{HERE}/{demo}/mask.png?owner={owner}&revision={revision}&cells=96");
        assert_eq!(picture(&service, &path).await.0, StatusCode::NOT_FOUND);
    }
}

/// Crossings are drawn and nothing is kept.
#[tokio::test(flavor = "multi_thread")]
async fn variants_of_any_kind_are_drawn() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let path = format!("{HERE}/{demo}/variants");
    let patch = |value: f64| json!([{ "op": "replace", "path": HEIGHT, "value": value }]);
    let wish = |variants: Value| json!({ "variants": variants, "cells": 48, "shape_only": true });
    let sheet = service
        .post(&path, &wish(json!([patch(300.0), patch(1500.0)])))
        .await;
    assert_eq!(sheet.status(), StatusCode::OK);
    let sheet: Value = sheet.json().await.expect("JSON");
    let drawn = |k: usize| {
        sheet["variants"][k]["picture"]
            .as_str()
            .expect("a picture")
            .to_owned()
    };
    assert!(drawn(0).starts_with("data:image/png") && drawn(0) != drawn(1));
    let refused = service.post(&path, &wish(json!([patch(1e9)]))).await;
    assert!(detail(refused).await.contains("Height is 1000000000 m"));
    let none = service.post(&path, &wish(json!([]))).await;
    assert_eq!(none.status(), StatusCode::BAD_REQUEST);
    assert_eq!(service.head(&demo).await["revision"], 1);
}
