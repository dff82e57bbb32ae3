//! `morphogen grow`.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use clap::Args;
use deliver::{DeliverError, Layer, Order, deliver};
use recipe::{GrowError, Grower};
use terrain::Run;

use super::{Failure, read_recipe};
use crate::progress::Bar;

/// Grow a recipe into files.
///
/// Imported heightfields are looked up by name in the folder `--assets`.
#[derive(Args)]
pub struct Grow {
    /// The recipe, a JSON file
    recipe: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 1024, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Folder for the files; made when it is not there
    #[arg(long)]
    out: PathBuf,
    /// What to write, separated by commas: height, height16, slope, weights,
    /// albedo, normal, hillshade, plan, recipe [default: all]
    #[arg(long, value_delimiter = ',', value_parser = parse_layer)]
    only: Vec<Layer>,
    /// Folder with the imported files that the recipe names [default: the recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
    /// Memory for intermediate results, MiB
    #[arg(long, default_value_t = 1024)]
    cache: usize,
    /// Threads [default: one for each processor]
    #[arg(long)]
    threads: Option<usize>,
}

fn parse_layer(name: &str) -> Result<Layer, String> {
    Layer::named(name).ok_or_else(|| {
        let names: Vec<_> = Layer::ALL.iter().map(|layer| layer.name()).collect();
        format!("expected one of {}", names.join(", "))
    })
}

impl Grow {
    pub fn run(self) -> Result<(), Failure> {
        let (recipe, assets) = read_recipe(&self.recipe, self.assets)?;
        let layers = if self.only.is_empty() {
            Layer::ALL.to_vec()
        } else {
            self.only
        };
        let threads = self.threads.unwrap_or(0);
        let pool = rayon::ThreadPoolBuilder::new()
            .num_threads(threads)
            .build()
            .context("cannot start threads")?;
        let grower = Grower::new(self.cache << 20);
        let bar = Bar::new(&recipe.name);
        let files = pool.install(|| {
            let order = Order {
                recipe: &recipe,
                assets: &assets,
                cells: self.cells as usize,
                layers: &layers,
            };
            let report = |share| bar.set(share);
            deliver(&grower, order, &self.out, &report, Run::to_the_end())
        });
        let files = files.map_err(|error| match error {
            DeliverError::Grow(GrowError::MissingAsset { .. }) => Failure::Input(anyhow!(error)),
            other => Failure::Other(anyhow!(other)),
        })?;
        bar.done();
        for file in files {
            println!("{}", file.display());
        }
        Ok(())
    }
}
