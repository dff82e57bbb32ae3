//! `morphogen read`.

use std::path::PathBuf;

use anyhow::anyhow;
use clap::{Args, ValueEnum};
use formats::Band;
use terrain::erosion::drain;
use terrain::grid::with_apron;
use terrain::light::{SKY_REACH_M, Sun, sky_seen};
use terrain::picture::hillshade;
use terrain::reading::{
    Bend, aspect_deg, curvature_per_km, position_index_m, range_of_nine_m, ruggedness_m, slope_deg,
    slope_of_quadratic_deg,
};
use terrain::{Extent, Frame, Grid, Run};

use super::Failure;
use super::model::{LIMITS, Taken};
use super::output::{is_standard, write_file};
use super::streamed::{rows_of, streamed};

/// Take a reading of a heightfield.
///
/// What is written depends on the suffix of the output: .tif is a GeoTIFF with the size and
/// place of the cells, of floats, and of bytes for hillshade, which may be a .png as well. Cells must
/// be square. The edge is continued in a straight line.
#[derive(Args)]
pub struct Read {
    /// What to read
    reading: Reading,
    #[command(flatten)]
    taken: Taken,
    /// The file to write; - is standard output, as GeoTIFF
    output: PathBuf,
    /// Bearing of the light for hillshade, degrees
    #[arg(long, default_value_t = 315.0)]
    bearing: f64,
    /// Height of the light for hillshade, degrees
    #[arg(long, default_value_t = 45.0)]
    altitude: f64,
}

#[derive(Clone, Copy, ValueEnum)]
enum Reading {
    /// Steepness, degrees (Horn 1981)
    Slope,
    /// The same from four neighbours (Zevenbergen and Thorne 1987)
    SlopeQuadratic,
    /// Compass bearing that the land faces, -1 where level
    Aspect,
    /// Shaded relief, as PNG
    Hillshade,
    /// Height above the mean of the eight cells around, metres (Weiss 2001)
    Position,
    /// Root of summed squared differences to them, metres (Riley et al. 1999)
    Ruggedness,
    /// The highest less the lowest of nine cells, metres
    Range,
    /// Curvature down the slope, per kilometre, above 0 on crests
    CurvatureProfile,
    /// Curvature along the contour
    CurvaturePlan,
    /// Mean curvature
    CurvatureMean,
    /// Share of the sky seen past land within 2 km, 0 to 1
    SkyView,
    /// Land that drains through each cell, m² (D∞, Tarboton 1997)
    Area,
}

/// What is written.
#[derive(Clone, Copy)]
enum Output {
    GeoTiff,
    Png,
}

impl Read {
    pub fn run(self) -> Result<(), Failure> {
        let output = self.output_kind().map_err(Failure::Input)?;
        let file = self
            .taken
            .file()
            .filter(|_| self.looks_at_neighbours_alone());
        let rows = file.and_then(|file| rows_of(file, LIMITS));
        if let (Output::GeoTiff, Some(rows)) = (output, rows) {
            let cell_m = self.taken.cell_m(rows.cell_m).map_err(Failure::Input)?;
            let band = |wide: &Grid| self.band(wide, cell_m);
            if streamed(rows, (&self.output, cell_m), band)? {
                return Ok(());
            }
        }
        let heightfield = self.taken.read(LIMITS).map_err(Failure::Input)?;
        let cell_m = self.taken.cell_m(heightfield.cell_m);
        let cell_m = cell_m.map_err(Failure::Input)?;
        let values = heightfield.values;
        let (cols, rows) = (values.cols(), values.rows());
        let extent = Extent {
            width_m: cols as f64 * cell_m,
            depth_m: rows as f64 * cell_m,
        };
        let frame = Frame::covering(extent, cell_m);
        let on_earth = heightfield.georeference.as_ref().map(|at| (at, extent));
        let band = match self.looks_at_neighbours_alone() {
            false => Band::Floats(self.of_all(&values, cell_m)?.into_values()),
            true => {
                let wide = with_apron(&values);
                drop(values);
                self.band(&wide, cell_m)
            }
        };
        match (output, band) {
            (Output::Png, Band::Bytes(bytes)) => {
                let shade = Grid::from_vec(cols, rows, bytes).map_err(anyhow::Error::from)?;
                write_file(&self.output, |out| formats::write_grey8(out, &shade))?;
            }
            (_, band) => write_file(&self.output, |out| {
                formats::write_geotiff_bands(out, &frame, on_earth, [band])
            })?,
        }
        Ok(())
    }

    /// Whether a few rows are enough to know it of those between them.
    fn looks_at_neighbours_alone(&self) -> bool {
        !matches!(self.reading, Reading::SkyView | Reading::Area)
    }

    /// What the suffix of the output asks for.
    fn output_kind(&self) -> anyhow::Result<Output> {
        let suffix = self.output.extension().unwrap_or_default();
        let suffix = suffix.to_string_lossy().to_ascii_lowercase();
        if is_standard(&self.output) {
            return Ok(Output::GeoTiff);
        }
        match (suffix.as_str(), self.reading) {
            ("tif" | "tiff", _) => Ok(Output::GeoTiff),
            ("png", Reading::Hillshade) => Ok(Output::Png),
            ("png", _) => Err(anyhow!(
                "{}: a PNG cannot hold the values of this reading; write a .tif",
                self.output.display()
            )),
            _ => Err(anyhow!(
                "{}: what is to be written? .tif is a GeoTIFF, and hillshade may be a .png",
                self.output.display()
            )),
        }
    }

    /// A reading for which all of the land is looked at.
    fn of_all(&self, values: &Grid, cell_m: f64) -> anyhow::Result<Grid> {
        if matches!(self.reading, Reading::SkyView) {
            return Ok(sky_seen(values, 0, SKY_REACH_M, cell_m));
        }
        let drainage = drain(values, f32::NEG_INFINITY, Run::to_the_end())?;
        let area = drainage.area_infinity_cells();
        let cells = Grid::from_vec(values.cols(), values.rows(), area)?;
        Ok(cells.map(|cells| cells * (cell_m * cell_m) as f32))
    }

    /// The reading of land that has one more cell on every side.
    fn band(&self, wide: &Grid, cell_m: f64) -> Band {
        let sun = Sun {
            bearing_deg: self.bearing,
            altitude_deg: self.altitude,
        };
        let values = match self.reading {
            Reading::Hillshade => {
                return Band::Bytes(hillshade(wide, cell_m, sun, 1.0).into_values());
            }
            Reading::Slope => slope_deg(wide, cell_m),
            Reading::SlopeQuadratic => slope_of_quadratic_deg(wide, cell_m),
            Reading::Aspect => aspect_deg(wide, cell_m),
            Reading::Position => position_index_m(wide),
            Reading::Ruggedness => ruggedness_m(wide),
            Reading::Range => range_of_nine_m(wide),
            Reading::CurvatureProfile => curvature_per_km(wide, cell_m, Bend::Profile),
            Reading::CurvaturePlan => curvature_per_km(wide, cell_m, Bend::Plan),
            Reading::CurvatureMean => curvature_per_km(wide, cell_m, Bend::Mean),
            Reading::SkyView | Reading::Area => unreachable!("of all of the land"),
        };
        Band::Floats(values.into_values())
    }
}
