//! Imported files: good ones are kept, bad ones leave nothing behind.

use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::support::{DEM, Service, detail};

#[tokio::test]
async fn the_real_elevation_model_becomes_a_landscape() {
    let service = Service::start().await;
    let imported = service.upload("jacksboro.tif", DEM.to_vec()).await;
    assert_eq!(imported.status(), StatusCode::CREATED);
    let imported: Value = imported.json().await.expect("JSON");
    assert_eq!(
        (&imported["cols"], &imported["low"]),
        (&json!(403), &json!(236.0))
    );
    let start = json!({ "heightfield": {
        "asset": imported["id"], "width_m": imported["width_m"],
        "depth_m": imported["depth_m"], "scale": 1,
    } });
    let made = service
        .post(
            "/api/landscapes",
            &json!({ "name": "Fault", "start": start }),
        )
        .await;
    assert_eq!(made.status(), StatusCode::CREATED);
    let again = service.upload("same.tif", DEM.to_vec()).await;
    assert_eq!(
        again.json::<Value>().await.expect("JSON")["id"],
        imported["id"]
    );
    assert_eq!(service.count("assets").await, 1);
}

#[tokio::test]
async fn bad_files_are_refused_with_a_reason_and_not_kept() {
    let service = Service::start().await;
    let huge = "ncols 3000000000\nnrows 3000000000\ncellsize 1\n1 2\n";
    let nan = "ncols 2\nnrows 2\ncellsize 1\n1 2 nan 4\n";
    for (name, bytes, reason) in [
        ("cut.tif", DEM[..DEM.len() / 2].to_vec(), "cut short"),
        ("huge.asc", huge.into(), "at most"),
        ("nan.asc", nan.into(), "1 of 4 values are not finite"),
        (
            "report.pdf",
            b"%PDF-1.7 ...".to_vec(),
            "expected GeoTIFF, PNG",
        ),
        ("empty.tif", Vec::new(), "expected GeoTIFF, PNG"),
    ] {
        let refused = service.upload(name, bytes).await;
        assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY, "{name}");
        let said = detail(refused).await;
        assert!(said.contains(reason), "{name}: {said}");
    }
    assert_eq!(service.count("assets").await, 0);
    assert_eq!(service.count("landscapes").await, 1);
}
