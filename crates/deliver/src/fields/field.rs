//! A field — heights, slope, what a step has left, a mask — in any of the formats for maps.

use std::io::{Seek, Write};

use formats::{
    ExrFloats, Steps, TiffLayout, WriteError, write_ascii_grid, write_exr, write_geotiff,
    write_grey16, write_raw16,
};
use serde_json::{Value, json};
use terrain::grid::Georeference;
use terrain::{Extent, Frame, Grid};

use super::FieldFormat;

/// A field and where it lies.
#[derive(Clone, Copy)]
pub struct Field<'a> {
    /// Its values.
    pub values: &'a Grid,
    /// Which cells they are of.
    pub frame: &'a Frame,
    /// Where on earth a land of this extent lies, if that is known.
    pub on_earth: Option<(&'a Georeference, Extent)>,
}

impl Field<'_> {
    /// Writes it; `steps` are what a format that holds steps means by them.
    ///
    /// # Errors
    /// [`WriteError`].
    pub fn write(
        &self,
        out: impl Write + Seek,
        format: FieldFormat,
        steps: Steps,
    ) -> Result<(), WriteError> {
        let Self {
            values,
            frame,
            on_earth,
        } = *self;
        let tiff = |packed, tiled| TiffLayout {
            packed,
            tiled,
            big: false,
        };
        match format {
            FieldFormat::Tif => write_geotiff(out, values, frame, on_earth, tiff(true, false)),
            FieldFormat::TifTiled => write_geotiff(out, values, frame, on_earth, tiff(true, true)),
            FieldFormat::TifPlain => {
                write_geotiff(out, values, frame, on_earth, tiff(false, false))
            }
            FieldFormat::Exr => write_exr(out, values, frame.cell_m, ExrFloats::Whole),
            FieldFormat::ExrHalf => write_exr(out, values, frame.cell_m, ExrFloats::Half),
            FieldFormat::Png16 => write_grey16(out, &steps.taken(values)),
            FieldFormat::Raw16 => write_raw16(out, &steps.taken(values)),
            FieldFormat::Asc => write_ascii_grid(out, values, frame),
        }
    }

    /// What stands beside heights in steps.
    pub fn heights_described(&self, files: &[String], format: FieldFormat, steps: Steps) -> Value {
        self.described(files, format, steps, ("black_m", "white_m", "m"))
    }

    /// What stands beside steps: their files, and by what names and in what unit black and
    /// white are said.
    pub(super) fn described(
        &self,
        files: &[String],
        format: FieldFormat,
        steps: Steps,
        (black, white, unit): (&str, &str, &str),
    ) -> Value {
        let bytes = match format {
            FieldFormat::Raw16 => "; unsigned 16 bits, the lower byte first, rows from the north",
            _ => "",
        };
        json!({
            "file": match files {
                [one] => json!(one),
                many => json!(many),
            },
            black: steps.black,
            white: steps.white,
            "unit": unit,
            "cell_m": self.frame.cell_m,
            "cols": self.frame.cols,
            "rows": self.frame.rows,
            "cut_off_cells": steps.beyond(self.values),
            "note": format!(
                "value = {black} + step / 65535 * ({white} - {black}); linear, no gamma{bytes}"
            ),
        })
    }
}
