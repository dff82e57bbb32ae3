//! `morphogen convert`.

use std::path::PathBuf;

use anyhow::{Context, anyhow};
use clap::Args;
use deliver::{Field, FieldFormat, ValueRange};
use terrain::{Extent, Frame};

use super::Failure;
use super::model::{LIMITS, Taken};
use super::output::{is_standard, write_file};
use super::range::parse_range;

/// Write a heightfield in another format.
///
/// Heights stay what they are; formats of 16-bit steps round them, and a file beside them says
/// what the steps are. Place and size of the cells are kept where the format has them.
#[derive(Args)]
pub struct Convert {
    #[command(flatten)]
    taken: Taken,
    /// The file to write; - is standard output
    output: PathBuf,
    /// Its format [default: by its ending]: tif, `tif_tiled`, `tif_plain`, exr, `exr_half`,
    /// png16, raw16, asc
    #[arg(long, value_parser = parse_format)]
    to: Option<FieldFormat>,
    /// Between which heights 16-bit steps are spread: fit, whole (a metre a step), or
    /// black:white in metres
    #[arg(long, default_value = "fit", value_parser = parse_range, allow_hyphen_values = true)]
    range: ValueRange,
}

pub fn parse_format(name: &str) -> Result<FieldFormat, String> {
    FieldFormat::named(name).ok_or_else(|| {
        let names = FieldFormat::ALL.map(FieldFormat::name);
        format!("expected one of {}", names.join(", "))
    })
}

impl Convert {
    pub fn run(self) -> Result<(), Failure> {
        let format = self.format().map_err(Failure::Input)?;
        let model = self.taken.read(LIMITS).map_err(Failure::Input)?;
        let cell_m = self.taken.cell_m(model.cell_m).map_err(Failure::Input)?;
        let values = &model.values;
        let extent = Extent {
            width_m: values.cols() as f64 * cell_m,
            depth_m: values.rows() as f64 * cell_m,
        };
        let field = Field {
            values,
            frame: &Frame::covering(extent, cell_m),
            on_earth: model.georeference.as_ref().map(|at| (at, extent)),
        };
        let steps = self.range.of_heights(values.range());
        write_file(&self.output, |out| field.write(out, format, steps))?;
        if format.in_steps() && !is_standard(&self.output) {
            let name = self.output.file_name().unwrap_or_default();
            let said = field.heights_described(&[name.to_string_lossy().into()], format, steps);
            let text = serde_json::to_string_pretty(&said).context("plain data")?;
            write_file(&self.output.with_extension("json"), |out| {
                Ok(out.write_all(text.as_bytes())?)
            })?;
        }
        Ok(())
    }

    fn format(&self) -> anyhow::Result<FieldFormat> {
        if let Some(format) = self.to {
            return Ok(format);
        }
        let ending = self.output.extension().unwrap_or_default();
        FieldFormat::of_ending(&ending.to_string_lossy()).ok_or_else(|| {
            anyhow!(
                "{}: what is to be written? .tif, .exr, .png, .raw or .asc, or say so with --to",
                self.output.display()
            )
        })
    }
}
