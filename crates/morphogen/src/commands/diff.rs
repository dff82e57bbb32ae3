//! `morphogen diff`.

use std::path::PathBuf;

use anyhow::anyhow;
use clap::{Args, ValueEnum};
use formats::TiffLayout;
use recipe::changes::changes;
use recipe::view::Difference;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::{Frame, Grid, Run};

use super::output::write_file;
use super::{Failure, WorkLimit, read_recipe};
use crate::local_assets::LocalAssets;

/// Say what changed from one recipe to another, and where the land differs.
///
/// Changes are told in words; as JSON, with the JSON Patch (RFC 6902) that makes the second
/// recipe of the first. Both are grown with the same cells when their lands are of one size.
#[derive(Args)]
pub struct Diff {
    /// The recipe before, a JSON file; - is standard input
    before: PathBuf,
    /// The recipe after
    after: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 512, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// Compare the documents alone: nothing is grown
    #[arg(long)]
    documents: bool,
    /// Write the difference in height as a GeoTIFF, metres
    #[arg(long, conflicts_with = "documents")]
    out: Option<PathBuf>,
    /// Folder with the imported files that the recipes name [default: each recipe's own]
    #[arg(long)]
    assets: Option<PathBuf>,
    #[command(flatten)]
    work: WorkLimit,
    /// In which form it is said
    #[arg(long, value_enum, default_value = "words")]
    report: Report,
}

#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Report {
    /// A line for each change
    Words,
    /// For programs, with the JSON Patch
    Json,
}

/// Memory for what both lands have in common, bytes.
const CACHE: usize = 512 << 20;
/// Less than this is no difference, metres.
const SAME_M: f32 = 1e-3;

impl Diff {
    pub fn run(self) -> Result<(), Failure> {
        let before = read_recipe(&self.before, self.assets.clone())?;
        let after = read_recipe(&self.after, self.assets.clone())?;
        let told = changes(&before.0, &after.0);
        let land = match self.documents {
            true => None,
            false => self.land(&before, &after)?,
        };
        if self.report == Report::Json {
            let [from, to] = [&before.0, &after.0].map(|recipe| json!(recipe));
            let told = told.iter().map(ToString::to_string);
            let report = json!({
                "changes": told.collect::<Vec<_>>(),
                "patch": json_patch::diff(&from, &to),
                "land": land,
            });
            println!("{report:#}");
            return Ok(());
        }
        if told.is_empty() {
            println!("The recipes are the same.");
        }
        told.iter().for_each(|change| println!("{change}"));
        match land {
            Some(land) => println!("{}", in_words(&land)),
            None if self.documents => {}
            None => println!("The lands are not of one size: they are not compared."),
        }
        Ok(())
    }

    /// Where and by how much the lands differ; nothing when they are not of one size.
    fn land(
        &self,
        before: &(Recipe, LocalAssets),
        after: &(Recipe, LocalAssets),
    ) -> Result<Option<Value>, Failure> {
        if before.0.extent != after.0.extent {
            return Ok(None);
        }
        let grower = Grower::within(self.work.budget().of_export(), CACHE);
        let frame = Frame::with_cells(after.0.extent.into(), self.cells as usize);
        let grown = |(recipe, assets): &(Recipe, LocalAssets)| -> Result<Grid, Failure> {
            let land = grower.land(recipe, assets, &frame, Run::to_the_end());
            Ok(land
                .map_err(|error| Failure::Input(anyhow!(error)))?
                .heights())
        };
        let (before, now) = (grown(before)?, grown(after)?);
        let change = now.zip_map(&before, |now, before| now - before);
        if let Some(out) = &self.out {
            let on_earth = after.0.georeference.as_ref();
            let on_earth = on_earth.map(|at| (at, after.0.extent.into()));
            write_file(out, |file| {
                formats::write_geotiff(file, &change, &frame, on_earth, TiffLayout::default())
            })?;
        }
        Ok(Some(told_of(
            &change,
            &frame,
            Difference::between(&now, &before),
        )))
    }
}

fn told_of(change: &Grid, frame: &Frame, difference: Difference) -> Value {
    let values = change.values();
    let farthest = (0..values.len()).max_by(|&a, &b| values[a].abs().total_cmp(&values[b].abs()));
    let farthest = farthest.unwrap_or(0);
    let (col, row) = (farthest % frame.cols, farthest / frame.cols);
    let differ = values.iter().filter(|change| change.abs() > SAME_M).count();
    json!({
        "cells": [frame.cols, frame.rows],
        "differing_percent": 100.0 * differ as f64 / values.len() as f64,
        "rms_m": difference.rms_m,
        "most_m": difference.most_m,
        "most_at_m": [frame.x_m(col), frame.y_m(row)],
        "volume_m3": change.sum() * frame.cell_area_m2(),
    })
}

fn in_words(land: &Value) -> String {
    let number = |value: &Value| value.as_f64().unwrap_or(0.0);
    let share = number(&land["differing_percent"]);
    if share == 0.0 {
        return "The lands are the same.".to_owned();
    }
    let at = &land["most_at_m"];
    format!(
        "The land differs over {share:.1} % of it by {:.2} m in the mean of squares, most by \
         {:+.2} m at {:.0} m east, {:.0} m north; {:+.0} m³ in all.",
        number(&land["rms_m"]),
        number(&land["most_m"]),
        number(&at[0]),
        number(&at[1]),
        number(&land["volume_m3"]),
    )
}
