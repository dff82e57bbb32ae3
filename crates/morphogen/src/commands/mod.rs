//! The subcommands, one file each.

mod convert;
mod diff;
mod explain;
mod grow;
mod materials;
mod mesh;
mod model;
mod nature;
mod output;
mod range;
mod read;
mod reference;
mod schema;
mod serve;
mod shell;
mod streamed;
mod survey;

use std::path::{Path, PathBuf};

use anyhow::Context;
use clap::{Args, Subcommand};
use deliver::DeliverError;
use recipe::grow::Budget;
use recipe::{GrowError, Recipe};

use crate::local_assets::LocalAssets;

/// Why a command failed, and so its exit code.
pub enum Failure {
    /// What was given is not right: 2.
    Input(anyhow::Error),
    /// Something went wrong on the way: 1.
    Other(anyhow::Error),
}

impl From<anyhow::Error> for Failure {
    fn from(error: anyhow::Error) -> Self {
        Self::Other(error)
    }
}

impl From<DeliverError> for Failure {
    fn from(error: DeliverError) -> Self {
        match error {
            DeliverError::Order(_)
            | DeliverError::Grow(GrowError::MissingAsset { .. } | GrowError::TooCostly(_)) => {
                Self::Input(error.into())
            }
            other => Self::Other(other.into()),
        }
    }
}

/// What all that grows into files takes.
#[derive(Args)]
struct Growing {
    /// Folder with the imported files that the recipe names [default: the recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
    #[command(flatten)]
    work: WorkLimit,
    /// Threads [default: one for each processor]
    #[arg(long)]
    threads: Option<usize>,
}

/// What a piece of work may take.
#[derive(Args)]
struct WorkLimit {
    /// Most memory that one step may take while somebody waits, MiB; an export takes
    /// up to three times as much [default: a quarter of the machine's]
    #[arg(long)]
    work_memory: Option<u64>,
    /// Most time that growing may take, about, minutes of this machine's
    #[arg(long, default_value_t = 60)]
    work_minutes: u32,
}

impl WorkLimit {
    fn budget(&self) -> Budget {
        let mut machine = sysinfo::System::new();
        machine.refresh_memory();
        let quarter = (machine.total_memory() / 4).max(1 << 30);
        Budget {
            bytes: self.work_memory.map_or(quarter, |mib| mib << 20) as f64,
            work: Budget::USUAL_WORK * f64::from(self.work_minutes) / 60.0,
        }
    }
}

/// Threads to grow on; none means one for each processor.
fn threads(count: Option<usize>) -> anyhow::Result<rayon::ThreadPool> {
    /// Strands and masks take in one another many levels deep.
    const STACK_BYTES: usize = 64 << 20;
    rayon::ThreadPoolBuilder::new()
        .num_threads(count.unwrap_or(0))
        .stack_size(STACK_BYTES)
        .build()
        .context("cannot start threads")
}

/// Reads a recipe, from standard input when it is called -, and the imported files that it
/// names, from `folder` or from
/// the recipe's own.
fn read_recipe(file: &Path, folder: Option<PathBuf>) -> Result<(Recipe, LocalAssets), Failure> {
    let name = file.display().to_string();
    let text = match file.to_str() {
        Some("-") => std::io::read_to_string(std::io::stdin()),
        _ => std::fs::read_to_string(file),
    };
    let text = text
        .with_context(|| format!("cannot read {name}"))
        .map_err(Failure::Input)?;
    let recipe = Recipe::from_json(&text)
        .context(name)
        .map_err(Failure::Input)?;
    let own = || file.parent().map(PathBuf::from).unwrap_or_default();
    let assets = LocalAssets::load(&recipe, &folder.unwrap_or_else(own)).map_err(Failure::Input)?;
    Ok((recipe, assets))
}

#[derive(Subcommand)]
pub enum Command {
    /// Grow a recipe into files
    Grow(grow::Grow),
    /// Write the materials that ship as tiling textures
    Materials(materials::Materials),
    /// Write a recipe's land as triangles: reduced, closed, in levels or tiles
    Mesh(mesh::Mesh),
    /// Say what changed from one recipe to another, and where the land differs
    Diff(diff::Diff),
    /// Explain one place: what each step did there, and why its ground
    Explain(explain::Explain),
    /// Write a heightfield in another format
    Convert(convert::Convert),
    /// Take a reading of a heightfield: slope, aspect or hillshade
    Read(read::Read),
    /// Write the reference of all kinds of step, with a picture of each
    Reference(reference::Reference),
    /// Print the JSON Schema of recipes
    Schema(schema::Schema),
    /// List likely mistakes, and measure the laws of drainage basins
    Survey(survey::Survey),
    /// Open the studio: a web service on this machine
    Serve(serve::Serve),
    /// Print what a shell needs to complete options
    Completions(shell::Completions),
    /// Write manual pages
    Man(shell::Man),
}

impl Command {
    pub fn run(self) -> Result<(), Failure> {
        match self {
            Command::Grow(grow) => grow.run(),
            Command::Materials(materials) => materials.run(),
            Command::Explain(explain) => explain.run(),
            Command::Completions(completions) => completions.run(),
            Command::Convert(convert) => convert.run(),
            Command::Diff(diff) => diff.run(),
            Command::Man(man) => man.run(),
            Command::Mesh(mesh) => mesh.run(),
            Command::Read(read) => read.run(),
            Command::Reference(reference) => reference.run(),
            Command::Schema(schema) => schema.run(),
            Command::Serve(serve) => serve.run(),
            Command::Survey(survey) => survey.run(),
        }
    }
}
