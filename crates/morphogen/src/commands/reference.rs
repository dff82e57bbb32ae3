//! `morphogen reference`.

use std::fs::{self, File};
use std::io::BufWriter;
use std::path::PathBuf;

use anyhow::Context;
use clap::Args;
use recipe::grow::NoAssets;
use recipe::steps::{example, kind_sheets};
use recipe::view::{View, picture};
use recipe::{Grower, reference_page};
use terrain::Run;

use super::Failure;

/// Write the reference of all kinds of step, with a picture of each.
#[derive(Args)]
pub struct Reference {
    /// Folder for the page and its pictures; made when it is not there
    #[arg(long)]
    out: PathBuf,
}

/// Cells along the longer side of a picture.
const CELLS: usize = 192;

impl Reference {
    pub fn run(self) -> Result<(), Failure> {
        fs::create_dir_all(&self.out).context("cannot make the folder")?;
        fs::write(self.out.join("README.md"), reference_page()).context("cannot write the page")?;
        /// Memory for intermediate results, bytes.
        const CACHE: usize = 256 << 20;
        for sheet in kind_sheets() {
            let Some(recipe) = example(sheet.kind) else {
                continue;
            };
            let grower = Grower::new(CACHE);
            let run = Run::to_the_end();
            let shown = picture(&grower, &recipe, &NoAssets, &View::of_land(CELLS), run)
                .with_context(|| format!("the example of {} does not grow", sheet.kind))?;
            let file = self.out.join(format!("{}.png", sheet.kind));
            let out = BufWriter::new(File::create(&file).context("cannot write a picture")?);
            formats::write_rgb8(out, &shown.colour).context("cannot write a picture")?;
        }
        Ok(())
    }
}
