//! `morphogen survey`.

use std::path::{Path, PathBuf};

use anyhow::anyhow;
use clap::Args;
use deliver::FieldFormat;
use recipe::Grower;
use recipe::survey::survey;
use terrain::{Frame, Run};

use super::model::{LIMITS, Taken};
use super::{Failure, nature, read_recipe};

/// List likely mistakes in a recipe and in what grows from it.
///
/// With `--geomorphology` the laws that drainage basins obey in nature are
/// measured too, beside those of pieces of real land; of an elevation model these alone.
#[derive(Args)]
pub struct Survey {
    /// The recipe, a JSON file, - is standard input; or an elevation model to be measured
    recipe: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 512, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Measure the laws of drainage basins
    #[arg(long)]
    geomorphology: bool,
    /// What of an elevation model is sea: all below so many metres
    #[arg(long, allow_hyphen_values = true)]
    sea_m: Option<f32>,
    /// Folder with the imported files that the recipe names [default: the recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
}

/// Memory for intermediate results, bytes.
const CACHE: usize = 512 << 20;

impl Survey {
    pub fn run(self) -> Result<(), Failure> {
        if holds_heights(&self.recipe) {
            return self.measure_model();
        }
        if self.sea_m.is_some() {
            let why = "a recipe has its own sea level; --sea-m is for elevation models";
            return Err(Failure::Input(anyhow!(why)));
        }
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
            let ours = nature::measured(&land.heights(), frame.cell_m, sea);
            nature::print(&recipe.name, &ours.map_err(Failure::Other)?).map_err(Failure::Other)?;
        }
        Ok(())
    }

    /// Measures an elevation model as it is.
    fn measure_model(&self) -> Result<(), Failure> {
        let name = self
            .recipe
            .file_stem()
            .unwrap_or_default()
            .to_string_lossy();
        if !self.geomorphology {
            let why = format!(
                "{} is an elevation model: only --geomorphology can be asked of it",
                self.recipe.display()
            );
            return Err(Failure::Input(anyhow!(why)));
        }
        let model = Taken::of(&self.recipe)
            .read(LIMITS)
            .map_err(Failure::Input)?;
        let said = model
            .cell_m
            .ok_or_else(|| Failure::Input(anyhow!("{name} does not say how large a cell is")))?;
        // Cells of a model in degrees are oblong; the laws ask for their area.
        let cell_m = (said.0 * said.1).sqrt();
        let sea_m = self.sea_m.unwrap_or(f32::NEG_INFINITY);
        let measured = nature::measured(&model.values, cell_m, sea_m).map_err(Failure::Other)?;
        nature::print(&name, &measured).map_err(Failure::Other)
    }
}

fn holds_heights(file: &Path) -> bool {
    let ending = file.extension().unwrap_or_default().to_string_lossy();
    FieldFormat::of_ending(&ending).is_some()
}
