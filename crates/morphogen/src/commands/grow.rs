//! `morphogen grow`.

use std::collections::HashMap;
use std::fs;
use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow};
use clap::{Args, ValueEnum};
use deliver::{
    ColourFormat, Delivered, FieldFormat, Layer, Order, Packed, Target, ValueRange, Wish, check,
    deliver,
};
use recipe::view::LedgerSums;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::Run;

use super::convert::parse_format;
use super::output::{is_standard, send_file};
use super::range::parse_range;
use super::{Failure, Growing, read_recipe, threads};
use crate::progress::Bar;

/// Grow a recipe into files.
///
/// Imported heightfields are looked up by name in the folder `--assets`. A list of all files
/// with their hashes, sizes, units and ranges is written beside them, manifest.json.
#[derive(Args)]
pub struct Grow {
    /// The recipe, a JSON file; - is standard input
    recipe: PathBuf,
    /// Begin with what another program takes, and hold what is ordered against it: web-page,
    /// handheld-game, game-engine-terrain, film-renderer, printer, map, or a JSON file of
    /// one's own
    #[arg(long)]
    target: Option<String>,
    /// Only say what the target would not take; nothing is written
    #[arg(long)]
    check: bool,
    /// Cells along the longer side of the land [default: the target's, or 1024]
    #[arg(long, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: Option<u32>,
    /// Cut maps into tiles of so many cells along each side, which meet exactly
    #[arg(long, value_parser = clap::value_parser!(u32).range(16..=16384))]
    tile: Option<u32>,
    /// Folder for the files, made when it is not there; - sends the one file that was ordered
    /// to standard output
    #[arg(long, required_unless_present = "check")]
    out: Option<PathBuf>,
    /// What to write, separated by commas: height, height16, slope, weights,
    /// albedo, normal, normal_down, roughness, displacement, occlusion, id,
    /// covers, hillshade, plan, mesh, recipe, fields that the steps of the land
    /// leave, such as wear, deposit, depth, rock, and masks, as mask:NAME
    /// [default: the target's, or all but mesh and masks]
    #[arg(long, value_delimiter = ',', value_parser = parse_layer)]
    only: Vec<Layer>,
    /// In which format heights, slope, fields and masks are written: tif, `tif_tiled`,
    /// `tif_plain`, exr, `exr_half`, png16, raw16, asc
    #[arg(long, value_parser = parse_format)]
    fields: Option<FieldFormat>,
    /// Between which heights 16-bit steps are spread: fit, whole (a unit a step), or
    /// black:white in metres
    #[arg(long, value_parser = parse_range, allow_hyphen_values = true)]
    range: Option<ValueRange>,
    /// In which format colour without light is written: png, `exr_half`, exr
    #[arg(long, value_parser = parse_colour)]
    colour: Option<ColourFormat>,
    /// A picture with a map in each channel, as NAME=occlusion,roughness,none; also
    /// displacement, height, slope, fields, mask:NAME and cover:NAME; may be said again
    #[arg(long, value_parser = parse_packed)]
    pack: Vec<Packed>,
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
        let names: Vec<_> = Layer::known()
            .map(|layer| layer.name().into_owned())
            .collect();
        format!("expected mask: and a name, or one of {}", names.join(", "))
    })
}

fn parse_colour(name: &str) -> Result<ColourFormat, String> {
    let mut all = ColourFormat::ALL.into_iter();
    all.find(|format| format.name() == name).ok_or_else(|| {
        let names = ColourFormat::ALL.map(ColourFormat::name);
        format!("expected one of {}", names.join(", "))
    })
}

fn parse_packed(text: &str) -> Result<Packed, String> {
    let (name, channels) = text
        .split_once('=')
        .ok_or("expected NAME=red,green,blue or with alpha as the fourth")?;
    let channels = channels.split(',').map(|channel| match channel {
        "none" => None,
        channel => Some(channel.to_owned()),
    });
    Ok(Packed {
        name: name.to_owned(),
        channels: channels.collect(),
    })
}

