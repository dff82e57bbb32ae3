//! Exports: begun, followed, fetched, and read by our own reader.

use std::io::{Cursor, Read};
use std::time::Duration;

use formats::{Limits, read_heightfield};
use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{Service, detail};

async fn finished(service: &Service, id: &str) -> Value {
    for _ in 0..600 {
        let status = service.get(&format!("/api/exports/{id}")).await;
        if status["state"] != "running" && status["state"] != "queued" {
            return status;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("the export does not end");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_export_can_be_fetched_and_read() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let layers = json!(["height", "snow_depth_of_the_moon"]);
    let refused = service
        .post(&path, &json!({ "wish": { "cells": 96, "layers": layers } }))
        .await;
    assert_eq!(refused.status(), StatusCode::BAD_REQUEST);
    let layers = json!(["height", "wear", "weights", "recipe"]);
    let begun = service
        .post(&path, &json!({ "wish": { "cells": 96, "layers": layers } }))
        .await;
    assert_eq!(begun.status(), StatusCode::ACCEPTED);
    let id = begun.json::<Value>().await.expect("JSON")["id"]
        .as_str()
        .expect("id")
        .to_owned();
    assert_eq!(finished(&service, &id).await["state"], "done");

    let file = service
        .client
        .get(service.url(&format!("/api/exports/{id}/file")));
    let file = file.send().await.expect("an answer");
    let disposition = file.headers()["content-disposition"]
        .to_str()
        .expect("text")
        .to_owned();
    assert_eq!(disposition, "attachment; filename=\"hollin-fjord.zip\"");
    let bytes = file.bytes().await.expect("the file");
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).expect("a zip archive");
    let mut names: Vec<String> = archive
        .file_names()
        .map(|name| name.expect("a name").into_owned())
        .collect();
    names.sort();
    let expected = [
        "height.tif",
        "manifest.json",
        "recipe.json",
        "wear.tif",
        "weights-1.pgw",
        "weights-1.png",
        "weights-2.pgw",
        "weights-2.png",
        "weights.json",
    ];
    assert_eq!(names, expected);
    let mut tiff = Vec::new();
    archive
        .by_name("height.tif")
        .expect("heights")
        .read_to_end(&mut tiff)
        .expect("whole");
    let heights = read_heightfield(&tiff, Limits::default()).expect("a heightfield");
    assert_eq!((heights.values.cols(), heights.values.rows()), (96, 64));
    assert_eq!(heights.cell_m, Some((125.0, 125.0)));
    let loose = std::fs::read_dir(service.folder().join("exports"))
        .expect("the folder")
        .count();
    assert_eq!(loose, 1, "only the packed file is left");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_export_can_be_stopped() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let begun = service
        .post(&path, &json!({ "wish": { "cells": 8192 } }))
        .await;
    let id = begun.json::<Value>().await.expect("JSON")["id"]
        .as_str()
        .expect("id")
        .to_owned();
    let url = service.url(&format!("/api/exports/{id}"));
    assert_eq!(
        service
            .client
            .delete(url)
            .send()
            .await
            .expect("an answer")
            .status(),
        204
    );
    assert_eq!(finished(&service, &id).await["state"], "stopped");
    let file = service
        .client
        .get(service.url(&format!("/api/exports/{id}/file")));
    assert_eq!(
        file.send().await.expect("an answer").status(),
        StatusCode::NOT_FOUND
    );
}

#[tokio::test]
async fn an_export_that_ends_its_service_is_given_up() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let wish = json!({ "wish": { "cells": 8192 } });
    let begun: Value = service.post(&path, &wish).await.json().await.expect("JSON");
    let id = begun["id"].as_str().expect("an id").to_owned();
    // As services that died three times have left it.
    let left = "update exports set state = 'running', taken_by = gen_random_uuid(), attempts = 3,
                alive_at = now() - interval '1 hour'";
    service.execute(left).await;
    let status = finished(&service, &id).await;
    assert_eq!(status["state"], "failed");
    let message = status["message"].as_str().expect("a word");
    assert!(message.contains("3 times"), "{message}");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_export_that_makes_no_sense_is_refused() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let refused = service
        .post(&path, &json!({ "wish": { "cells": 100_000 } }))
        .await;
    assert_eq!(
        detail(refused).await,
        "cells is 100000, allowed is 2 to 16384"
    );
    let refused = service
        .post(
            &path,
            &json!({ "wish": { "cells": 64, "layers": ["gold"] } }),
        )
        .await;
    assert_eq!(detail(refused).await, "there is no layer called ‘gold’");
    assert_eq!(service.count("exports").await, 0);
}

