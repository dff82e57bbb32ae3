//! Targets: what another program takes is the beginning, and what is chosen is held against
//! it before anything is exported.

use anyhow::{Result, ensure};
use e2e::{Service, test_id};
use serde_json::Value;

use crate::mesh::unpacked;

/// A target of one's own is added from a file, what it would not take is said and mended with
/// a click, and what comes has the formats, the mask and the packed picture that were chosen,
/// with a list of all files.
#[tokio::test(flavor = "multi_thread")]
async fn what_a_target_would_not_take_is_mended_before_it_is_exported() -> Result<()> {
    let service = Service::start("targets").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("stage-deliver")).await?;
    browser
        .choose(&test_id("export-target"), "Game engine terrain")
        .await?;
    browser
        .until(&test_id("export-finding-square"), |text| {
            text.contains("2049 × 1366 cells; the target takes squares")
        })
        .await?;

    let folder = tempfile::tempdir()?;
    let file = folder.path().join("model-railway.json");
    std::fs::write(
        &file,
        r#"{ "name": "Model railway", "about": "Heights for a mill.",
            "wish": { "cells": 300, "layers": ["height16"], "range": "whole" },
            "bounds": { "grid": "power_of_two", "largest_step_m": 0.2 } }"#,
    )?;
    browser.give_file(&test_id("target-file"), &file).await?;
    browser
        .until(&test_id("export-finding-steps"), |text| {
            text.contains("steps of 1.000 m, the target asks for 0.2 m")
        })
        .await?;
    browser.click(&test_id("export-fix-steps")).await?;
    browser.until_gone(&test_id("export-finding-steps")).await?;
    browser.click(&test_id("export-fix-grid")).await?;
    browser.until_gone(&test_id("export-finding-grid")).await?;
    browser
        .until(&test_id("export-size"), |text| {
            text.contains("256 × 171 cells")
        })
        .await?;

    browser.click(&test_id("layer-height")).await?;
    browser
        .choose(&test_id("export-fields"), "exr_half")
        .await?;
    browser.click(&test_id("packed-add")).await?;
    browser.choose(&test_id("packed-0-blue"), "height").await?;
    // What is chosen now can be kept as a target too.
    browser.click(&test_id("target-keep")).await?;
    browser
        .fill(&test_id("target-name"), "Railway, packed")
        .await?;
    browser
        .find(&format!(
            "{} option[value='Railway, packed']:checked",
            test_id("export-target")
        ))
        .await?;
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let archive = service.downloaded("zip").await?;
    let list: Value = serde_json::from_str(&unpacked(&archive, "manifest.json")?)?;
    let files = list["files"].as_array().cloned().unwrap_or_default();
    let names: Vec<&str> = files
        .iter()
        .filter_map(|file| file["file"].as_str())
        .collect();
    for wanted in [
        "height.exr",
        "height.png",
        "height.json",
        "surface.png",
        "surface.json",
    ] {
        ensure!(names.contains(&wanted), "{wanted} is not among {names:?}");
    }
    let said: Value = serde_json::from_str(&unpacked(&archive, "surface.json")?)?;
    ensure!(said["channels"]["blue"]["holds"] == "height", "{said}");

    // The page knows both after a reload, and takes one away.
    browser.reload().await?;
    browser.grown().await?;
    browser.click(&test_id("stage-deliver")).await?;
    browser
        .choose(&test_id("export-target"), "Railway, packed")
        .await?;
    browser.find(&test_id("packed-0")).await?;
    browser.click(&test_id("target-discard")).await?;
    browser
        .until_gone(&format!(
            "{} option[value='Railway, packed']",
            test_id("export-target")
        ))
        .await?;
    browser
        .find(&format!(
            "{} option[value='Model railway']",
            test_id("export-target")
        ))
        .await?;

    // Cliffs apart are drawn as they will be, and a floor takes their place.
    browser.click(&test_id("layer-mesh")).await?;
    browser
        .choose(&test_id("mesh-cliffs"), "steeper:40")
        .await?;
    let with_cliffs = format!(
        "{}[data-shown=true][src*='steeper']",
        test_id("mesh-picture")
    );
    browser.find(&with_cliffs).await?;
    let wide = "return document.querySelector('[data-testid=mesh-picture]').naturalWidth";
    ensure!(browser.script(wide, vec![]).await? == 608);
    browser.click(&test_id("mesh-solid")).await?;
    browser.until_gone(&test_id("mesh-cliffs")).await?;
    browser.close().await
}
