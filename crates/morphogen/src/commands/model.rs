//! A model of heights from a file, in metres.

use std::fs;
use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow, ensure};
use formats::{Heightfield, Limits, Units, read_heightfield};
use serde_json::Value;

/// What black and white of a picture are, metres.
#[derive(Clone, Copy)]
pub struct Range {
    pub black_m: f64,
    pub white_m: f64,
}

/// Reads a model. A picture holds steps from black to white: they become metres by `range`,
/// or by the file beside it that says what they are, as `morphogen grow` writes it.
pub fn read_model(
    file: &Path,
    limits: Limits,
    range: Option<Range>,
) -> anyhow::Result<Heightfield> {
    let name = file.display();
    let bytes = fs::read(file).with_context(|| format!("cannot read {name}"))?;
    let mut model = read_heightfield(&bytes, limits).with_context(|| name.to_string())?;
    let Units::Steps { white } = model.units else {
        ensure!(
            range.is_none(),
            "{name} holds metres; --black-m and --white-m are for pictures"
        );
        return Ok(model);
    };
    let beside = beside(file)?;
    let found = beside.as_ref().map(|(range, _)| *range);
    let range = range.or(found).ok_or_else(|| {
        anyhow!(
            "{name} holds steps from 0 to {white}, not metres; lay the file beside it that says \
             what they are ({}), or say so with --black-m and --white-m",
            file.with_extension("json").display()
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
    let cell_m = beside.and_then(|(_, cell_m)| cell_m);
    model.cell_m = model.cell_m.or(cell_m.map(|cell_m| (cell_m, cell_m)));
    Ok(model)
}

/// The range and the size of a cell that stand beside a picture, if they do.
fn beside(file: &Path) -> anyhow::Result<Option<(Range, Option<f64>)>> {
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
        return Ok(Some((Range { black_m, white_m }, number("cell_m"))));
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