/// A mesh of an earlier revision is made and listed; one that cannot be is refused, and
/// nothing waits.
#[tokio::test(flavor = "multi_thread")]
async fn a_mesh_is_ordered_checked_and_listed() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let order = |mesh: Value| json!({ "wish": { "cells": 64, "layers": ["mesh"], "mesh": mesh } });
    for (mesh, reason) in [
        (
            json!({ "format": "abc" }),
            "mesh: there is no format called ‘abc’",
        ),
        (
            json!({ "ratio": 2.0 }),
            "mesh: ratio is 2, allowed is 0.000001 to 1",
        ),
        (
            json!({ "ratio": 0.5, "triangles": 20 }),
            "mesh: of triangles, ratio and within_m only one",
        ),
        (
            json!({ "solid": true, "triangles": 13 }),
            "mesh: triangles is 13, allowed is 14 to 1000000000",
        ),
        (
            json!({ "format": "stl", "textures": 64 }),
            "mesh: only GLB has textures inside; other formats take the maps beside them",
        ),
    ] {
        assert_eq!(
            detail(service.post(&path, &order(mesh)).await).await,
            reason
        );
    }
    let unknown = json!({ "wish": { "cells": 64 }, "revision": 7_000_000 });
    let refused = service.post(&path, &unknown).await;
    assert_eq!(refused.status(), StatusCode::NOT_FOUND);
    assert_eq!(service.count("exports").await, 0);

    let mut wanted = order(json!({ "format": "stl", "triangles": 500, "solid": true }));
    wanted["revision"] = json!(1);
    let begun = service.post(&path, &wanted).await;
    assert_eq!(begun.status(), StatusCode::ACCEPTED);
    let begun: Value = begun.json().await.expect("JSON");
    let id = begun["id"].as_str().expect("id");
    assert_eq!(finished(&service, id).await["state"], "done");
    let listed = service.get(&path).await;
    assert_eq!(listed.as_array().map(Vec::len), Some(1));
    let one = &listed[0];
    assert_eq!(
        (&one["revision"], &one["wish"]["cells"], &one["state"]),
        (&json!(1), &json!(64), &json!("done"))
    );

    let url = service.url(&format!("/api/exports/{id}/file"));
    let file = service.client.get(url).send().await.expect("an answer");
    let bytes = file.bytes().await.expect("a file");
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).expect("a zip archive");
    let mut stl = Vec::new();
    let mut entry = archive.by_name("land.stl").expect("it is in there");
    entry.read_to_end(&mut stl).expect("reads");
    let count = u32::from_le_bytes([stl[80], stl[81], stl[82], stl[83]]) as usize;
    assert!((400..=500).contains(&count), "{count} triangles");
    assert_eq!(stl.len(), 84 + 50 * count);
}

/// What a target would not take is said before anything is made, with a wish that it takes.
#[tokio::test(flavor = "multi_thread")]
async fn a_wish_is_held_against_a_target_and_mended() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports/check", service.demo().await);
    let wish = json!({
        "cells": 300,
        "layers": ["height16", "mesh"],
        "range": { "given": { "black": 0.0, "white": 50.0 } },
        "mesh": { "ratio": 1.0 },
    });
    let bounds = json!({ "grid": "power_of_two", "most_triangles": 1000, "needs": ["albedo"] });
    let mut asked = json!({ "wish": wish, "bounds": bounds });
    let mut rules = Vec::new();
    // Each way out takes one finding away, until there is none.
    for _ in 0..8 {
        let checked = service.post(&path, &asked).await;
        assert_eq!(checked.status(), StatusCode::OK);
        let checked: Value = checked.json().await.expect("JSON");
        let findings = checked["findings"].as_array().expect("a list").clone();
        let wrong = findings.iter().find(|found| found["weight"] == "wrong");
        let Some(found) = wrong else {
            let outlook = &checked["outlook"];
            assert_eq!(outlook["cols"], 256);
            assert!(outlook["file_bytes"].as_f64() > Some(1e4), "{outlook}");
            break;
        };
        rules.push(found["rule"].as_str().expect("a rule").to_owned());
        assert!(!found["fix"].is_null(), "{found}");
        asked["wish"] = found["fix"]["wish"].clone();
    }
    rules.sort();
    assert_eq!(rules, ["grid", "parts", "range", "triangles"]);
    // What was mended can be exported.
    let exports = path.trim_end_matches("/check");
    let begun = service
        .post(exports, &json!({ "wish": asked["wish"] }))
        .await;
    assert_eq!(begun.status(), StatusCode::ACCEPTED);

    let unknown = json!({ "wish": { "layers": ["gold", "height"] } });
    let checked: Value = service
        .post(&path, &unknown)
        .await
        .json()
        .await
        .expect("JSON");
    let found = &checked["findings"][0];
    assert_eq!(found["finding"], "there is no layer called ‘gold’.");
    assert_eq!(found["fix"]["wish"]["layers"], json!(["height"]));
    assert!(checked["outlook"].is_null());
}

