//! What a geomorphologist would ask of a piece of land, beside pieces of real land.

use anyhow::{Context, anyhow};
use formats::{Limits, read_heightfield};
use terrain::erosion::{Form, Nature, nature};
use terrain::{Grid, Run};

/// A piece of real land to compare with: in the public domain, see its folder.
struct RealLand {
    title: &'static str,
    file: &'static [u8],
    /// What is below is sea, metres.
    sea_m: f32,
}

const REAL_LANDS: [RealLand; 2] = [
    RealLand {
        title: "real hills",
        file: include_bytes!("../../../formats/tests/data/jacksboro.tif"),
        sea_m: f32::NEG_INFINITY,
    },
    RealLand {
        title: "real coast",
        file: include_bytes!("../../../formats/tests/data/conception.tif"),
        sea_m: 0.5,
    },
];

impl RealLand {
    fn measured(&self) -> anyhow::Result<Nature> {
        let read = read_heightfield(self.file, Limits::default()).context(self.title)?;
        let (x, y) = read.cell_m.context("a size of cells")?;
        measured(&read.values, (x * y).sqrt(), self.sea_m)
    }
}

/// Measures a land on cells of `cell_m`; what is below `sea_m` is sea.
pub fn measured(heights: &Grid, cell_m: f64, sea_m: f32) -> anyhow::Result<Nature> {
    nature(heights, cell_m, sea_m, Run::to_the_end()).map_err(|error| anyhow!(error))
}

/// What is measured: its name, how it is read off, and what it is in nature.
type Row = (&'static str, fn(&Nature) -> Option<f64>, &'static str);

const ROWS: [Row; 26] = [
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
        "Side valleys apart, m",
        |n| n.channels.side_valleys.map(|apart| apart.mean_m),
        "depends on the size of basins",
    ),
    (
        "… how unevenly",
        |n| n.channels.side_valleys.map(|apart| apart.spread),
        "1 when by chance, 0 when all alike",
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

/// Prints the measures of a land beside those of real ones.
pub fn print(name: &str, ours: &Nature) -> anyhow::Result<()> {
    let show = |value: Option<f64>| value.map_or("–".to_owned(), |value| format!("{value:.2}"));
    let mut real = Vec::new();
    print!("\n{:32} {name:>14}", "");
    for land in REAL_LANDS {
        print!(" {:>10}", land.title);
        real.push(land.measured()?);
    }
    println!("  in nature");
    for (law, read, nature) in ROWS {
        print!("{law:32} {:>14}", show(read(ours)));
        for real in &real {
            print!(" {:>10}", show(read(real)));
        }
        println!("  {nature}");
    }
    Ok(())
}
