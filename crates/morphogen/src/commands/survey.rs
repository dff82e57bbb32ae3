//! `morphogen survey`.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use clap::Args;
use formats::{Limits, read_heightfield};
use recipe::Grower;
use recipe::survey::survey;
use terrain::erosion::{Geomorphology, geomorphology};
use terrain::{Frame, Run};

use super::{Failure, read_recipe};

/// List likely mistakes in a recipe and in what grows from it.
///
/// With `--geomorphology` the laws that drainage basins obey in nature are
/// measured too, beside those of a piece of real land.
#[derive(Args)]
pub struct Survey {
    /// The recipe, a JSON file
    recipe: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 512, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Measure the laws of drainage basins
    #[arg(long)]
    geomorphology: bool,
    /// Folder with the imported files that the recipe names [default: the recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
}

/// A piece of real land to compare with: public domain, see its folder.
const REAL_LAND: &[u8] = include_bytes!("../../../formats/tests/data/jacksboro.tif");
/// Memory for intermediate results, bytes.
const CACHE: usize = 512 << 20;

impl Survey {
    pub fn run(self) -> Result<(), Failure> {
        let (recipe, assets) = read_recipe(&self.recipe, self.assets)?;
        let (grower, cells, run) = (Grower::new(CACHE), self.cells as usize, Run::to_the_end());
        let findings = survey(&grower, &recipe, &assets, cells, run)
            .map_err(|error| Failure::Input(anyhow!(error)))?;
        for finding in &findings {
            let step = finding.step.as_deref().map(|id| format!("{id}: "));
            println!("{}{}", step.unwrap_or_default(), finding.finding);
            println!("  {}", finding.why);
            if let Some(fix) = &finding.fix {
                println!("  A way out: {}.", fix.label);
            }
        }
        if findings.is_empty() {
            println!("Nothing to point out.");
        }
        if self.geomorphology {
            let frame = Frame::with_cells(recipe.extent.into(), cells);
            let land = grower
                .land(&recipe, &assets, &frame, run)
                .map_err(|error| Failure::Input(anyhow!(error)))?;
            let sea = recipe.sea_level_m as f32;
            let ours = geomorphology(&land.heights(), frame.cell_m, sea, run)
                .map_err(|error| Failure::Other(anyhow!(error)))?;
            print(&recipe.name, &ours, &real_land()?);
        }
        Ok(())
    }
}

fn real_land() -> anyhow::Result<Geomorphology> {
    let read = read_heightfield(REAL_LAND, Limits::default()).context("the real land")?;
    let (x, y) = read.cell_m.context("the real land has a cell size")?;
    let sea = f32::NEG_INFINITY;
    Ok(geomorphology(
        &read.values,
        (x * y).sqrt(),
        sea,
        Run::to_the_end(),
    )?)
}

fn print(name: &str, ours: &Geomorphology, real: &Geomorphology) {
    let show = |value: Option<f64>| value.map_or("–".to_owned(), |value| format!("{value:.2}"));
    println!("\n{:32} {:>14} {:>10}  in nature", "", name, "real land");
    let rows = [
        (
            "Hack's exponent",
            ours.hack,
            real.hack,
            "0.5 to 0.65 (Hack 1957)",
        ),
        (
            "Bifurcation ratio",
            ours.bifurcation,
            real.bifurcation,
            "3 to 5 (Horton 1945)",
        ),
        (
            "Length ratio",
            ours.length,
            real.length,
            "1.5 to 3.5 (Horton 1945)",
        ),
        (
            "Hypsometric integral",
            Some(ours.hypsometric),
            Some(real.hypsometric),
            "0.35 old to 0.6 young (Strahler 1952)",
        ),
        (
            "Concavity",
            ours.concavity,
            real.concavity,
            "0.4 to 0.7 (Tucker and Whipple 2002)",
        ),
    ];
    for (law, ours, real, nature) in rows {
        println!("{law:32} {:>14} {:>10}  {nature}", show(ours), show(real));
    }
}
