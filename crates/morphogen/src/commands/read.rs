//! `morphogen read`.

use std::path::PathBuf;

use anyhow::anyhow;
use clap::{Args, ValueEnum};
use formats::TiffLayout;
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

/// Take a reading of a heightfield.
///
/// What is written depends on the suffix of the output: .tif is a float32 GeoTIFF
/// with the size and place of the cells; hillshade may be a .png as well. Cells must
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
        let heightfield = self.taken.read(LIMITS).map_err(Failure::Input)?;
        let cell_m = self.taken.cell_m(&heightfield).map_err(Failure::Input)?;
        let values = heightfield.values;
        let extent = Extent {
            width_m: values.cols() as f64 * cell_m,
            depth_m: values.rows() as f64 * cell_m,
        };
        let frame = Frame::covering(extent, cell_m);
        let on_earth = heightfield.georeference.as_ref().map(|at| (at, extent));
        if matches!(self.reading, Reading::Hillshade) {
            let sun = Sun {
                bearing_deg: self.bearing,
                altitude_deg: self.altitude,
            };
            let wide = with_apron(&values);
            drop(values);
            let shade = hillshade(&wide, cell_m, sun, 1.0);
            drop(wide);
            write_file(&self.output, |out| match output {
                Output::Png => formats::write_grey8(out, &shade),
                Output::GeoTiff => formats::write_geotiff(
                    out,
                    &shade.map(f32::from),
                    &frame,
                    on_earth,
                    TiffLayout::default(),
                ),
            })?;
        } else {
            let read = self.values(values, cell_m)?;
            write_file(&self.output, |out| {
                formats::write_geotiff(out, &read, &frame, on_earth, TiffLayout::default())
            })?;
        }
        Ok(())
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

    /// The reading of `values`, which are let go as soon as they are not needed.
    fn values(&self, values: Grid, cell_m: f64) -> anyhow::Result<Grid> {
        match self.reading {
            Reading::SkyView => {
                return Ok(sky_seen(&values, 0, SKY_REACH_M, cell_m));
            }
            Reading::Area => {
                let drainage = drain(&values, f32::NEG_INFINITY, Run::to_the_end())?;
                let area = drainage.area_infinity_cells();
                let cells = Grid::from_vec(values.cols(), values.rows(), area)?;
                return Ok(cells.map(|cells| cells * (cell_m * cell_m) as f32));
            }
            _ => {}
        }
        let wide = &with_apron(&values);
        drop(values);
        Ok(match self.reading {
            Reading::Slope => slope_deg(wide, cell_m),
            Reading::SlopeQuadratic => slope_of_quadratic_deg(wide, cell_m),
            Reading::Aspect | Reading::Hillshade => aspect_deg(wide, cell_m),
            Reading::Position => position_index_m(wide),
            Reading::Ruggedness => ruggedness_m(wide),
            Reading::Range => range_of_nine_m(wide),
            Reading::CurvatureProfile => curvature_per_km(wide, cell_m, Bend::Profile),
            Reading::CurvaturePlan => curvature_per_km(wide, cell_m, Bend::Plan),
            Reading::CurvatureMean => curvature_per_km(wide, cell_m, Bend::Mean),
            Reading::SkyView | Reading::Area => unreachable!("taken above"),
        })
    }
}
