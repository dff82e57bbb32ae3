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

/// Heights as floats come from OpenEXR as they do from GeoTIFF, with the size of their cells
/// when the file says it as ours do.
#[tokio::test]
async fn heights_in_openexr_are_imported() {
    let service = Service::start().await;
    let heights = terrain::Grid::from_vec(4, 3, (0..12_u8).map(f32::from).collect());
    let mut exr = std::io::Cursor::new(Vec::new());
    let floats = formats::ExrFloats::Whole;
    formats::write_exr(&mut exr, &heights.expect("fits"), 25.0, floats).expect("fits");
    let imported = service.upload("ridge.exr", exr.into_inner()).await;
    assert_eq!(imported.status(), StatusCode::CREATED);
    let imported: Value = imported.json().await.expect("JSON");
    let said = [&imported["cols"], &imported["high"], &imported["width_m"]];
    assert_eq!(said, [&json!(4), &json!(11.0), &json!(100.0)]);
    assert!(imported["white"].is_null());
}

/// A raw file does not say how many steps are in a row: whoever sends it does, or it is a
/// square.
#[tokio::test]
async fn raw_steps_are_imported_in_rows_that_are_told() {
    let service = Service::start().await;
    let steps: Vec<u8> = (0..12_u16)
        .flat_map(|step| (step * 256).to_le_bytes())
        .collect();
    let refused = service.upload("ramp.r16", steps.clone()).await;
    assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let said = detail(refused).await;
    assert!(said.contains("24 bytes, which are no square"), "{said}");
    assert_eq!(service.count("assets").await, 0);
    let imported = service.upload("ramp.r16&cols=4", steps.clone()).await;
    assert_eq!(imported.status(), StatusCode::CREATED);
    let imported: Value = imported.json().await.expect("JSON");
    let said = ["cols", "rows", "high", "white"].map(|name| &imported[name]);
    assert_eq!(said, [&json!(4), &json!(3), &json!(2816.0), &json!(65_535)]);
    let square = service.upload("square.raw", steps[..18].to_vec()).await;
    assert_eq!(
        square.json::<Value>().await.expect("JSON")["rows"],
        json!(3)
    );
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
            "expected GeoTIFF, OpenEXR, PNG",
        ),
        ("empty.tif", Vec::new(), "expected GeoTIFF, OpenEXR, PNG"),
    ] {
        let refused = service.upload(name, bytes).await;
        assert_eq!(refused.status(), StatusCode::UNPROCESSABLE_ENTITY, "{name}");
        let said = detail(refused).await;
        assert!(said.contains(reason), "{name}: {said}");
    }
    assert_eq!(service.count("assets").await, 0);
    assert_eq!(service.count("landscapes").await, 1);
}

/// A picture of 6 by 4 cells whose red rises to the east and whose blue rises to the south.
fn colour_png() -> Vec<u8> {
    let colours = terrain::Grid::by_rows(6, 4, |r, row| {
        for (c, colour) in row.iter_mut().enumerate() {
            *colour = [(c * 51) as u8, 128, (r * 85) as u8];
        }
    });
    let mut png = Vec::new();
    formats::write_rgb8(&mut png, &colours).expect("it fits");
    png
}

/// A picture in colour is heights by one of its channels: what black and white mean is said,
/// what would be made is shown before anything is kept, and nobody lays a ground unasked.
#[tokio::test(flavor = "multi_thread")]
async fn a_picture_in_colour_becomes_heights_by_a_channel() {
    let service = Service::start().await;
    let imported = service.upload("contours.png", colour_png()).await;
    assert_eq!(imported.status(), StatusCode::CREATED);
    let imported: Value = imported.json().await.expect("JSON");
    assert_eq!(
        (&imported["channels"], &imported["white"]),
        (&json!(3), &json!(255))
    );
    let start = |channel: u32, ground: bool| {
        json!({ "name": "Colour", "start": { "heightfield": {
            "asset": imported["id"], "width_m": 600, "depth_m": 400, "channel": channel,
            "scale": 400.0 / 255.0, "lift_m": 100, "sinks": false, "ground": ground,
        } } })
    };
    let shown = service.post("/api/preview.png", &start(2, false)).await;
    assert_eq!(shown.status(), StatusCode::OK);
    let png = shown.bytes().await.expect("bytes");
    assert!(png.starts_with(&[0x89, b'P', b'N', b'G']));
    assert_eq!(service.count("landscapes").await, 1);

    for (channel, east, south) in [(0, true, false), (2, false, true)] {
        let made = service
            .post("/api/landscapes", &start(channel, channel == 2))
            .await;
        let made: Value = made.json().await.expect("JSON");
        let id = made["id"].as_str().expect("an id");
        let head = service.head(id).await;
        let covers = head["recipe"]["covers"].as_array().map(Vec::len);
        assert_eq!(covers, Some(if channel == 2 { 3 } else { 0 }));
        let at = async |x_m: f64, y_m: f64| {
            let path = format!("/api/landscapes/{id}/core?x_m={x_m}&y_m={y_m}&cells=60");
            service.get(&path).await["height_m"]
                .as_f64()
                .expect("metres")
        };
        let (north_west, north_east) = (at(20.0, 380.0).await, at(580.0, 380.0).await);
        let south_west = at(20.0, 20.0).await;
        assert!(
            (north_west - 100.0).abs() < 20.0,
            "black is 100 m: {north_west}"
        );
        assert_eq!(north_east > north_west + 300.0, east);
        assert_eq!(south_west > north_west + 300.0, south);
    }
    let none = service.post("/api/preview.png", &start(7, false)).await;
    assert_eq!(none.status(), StatusCode::NOT_FOUND);
    let name = service
        .get(&format!(
            "/api/assets/{}",
            imported["id"].as_str().expect("an id")
        ))
        .await;
    assert_eq!(name["name"], "contours.png");
}

/// Where a model lies on earth goes with it, and sinks with nothing.
#[tokio::test(flavor = "multi_thread")]
async fn a_model_keeps_its_place_on_earth() {
    let service = Service::start().await;
    let imported: Value = service
        .upload("jacksboro.tif", DEM.to_vec())
        .await
        .json()
        .await
        .expect("JSON");
    assert!(
        imported["place"]
            .as_str()
            .expect("a name")
            .contains("EPSG:4326")
    );
    let place = imported["georeference"].clone();
    assert!(place["west"].as_f64().expect("degrees") < -80.0, "{place}");
    let start = json!({ "heightfield": {
        "asset": imported["id"], "width_m": imported["width_m"], "depth_m": imported["depth_m"],
        "scale": 1, "sinks": true, "georeference": place,
    } });
    let id = service.make("Fault", start).await;
    let recipe = service.head(&id).await["recipe"].clone();
    assert_eq!(recipe["georeference"], place);
    assert_eq!(recipe["strands"][0]["steps"][1]["name"], "Sunk edges");
    let wrong = json!([{ "op": "replace", "path": "/georeference/west", "value": 1000 }]);
    let edit = json!({ "base": 1, "label": "", "patch": wrong });
    let refused = service
        .post(&format!("/api/landscapes/{id}/edits"), &edit)
        .await;
    assert!(detail(refused).await.contains("west before east"));
}
