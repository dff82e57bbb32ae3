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
        .post(&path, &json!({ "cells": 96, "layers": layers }))
        .await;
    assert_eq!(refused.status(), StatusCode::BAD_REQUEST);
    let layers = json!(["height", "wear", "weights", "recipe"]);
    let begun = service
        .post(&path, &json!({ "cells": 96, "layers": layers }))
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
    let begun = service.post(&path, &json!({ "cells": 8192 })).await;
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
async fn an_export_that_makes_no_sense_is_refused() {
    let service = Service::start().await;
    let path = format!("/api/landscapes/{}/exports", service.demo().await);
    let refused = service.post(&path, &json!({ "cells": 100_000 })).await;
    assert_eq!(
        detail(refused).await,
        "cells is 100000, allowed is 2 to 16384"
    );
    let refused = service
        .post(&path, &json!({ "cells": 64, "layers": ["gold"] }))
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
    let order = |mesh: Value| json!({ "cells": 64, "layers": ["mesh"], "mesh": mesh });
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
    let unknown = json!({ "cells": 64, "revision": 7_000_000 });
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
        (&one["revision"], &one["cells"], &one["state"]),
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
