//! `morphogen grow`.

use std::collections::HashMap;
use std::path::PathBuf;

use clap::{Args, ValueEnum};
use deliver::{Delivered, Layer, MeshOrder, Order, deliver};
use recipe::view::LedgerSums;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::Run;

use super::{Failure, Growing, read_recipe, threads};
use crate::progress::Bar;

/// Grow a recipe into files.
///
/// Imported heightfields are looked up by name in the folder `--assets`.
#[derive(Args)]
pub struct Grow {
    /// The recipe, a JSON file; - is standard input
    recipe: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 1024, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Cut maps into tiles of so many cells along each side, which meet exactly
    #[arg(long, value_parser = clap::value_parser!(u32).range(16..=16384))]
    tile: Option<u32>,
    /// Folder for the files; made when it is not there
    #[arg(long)]
    out: PathBuf,
    /// What to write, separated by commas: height, height16, slope, weights,
    /// albedo, normal, normal_down, roughness, displacement, occlusion, id,
    /// covers, hillshade, plan, mesh, recipe, and fields that the steps of the land
    /// leave, such as wear, deposit, depth, rock [default: all but mesh]
    #[arg(long, value_delimiter = ',', value_parser = parse_layer)]
    only: Vec<Layer>,
    /// Memory for intermediate results, MiB
    #[arg(long, default_value_t = 1024)]
    cache: usize,
    #[command(flatten)]
    growing: Growing,
    /// Print what came of it as well, for programs
    #[arg(long, value_enum)]
    report: Option<Report>,
}

/// In which form a report is printed.
#[derive(Clone, Copy, ValueEnum)]
enum Report {
    /// The files, and where the ground of each erosion step went
    Json,
}

fn parse_layer(name: &str) -> Result<Layer, String> {
    Layer::named(name).ok_or_else(|| {
        let names: Vec<_> = Layer::known().map(Layer::name).collect();
        format!("expected one of {}", names.join(", "))
    })
}

impl Grow {
    pub fn run(self) -> Result<(), Failure> {
        let (recipe, assets) = read_recipe(&self.recipe, self.growing.assets)?;
        let layers = if self.only.is_empty() {
            Layer::usual(&recipe)
        } else {
            self.only
        };
        let pool = threads(self.growing.threads)?;
        let grower = Grower::within(self.growing.work.budget().of_export(), self.cache << 20);
        let bar = Bar::new(&recipe.name);
        let delivered = pool.install(|| {
            let order = Order {
                recipe: &recipe,
                assets: &assets,
                cells: self.cells as usize,
                tile: self.tile.map(|side| side as usize),
                layers: &layers,
                mesh: MeshOrder::default(),
            };
            let report = |share| bar.set(share);
            deliver(&grower, order, &self.out, &report, Run::to_the_end())
        });
        let delivered = delivered?;
        bar.done();
        match self.report {
            Some(Report::Json) => println!("{:#}", report(&recipe, self.cells, &delivered)),
            None => {
                for file in &delivered.files {
                    println!("{}", file.display());
                }
            }
        }
        Ok(())
    }
}

fn report(recipe: &Recipe, cells: u32, delivered: &Delivered) -> Value {
    let steps = recipe.strands.iter().flat_map(|strand| &strand.steps);
    let names: HashMap<&str, &str> = steps
        .map(|step| (step.id.as_str(), step.name.as_str()))
        .collect();
    let ledgers = delivered.ledgers.iter().map(|(step, ledger)| {
        json!({
            "step": step,
            "name": names.get(step.as_str()),
            "ledger": LedgerSums::from(ledger),
        })
    });
    json!({
        "recipe": recipe.name,
        "cells": cells,
        "files": delivered.files,
        "ledgers": ledgers.collect::<Vec<_>>(),
    })
}
