//! `morphogen survey`.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use clap::Args;
use formats::{Limits, read_heightfield};
use recipe::Grower;
use recipe::survey::survey;
use terrain::erosion::{Form, Nature, nature};
use terrain::{Frame, Grid, Run};

use super::{Failure, read_recipe};

/// List likely mistakes in a recipe and in what grows from it.
///
/// With `--geomorphology` the laws that drainage basins obey in nature are
/// measured too, beside those of a piece of real land.
#[derive(Args)]
pub struct Survey {
    /// The recipe, a JSON file; - is standard input
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
            let ours = measured(&land.heights(), frame.cell_m, sea)
                .map_err(|error| Failure::Other(anyhow!(error)))?;
            print(&recipe.name, &ours, &real_land()?);
        }
        Ok(())
    }
}

fn measured(heights: &Grid, cell_m: f64, sea: f32) -> anyhow::Result<Nature> {
    Ok(nature(heights, cell_m, sea, Run::to_the_end())?)
}

fn real_land() -> anyhow::Result<Nature> {
    let read = read_heightfield(REAL_LAND, Limits::default()).context("the real land")?;
    let (x, y) = read.cell_m.context("the real land has a cell size")?;
    measured(&read.values, (x * y).sqrt(), f32::NEG_INFINITY)
}

/// What is measured: its name, how it is read off, and what it is in nature.
type Row = (&'static str, fn(&Nature) -> Option<f64>, &'static str);

const ROWS: [Row; 24] = [
    (
        "Hack's exponent",
        |n| n.basins.hack,
        "0.5 to 0.65 (Hack 1957)",
    ),
    (
        "Bifurcation ratio",
        |n| n.basins.bifurcation,
        "3 to 5 (Horton 1945)",
    ),
    (
        "Length ratio",
        |n| n.basins.length,
        "1.5 to 3.5 (Horton 1945)",
    ),
    (
        "Hypsometric integral",
        |n| Some(n.basins.hypsometric),
        "0.35 old to 0.6 young (Strahler 1952)",
    ),
    (
        "Concavity",
        |n| n.basins.concavity,
        "0.4 to 0.7 (Tucker and Whipple 2002)",
    ),
    (
        "In closed hollows, %",
        |n| Some(100.0 * n.surface.hollows),
        "below 6 without lakes",
    ),
    (
        "Channels uphill, %",
        |n| Some(100.0 * n.channels.uphill),
        "below 16 without lakes",
    ),
    (
        "Channel directions",
        |n| n.channels.direction,
        "most of 16 against their mean; 1.5 on real land",
    ),
    (
        "Channels, km per km²",
        |n| Some(n.channels.density_per_km),
        "depends on the cells, sources of 0.1 km²",
    ),
    (
        "Channels begin at, ha",
        |n| n.channels.bend_m2.map(|m2| m2 / 1e4),
        "depends on the rock and the cells",
    ),
    (
        "Mean slope, °",
        |n| Some(n.surface.slope_mean_deg),
        "depends on the cells",
    ),
    (
        "Slope of the steepest 1 %, °",
        |n| Some(n.surface.slope_steep_deg),
        "depends on the cells",
    ),
    (
        "Four directions",
        |n| Some(n.surface.four_ways),
        "below 0.05",
    ),
    (
        "Eight directions",
        |n| Some(n.surface.eight_ways),
        "below 0.03",
    ),
    (
        "Slope along the border",
        |n| Some(n.surface.border),
        "about 1",
    ),
    (
        "Border and middle apart",
        |n| Some(n.surface.border_apart),
        "below 0.2 (Kolmogorov and Smirnov)",
    ),
    (
        "Skew of the bending",
        |n| Some(n.surface.skew),
        "-0.5 to 0.5",
    ),
    (
        "Slope of the spectrum",
        |n| n.spectrum,
        "2 to 3.5 (Huang and Turcotte 1989)",
    ),
    ("Forms: flat, %", |n| form(n, &[Form::Flat]), ""),
    (
        "Forms: summits, ridges, %",
        |n| form(n, &[Form::Summit, Form::Ridge]),
        "",
    ),
    (
        "Forms: shoulders, spurs, %",
        |n| form(n, &[Form::Shoulder, Form::Spur]),
        "",
    ),
    ("Forms: slopes, %", |n| form(n, &[Form::Slope]), ""),
    (
        "Forms: hollows, feet, %",
        |n| form(n, &[Form::Hollow, Form::Foot]),
        "",
    ),
    (
        "Forms: valleys, pits, %",
        |n| form(n, &[Form::Valley, Form::Pit]),
        "",
    ),
];

/// The share of the land that belongs to any of `forms`, per cent.
fn form(nature: &Nature, forms: &[Form]) -> Option<f64> {
    let shares = forms.iter().map(|&form| nature.forms.share(form));
    Some(100.0 * shares.sum::<f64>())
}

fn print(name: &str, ours: &Nature, real: &Nature) {
    let show = |value: Option<f64>| value.map_or("–".to_owned(), |value| format!("{value:.2}"));
    println!("\n{:32} {:>14} {:>10}  in nature", "", name, "real land");
    for (law, read, nature) in ROWS {
        let (ours, real) = (show(read(ours)), show(read(real)));
        println!("{law:32} {ours:>14} {real:>10}  {nature}");
    }
}
