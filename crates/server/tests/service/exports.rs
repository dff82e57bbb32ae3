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
        "weights-1.png",
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
