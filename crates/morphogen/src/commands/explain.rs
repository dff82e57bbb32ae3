//! `morphogen explain`.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use clap::Args;
use recipe::Grower;
use recipe::view::{CoreSample, core_sample};
use terrain::Run;

use super::{Failure, read_recipe};

/// Explain one place: what each step did there, and why its ground.
///
/// Prints a log from the newest step down to the oldest, as a drill would
/// bring it up.
#[derive(Args)]
pub struct Explain {
    /// The recipe, a JSON file; - is standard input
    recipe: PathBuf,
    /// The place: metres east of the west edge, metres north of the south edge
    #[arg(long, value_name = "X,Y", value_parser = parse_place)]
    at: (f64, f64),
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 512, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Print JSON instead
    #[arg(long)]
    json: bool,
    /// Folder with the imported files that the recipe names [default: the recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
}

fn parse_place(text: &str) -> Result<(f64, f64), String> {
    let read = |part: &str| part.trim().parse::<f64>().ok().filter(|v| v.is_finite());
    let pair = text.split_once(',').map(|(x, y)| (read(x), read(y)));
    match pair {
        Some((Some(x), Some(y))) => Ok((x, y)),
        _ => Err("expected two numbers with a comma between, such as 2500,1800".to_owned()),
    }
}

impl Explain {
    pub fn run(self) -> Result<(), Failure> {
        let (recipe, assets) = read_recipe(&self.recipe, self.assets)?;
        /// Memory for intermediate results, bytes.
        const CACHE: usize = 512 << 20;
        let grower = Grower::new(CACHE);
        let cells = self.cells as usize;
        let sample = core_sample(&grower, &recipe, &assets, cells, self.at, Run::to_the_end())
            .map_err(|error| Failure::Input(anyhow!(error)))?;
        let sample = sample.ok_or_else(|| {
            let extent = recipe.extent;
            Failure::Input(anyhow!(
                "the land is {} m by {} m; {}, {} is not on it",
                extent.width_m,
                extent.depth_m,
                self.at.0,
                self.at.1
            ))
        })?;
        match self.json {
            true => println!("{}", serde_json::to_string_pretty(&sample).context("JSON")?),
            false => print(&sample),
        }
        Ok(())
    }
}

fn print(sample: &CoreSample) {
    println!(
        "{:.0} m E, {:.0} m N: {:.1} m high, slope {:.1}°",
        sample.x_m, sample.y_m, sample.height_m, sample.slope_deg
    );
    let longest = sample.steps.iter().map(|s| s.name.chars().count()).max();
    let width = longest.unwrap_or(0);
    for step in sample.steps.iter().rev() {
        let mut line = format!(
            "  {:width$}  {:+9.2} m  to {:8.1} m",
            step.name, step.change_m, step.height_m
        );
        if !step.on {
            line += "  (off)";
        }
        if let Some(mask) = step.mask {
            line += &format!("  mask {:.0} %", 100.0 * mask);
        }
        for trace in &step.traces {
            line += &format!("  {} {:.2}", trace.trace, trace.value);
        }
        println!("{line}");
    }
    for ground in sample.ground.iter().rev().filter(|g| g.weight > 0.005) {
        println!(
            "  {:.0} % {} (mask {:.0} %)",
            100.0 * ground.weight,
            ground.name,
            100.0 * ground.mask
        );
    }
}
