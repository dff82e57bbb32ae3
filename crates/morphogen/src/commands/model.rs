//! A model of heights from a file, in metres.

use std::fs;
use std::io::{self, Read};
use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow, ensure};
use clap::Args;
use formats::{Heightfield, Limits, Units, is_raw16, read_heightfield, read_raw16};
use serde_json::Value;

use super::output::is_standard;

/// The most cells of a file that a command takes: 16k × 16k.
pub const LIMITS: Limits = Limits {
    cells: 16_384 * 16_384,
};

/// A heightfield that a command takes.
#[derive(Args)]
pub struct Taken {
    /// The heightfield: GeoTIFF, OpenEXR, ESRI ASCII grid, or a PNG or raw steps with the file
    /// beside them that says what they are; - is standard input
    input: PathBuf,
    /// What black is in a picture, metres, when no file beside it says so
    #[arg(long, requires = "white_m", allow_hyphen_values = true)]
    black_m: Option<f64>,
    /// What white is in a picture, metres
    #[arg(long, requires = "black_m", allow_hyphen_values = true)]
    white_m: Option<f64>,
    /// Side of a cell in metres, for files that do not say
    #[arg(long)]
    cell: Option<f64>,
}

/// What black and white of a picture are, metres.
#[derive(Clone, Copy)]
struct Range {
    black_m: f64,
    white_m: f64,
}

/// What a file beside steps says of them.
struct Beside {
    range: Range,
    cell_m: Option<f64>,
    size: Option<(usize, usize)>,
}

impl Taken {
    /// A file that says itself what it holds.
    pub fn of(file: &Path) -> Self {
        Self {
            input: file.to_owned(),
            black_m: None,
            white_m: None,
            cell: None,
        }
    }

    /// Reads it, in metres. A picture holds steps from black to white: they become metres by
    /// what is said, or by the file beside it, as `morphogen grow` writes it.
    pub fn read(&self, limits: Limits) -> anyhow::Result<Heightfield> {
        let name = self.input.display();
        let bytes = match is_standard(&self.input) {
            true => {
                let mut bytes = Vec::new();
                io::stdin().lock().read_to_end(&mut bytes).map(|_| bytes)
            }
            false => fs::read(&self.input),
        };
        let bytes = bytes.with_context(|| format!("cannot read {name}"))?;
        let beside = beside(&self.input)?;
        let read = match is_raw16(&self.input.to_string_lossy()) {
            false => read_heightfield(&bytes, limits),
            true => {
                let size = beside.as_ref().and_then(|beside| beside.size);
                let size = size.ok_or_else(|| {
                    let side = self.input.with_extension("json");
                    anyhow!(
                        "{name} does not say how many steps are in a row; lay the file beside \
                         it that says so ({})",
                        side.display()
                    )
                })?;
                read_raw16(&bytes, size, limits)
            }
        };
        let mut model = read.with_context(|| name.to_string())?;
        let range = self.black_m.zip(self.white_m);
        let range = range.map(|(black_m, white_m)| Range { black_m, white_m });
        let Units::Steps { white } = model.units else {
            ensure!(
                range.is_none(),
                "{name} holds metres; --black-m and --white-m are for pictures"
            );
            return Ok(model);
        };
        let found = beside.as_ref().map(|beside| beside.range);
        let range = range.or(found).ok_or_else(|| {
            anyhow!(
                "{name} holds steps from 0 to {white}, not metres; lay the file beside it that says \
                 what they are ({}), or say so with --black-m and --white-m",
                self.input.with_extension("json").display()
            )
        })?;
        let Range { black_m, white_m } = range;
        let sound = black_m.is_finite() && white_m.is_finite() && white_m != black_m;
        ensure!(
            sound,
            "{name}: black is {black_m} m and white {white_m} m: no range of heights"
        );
        let step_m = (white_m - black_m) / f64::from(white);
        // In place: a large picture takes no more memory than its values.
        for value in model.values.values_mut() {
            *value = (black_m + f64::from(*value) * step_m) as f32;
        }
        model.units = Units::Metres;
        let cell_m = beside.and_then(|beside| beside.cell_m);
        model.cell_m = model.cell_m.or(cell_m.map(|cell_m| (cell_m, cell_m)));
        Ok(model)
    }

    /// The file, when it is one and holds metres as far as is said.
    pub fn file(&self) -> Option<&Path> {
        let plain = self.black_m.is_none() && !is_standard(&self.input);
        plain.then_some(self.input.as_path())
    }

    /// The side of its cells, metres, where the file says so much of them.
    pub fn cell_m(&self, said: Option<(f64, f64)>) -> anyhow::Result<f64> {
        match (self.cell, said) {
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

/// What stands beside a picture, if it does.
fn beside(file: &Path) -> anyhow::Result<Option<Beside>> {
    for side in sides(file) {
        let Ok(text) = fs::read_to_string(&side) else {
            continue;
        };
        let name = side.display();
        let said: Value = serde_json::from_str(&text).with_context(|| name.to_string())?;
        let number = |key: &str| said[key].as_f64();
        let (Some(black_m), Some(white_m)) = (number("black_m"), number("white_m")) else {
            continue;
        };
        let count = |key: &str| {
            said[key]
                .as_u64()
                .and_then(|count| usize::try_from(count).ok())
        };
        return Ok(Some(Beside {
            range: Range { black_m, white_m },
            cell_m: number("cell_m"),
            size: count("cols").zip(count("rows")),
        }));
    }
    Ok(None)
}

/// Where such a file may stand: by the picture's own name, and for a tile by that of the
/// whole.
fn sides(file: &Path) -> Vec<PathBuf> {
    let mut sides = vec![file.with_extension("json")];
    let stem = file.file_stem().unwrap_or_default().to_string_lossy();
    if let Some((whole, _)) = stem.rsplit_once("-x") {
        sides.push(file.with_file_name(format!("{whole}.json")));
    }
    sides
}
