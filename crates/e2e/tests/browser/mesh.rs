//! From nothing to a mesh that can be printed, or put into a game.

use std::collections::HashSet;
use std::io::Read as _;
use std::path::Path;
use std::time::Instant;

use anyhow::{Context, Result, ensure};
use e2e::{Browser, Service, test_id};

const MOST_TRIANGLES: usize = 10_000;

/// A file of an archive, as text.
pub(crate) fn unpacked(archive: &Path, name: &str) -> Result<String> {
    let mut archive = zip::ZipArchive::new(std::fs::File::open(archive)?)?;
    let mut text = String::new();
    let mut file = archive.by_name(name).with_context(|| name.to_owned())?;
    file.read_to_string(&mut text)?;
    Ok(text)
}

/// A new landscape, one kind of country, and a mesh of less than ten thousand triangles with
/// a closed bottom: opened here, line by line.
#[tokio::test(flavor = "multi_thread")]
async fn a_land_becomes_a_closed_mesh() -> Result<()> {
    let service = Service::start("mesh").await?;
    let browser = service.open_demo().await?;
    browser.go(&service.page("/")).await?;
    browser.find(&test_id("new-landscape")).await?;
    let begun = Instant::now();
    browser.click(&test_id("new-landscape")).await?;
    browser.click(&test_id("land-rolling-hills")).await?;
    browser.click(&test_id("make-landscape")).await?;
    browser.click(&test_id("stage-deliver")).await?;
    browser.click(&test_id("layers-none")).await?;
    browser.click(&test_id("layer-mesh")).await?;
    browser.choose(&test_id("mesh-format"), "obj").await?;
    browser.choose(&test_id("mesh-bound"), "triangles").await?;
    browser.click(&test_id("mesh-solid")).await?;
    browser
        .until(&test_id("export-size"), |text| {
            text.contains("about 10,000 triangles")
        })
        .await?;
    let clicked = begun.elapsed();
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let archive = service.downloaded("zip").await?;
    println!(
        "{:.1} s of clicks, {:.1} s with growing, writing and fetching",
        clicked.as_secs_f64(),
        begun.elapsed().as_secs_f64()
    );

    let text = unpacked(&archive, "land.obj")?;
    let faces: Vec<[usize; 3]> = text
        .lines()
        .filter_map(|line| line.strip_prefix("f "))
        .map(|face| {
            let place = |corner: &str| {
                let place = corner.split('/').next().unwrap_or_default();
                Ok(place.parse::<usize>()?)
            };
            let corners: Vec<usize> = face.split(' ').map(place).collect::<Result<_>>()?;
            corners.try_into().ok().context("three corners")
        })
        .collect::<Result<_>>()?;
    ensure!(
        (MOST_TRIANGLES - 100..=MOST_TRIANGLES).contains(&faces.len()),
        "{} triangles",
        faces.len()
    );
    let around = |&[a, b, c]: &[usize; 3]| [[a, b], [b, c], [c, a]];
    let edges: HashSet<[usize; 2]> = faces.iter().flat_map(around).collect();
    ensure!(
        edges.len() == 3 * faces.len(),
        "an edge is gone along twice"
    );
    let open = edges.iter().filter(|[a, b]| !edges.contains(&[*b, *a]));
    ensure!(open.count() == 0, "the bottom is open");
    ensure!(unpacked(&archive, "land.mtl")?.contains("newmtl land"));
    let side: serde_json::Value = serde_json::from_str(&unpacked(&archive, "mesh.json")?)?;
    ensure!(side["meshes"][0]["open_edges"] == 0, "{side}");

    // It can be fetched again later, without making it again.
    let earlier = browser.text(&test_id("earlier-exports")).await?;
    ensure!(earlier.contains("1024 cells, 1 file or set"), "{earlier}");
    browser.close().await
}

/// Levels with textures of a moment that has a name, and a mesh that cannot be is refused
/// with a word.
#[tokio::test(flavor = "multi_thread")]
async fn an_earlier_moment_becomes_a_mesh_with_textures() -> Result<()> {
    let service = Service::start("moment_mesh").await?;
    let browser = service.open_demo().await?;
    browser.click(&test_id("bench")).await?;
    browser.click(&test_id("bench-moments")).await?;
    browser.fill(&test_id("moment-name"), "First").await?;
    browser.find("[aria-label='Forget the name First']").await?;
    browser.click(&test_id("stage-deliver")).await?;
    browser.choose(&test_id("export-revision"), "1").await?;
    browser.choose(&test_id("export-cells"), "256").await?;
    browser.click(&test_id("layers-none")).await?;
    browser.click(&test_id("layer-mesh")).await?;
    browser.choose(&test_id("mesh-levels"), "2").await?;
    browser.choose(&test_id("mesh-textures"), "256").await?;
    the_camera_turns(&browser).await?;
    browser.click(&test_id("export-begin")).await?;
    browser.click(&test_id("export-download")).await?;
    let archive = service.downloaded("zip").await?;
    let side: serde_json::Value = serde_json::from_str(&unpacked(&archive, "mesh.json")?)?;
    let triangles = |level: usize| side["meshes"][level]["triangles"].as_u64().unwrap_or(0);
    ensure!(
        triangles(0) > 3 * triangles(1) && triangles(1) > 1000,
        "{side}"
    );
    let mut archive = zip::ZipArchive::new(std::fs::File::open(&archive)?)?;
    let mut bytes = Vec::new();
    let mut glb = archive.by_name("land-level-0.glb")?;
    glb.read_to_end(&mut bytes)?;
    ensure!(bytes.starts_with(b"glTF"));
    let pictures = bytes.windows(8).filter(|at| *at == b"\x89PNG\r\n\x1a\n");
    ensure!(pictures.count() == 3, "albedo, directions, occlusion");
    browser.close().await
}

/// The land as it will be and the land in full are drawn, and turned by one hand.
async fn the_camera_turns(browser: &Browser) -> Result<()> {
    let drawn = |of: &str| format!("{}[data-shown=true]", test_id(of));
    let bearings = "return ['mesh-picture', 'land-picture'].map((id) => {
        const picture = document.querySelector(`[data-testid=${id}]`);
        const query = new URL(picture.src).searchParams;
        return [picture.naturalWidth, Number(query.get('bearing_deg')), query.has('mesh')]; })";
    let seen = async || -> Result<Vec<(f64, f64, bool)>> {
        browser.find(&drawn("mesh-picture")).await?;
        browser.find(&drawn("land-picture")).await?;
        Ok(serde_json::from_value(
            browser.script(bearings, vec![]).await?,
        )?)
    };
    ensure!(seen().await? == [(608.0, 200.0, true), (608.0, 200.0, false)]);
    let steps = [(0.0, 0.0), (30.0, 5.0), (60.0, 10.0)];
    browser.drag(&test_id("mesh-camera"), &steps, true).await?;
    let turned = seen().await?;
    ensure!(
        turned[0].0 == 608.0 && turned[0].1 == turned[1].1 && (turned[0].1 - 245.0).abs() < 2.0,
        "{turned:?}"
    );
    Ok(())
}