/// A target of one's own is kept, replaced under its name, and taken away; one that is not
/// sound, or is called as one that ships, is refused.
#[tokio::test(flavor = "multi_thread")]
async fn targets_of_ones_own_are_kept() {
    let service = Service::start().await;
    let path = "/api/targets";
    let shipped = service.get(path).await.as_array().map(Vec::len);
    let target = |cells: u32| json!({ "name": "Course server", "wish": { "cells": cells } });
    for cells in [128, 256] {
        let kept = service.post(path, &target(cells)).await;
        assert_eq!(kept.status(), StatusCode::CREATED);
    }
    let all = service.get(path).await;
    assert_eq!(all.as_array().map(Vec::len), shipped.map(|count| count + 1));
    let own = all.as_array().and_then(|all| all.last()).expect("there");
    assert_eq!(own["target"]["wish"]["cells"], 256);
    for (refused, why) in [
        (
            json!({ "name": "Printer" }),
            "‘Printer’ ships with the product: take another name",
        ),
        (json!({ "name": " " }), "name: it has 1 to 200 letters"),
        (
            json!({ "name": "x", "wish": { "cells": 1 } }),
            "cells is 1, allowed is 2 to 16384",
        ),
        (
            json!({ "name": "x", "bounds": { "most_mib": -1.0 } }),
            "most_mib is -1, it must be above 0",
        ),
    ] {
        assert_eq!(detail(service.post(path, &refused).await).await, why);
    }
    let url = service.url(&format!("{path}/{}", own["id"].as_str().expect("an id")));
    let gone = service.client.delete(&url).send().await.expect("an answer");
    assert_eq!(gone.status(), StatusCode::NO_CONTENT);
    assert_eq!(service.get(path).await.as_array().map(Vec::len), shipped);
    let again = service.client.delete(&url).send().await.expect("an answer");
    assert_eq!(again.status(), StatusCode::NOT_FOUND);
}

/// A land is drawn as triangles and in full, as large as asked for; what cannot be drawn is
/// refused in words.
#[tokio::test(flavor = "multi_thread")]
async fn a_mesh_is_drawn_before_it_is_exported() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let picture = async |more: &str| {
        let url = format!(
            "/api/landscapes/{demo}/mesh.png?cells=64&revision=1&bearing_deg=200&zoom=1&{more}"
        );
        let answer = service.client.get(service.url(&url)).send().await;
        answer.expect("an answer")
    };
    let seen = "altitude_deg=35&width=120&height=80";
    let mut drawn = Vec::new();
    // JSON of a MeshWish, as a query has it.
    for mesh in [
        "",
        "&mesh=%7B%22triangles%22%3A200%7D",
        "&mesh=%7B%22solid%22%3Atrue%7D",
    ] {
        let answer = picture(&format!("{seen}{mesh}")).await;
        assert_eq!(answer.status(), StatusCode::OK, "{mesh}");
        let bytes = answer.bytes().await.expect("a picture");
        let png = formats::read_picture(&bytes, Limits::default()).expect("PNG");
        assert_eq!((png.channels[0].cols(), png.channels[0].rows()), (120, 80));
        drawn.push(png);
    }
    assert!(drawn[0] != drawn[1] && drawn[1] != drawn[2] && drawn[0] != drawn[2]);
    for (refused, why) in [
        (
            "altitude_deg=95&width=120&height=80".to_owned(),
            "0 to 90 degrees",
        ),
        (
            "altitude_deg=35&width=9000&height=80".to_owned(),
            "16 to 1600",
        ),
        (
            format!("{seen}&mesh=%7B%22ratio%22%3A9%7D"),
            "mesh: ratio is 9",
        ),
        (format!("{seen}&mesh=gold"), "mesh: expected value"),
    ] {
        let said = detail(picture(&refused).await).await;
        assert!(said.contains(why), "{said}");
    }
}
