//! `morphogen read`.

use std::fs::{self, File};
use std::io::BufWriter;
use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow};
use clap::{Args, ValueEnum};
use formats::{Heightfield, Limits, WriteError, read_heightfield};
use terrain::grid::with_apron;
use terrain::picture::{Sun, hillshade};
use terrain::reading::{aspect_deg, slope_deg};
use terrain::{Extent, Frame};

use super::Failure;

/// Take a reading of a heightfield.
///
/// Slope (degrees, Horn 1981) and aspect (compass bearing that the land
/// faces, -1 where level) are written as float32 GeoTIFF, hillshade as PNG.
/// Cells must be square. The edge is continued in a straight line.
#[derive(Args)]
pub struct Read {
    /// What to read
    reading: Reading,
    /// The heightfield: GeoTIFF, PNG or ESRI ASCII grid
    input: PathBuf,
    /// The file to write
    output: PathBuf,
    /// Side of a cell in metres, for files that do not say
    #[arg(long)]
    cell: Option<f64>,
    /// Bearing of the light for hillshade, degrees
    #[arg(long, default_value_t = 315.0)]
    bearing: f64,
    /// Height of the light for hillshade, degrees
    #[arg(long, default_value_t = 45.0)]
    altitude: f64,
}

#[derive(Clone, Copy, ValueEnum)]
enum Reading {
    Slope,
    Aspect,
    Hillshade,
}

/// The most cells of a file that this command takes: 16k × 16k.
const LIMITS: Limits = Limits {
    cells: 16_384 * 16_384,
};

impl Read {
    pub fn run(self) -> Result<(), Failure> {
        let bytes = fs::read(&self.input)
            .with_context(|| format!("cannot read {}", self.input.display()))
            .map_err(Failure::Input)?;
        let heightfield = read_heightfield(&bytes, LIMITS)
            .with_context(|| self.input.display().to_string())
            .map_err(Failure::Input)?;
        let cell_m = self.cell_m(&heightfield).map_err(Failure::Input)?;
        let values = &heightfield.values;
        let frame = Frame::covering(
            Extent {
                width_m: values.cols() as f64 * cell_m,
                depth_m: values.rows() as f64 * cell_m,
            },
            cell_m,
        );
        let wide = with_apron(values);
        write(&self.output, |out| match self.reading {
            Reading::Slope => formats::write_geotiff(out, &slope_deg(&wide, cell_m), &frame),
            Reading::Aspect => formats::write_geotiff(out, &aspect_deg(&wide, cell_m), &frame),
            Reading::Hillshade => {
                let sun = Sun {
                    bearing_deg: self.bearing,
                    altitude_deg: self.altitude,
                };
                formats::write_grey8(out, &hillshade(&wide, cell_m, sun, 1.0))
            }
        })?;
        Ok(())
    }

    fn cell_m(&self, heightfield: &Heightfield) -> anyhow::Result<f64> {
        match (self.cell, heightfield.cell_m) {
            (Some(cell_m), _) if cell_m.is_finite() && cell_m > 0.0 => Ok(cell_m),
            (Some(cell_m), _) => Err(anyhow!("--cell is {cell_m}, it must be above 0")),
            (None, Some((x, y))) if (x / y - 1.0).abs() < 1e-6 => Ok(x),
            (None, Some((x, y))) => Err(anyhow!(
                "cells are {x:.3} m × {y:.3} m, not square; say which side to take with --cell"
            )),
            (None, None) => Err(anyhow!(
                "the file does not say how large a cell is; use --cell"
            )),
        }
    }
}

/// The file appears under its name once it is complete.
fn write(
    path: &Path,
    fill: impl FnOnce(&mut BufWriter<File>) -> Result<(), WriteError>,
) -> anyhow::Result<()> {
    let partial = path.with_extension("partial");
    let file = File::create(&partial).with_context(|| path.display().to_string())?;
    let mut out = BufWriter::new(file);
    let written = fill(&mut out)
        .map_err(anyhow::Error::from)
        .and_then(|()| Ok(out.into_inner().map(drop)?))
        .and_then(|()| Ok(fs::rename(&partial, path)?));
    written
        .with_context(|| path.display().to_string())
        .inspect_err(|_| {
            let _ = fs::remove_file(&partial);
        })
}