/// The target of that name, or in that file.
fn read_target(name: &str) -> anyhow::Result<Target> {
    let mut shipped = Target::shipped();
    if let Some(at) = shipped.iter().position(|target| target.key() == name) {
        return Ok(shipped.swap_remove(at));
    }
    let text = fs::read_to_string(name).with_context(|| {
        let known: Vec<String> = shipped.iter().map(Target::key).collect();
        format!("{name} is neither a file nor one of {}", known.join(", "))
    })?;
    Target::from_json(&text).map_err(|why| anyhow!("{name}: {why}"))
}

impl Grow {
    pub fn run(self) -> Result<(), Failure> {
        let (recipe, assets) = read_recipe(&self.recipe, self.growing.assets.clone())?;
        let target = self.target.as_deref().map(read_target);
        let target = target.transpose().map_err(Failure::Input)?;
        let wish = self.wish(target.as_ref());
        let pool = threads(self.growing.threads)?;
        let grower = Grower::within(self.growing.work.budget().of_export(), self.cache << 20);
        if self.check || target.is_some() {
            let bounds = target.map(|target| target.bounds).unwrap_or_default();
            let land = (&recipe, &assets as &dyn recipe::Assets);
            let checked = pool.install(|| check(&grower, land, &wish, &bounds, Run::to_the_end()));
            let checked = checked.map_err(|error| Failure::Input(anyhow!(error)))?;
            if self.check {
                println!("{:#}", json!(checked));
                return Ok(());
            }
            for found in &checked.findings {
                let offer = found.fix.as_ref();
                let offer = offer.map_or(String::new(), |fix| format!(" [{}]", fix.label));
                eprintln!("{}: {}{offer}", found.rule, found.finding);
            }
        }
        let order = Order::of(&wish, &recipe).map_err(|why| Failure::Input(anyhow!(why)))?;
        let out = self.out.as_deref().unwrap_or(Path::new("."));
        let bar = Bar::new(&recipe.name);
        let into = |dir: &Path| {
            let report = |share| bar.set(share);
            let land = (&recipe, &assets as &dyn recipe::Assets);
            pool.install(|| deliver(&grower, land, &order, dir, &report, Run::to_the_end()))
        };
        if is_standard(out) {
            let name = order.only_file(&recipe);
            let name = name.map_err(|why| Failure::Input(anyhow!("--out -: {why}")))?;
            let dir = tempfile::tempdir().context("a folder for the file")?;
            into(dir.path())?;
            bar.done();
            return Ok(send_file(dir.path(), &name)?);
        }
        let delivered = into(out)?;
        bar.done();
        match self.report {
            Some(Report::Json) => println!("{:#}", report(&recipe, wish.cells, &delivered)),
            None => {
                for file in &delivered.files {
                    println!("{}", file.display());
                }
            }
        }
        Ok(())
    }

    /// What the target begins with, and what is said here instead.
    fn wish(&self, target: Option<&Target>) -> Wish {
        let begun = target.map(|target| target.wish.clone()).unwrap_or_default();
        let said = |layers: &[Layer]| {
            layers
                .iter()
                .map(|layer| layer.name().into_owned())
                .collect()
        };
        Wish {
            cells: self.cells.map_or(begun.cells, |cells| cells as usize),
            tile: self.tile.map(|side| side as usize).or(begun.tile),
            layers: match self.only.as_slice() {
                // A picture that is packed is all that is wanted, when nothing else is said.
                [] if !self.pack.is_empty() && target.is_none() => Vec::new(),
                [] => begun.layers,
                only => said(only),
            },
            fields: self.fields.unwrap_or(begun.fields),
            range: self.range.unwrap_or(begun.range),
            colour: self.colour.unwrap_or(begun.colour),
            packed: match self.pack.as_slice() {
                [] if self.only.is_empty() => begun.packed,
                pack => pack.to_vec(),
            },
            mesh: begun.mesh,
        }
    }
}

fn report(recipe: &Recipe, cells: usize, delivered: &Delivered) -> Value {
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
