//! Writing a field of a land: whole or in tiles, with what says how to read it.

use recipe::Recipe;
use terrain::{Frame, Grid};

use super::{Field, FieldFormat};
use crate::DeliverError;
use crate::folder::Folder;
use crate::manifest::Facts;
use crate::tiles::Tiling;
use crate::wish::ValueRange;

/// What a field is called, and what it measures.
pub(crate) struct Named<'a> {
    /// The name of its files, without ending.
    pub(crate) stem: &'a str,
    /// Its layer.
    pub(crate) layer: &'a str,
    /// Its unit; empty for a share or a count.
    pub(crate) unit: &'static str,
    /// Whether it is heights, for which a range may be given.
    pub(crate) heights: bool,
}

/// Writes a field in a format, and beside steps what they mean.
pub(crate) fn write_field(
    folder: &mut Folder,
    named: &Named,
    (values, frame): (&Grid, &Frame),
    (tiling, recipe): (Tiling, &Recipe),
    (format, range): (FieldFormat, ValueRange),
) -> Result<(), DeliverError> {
    let Named {
        stem,
        layer,
        unit,
        heights,
    } = *named;
    let (low, high) = values.range();
    let steps = match heights {
        true => range.of_heights((low, high)),
        false => range.of_others((low, high)),
    };
    let extent = recipe.extent.into();
    let on_earth = recipe.georeference.as_ref().map(|at| (at, extent));
    let mut files = Vec::new();
    for tile in tiling.tiles() {
        let name = tiling.name(stem, format.ending(), tile.at);
        let window = frame.window(tile.col, tile.row, tile.cols, tile.rows);
        let part;
        let values = match tiling.side {
            None => values,
            Some(_) => {
                part = values.cropped(tile.col, tile.row, tile.cols, tile.rows);
                &part
            }
        };
        let field = Field {
            values,
            frame: &window,
            on_earth,
        };
        folder.write(&name, |out| field.write(out, format, steps))?;
        folder.note(
            &name,
            Facts::map(layer)
                .of_size((tile.cols, tile.rows))
                .in_unit(unit)
                .between(values.range()),
        );
        if format == FieldFormat::Png16 {
            let placed = tiling.placed.from(tile.col, tile.row);
            let world = tiling.name(stem, "pgw", tile.at);
            folder.write_text(&world, &placed.world_file())?;
        }
        files.push(name);
    }
    if format.in_steps() {
        let whole = Field {
            values,
            frame,
            on_earth,
        };
        let said = match heights {
            true => whole.heights_described(&files, format, steps),
            false => whole.described(&files, format, steps, ("black", "white", unit)),
        };
        folder.write_json(&format!("{stem}.json"), &said)?;
    }
    Ok(())
}
