//! `morphogen mesh`.

use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow};
use clap::{ArgGroup, Args, ValueEnum};
use deliver::{
    Cliffs, CliffsOf, DeliverError, Detail, MadeMesh, MeshFormat, MeshOrder, Solid, deliver_meshes,
    picture,
};
use recipe::{Grower, Recipe};
use serde_json::json;
use terrain::mesh::Camera;
use terrain::{Grid, Run};

use super::output::{is_standard, send_file, write_file};
use super::{Failure, Growing, read_recipe, threads};
use crate::local_assets::LocalAssets;
use crate::progress::Bar;

/// Write a recipe's land as triangles.
///
/// Places are added where they are missed most, until there are as many triangles as are
/// allowed, or none is farther from the land than is allowed. How far the land is from
/// what was written is measured upright at every place of the grid.
#[derive(Args)]
#[command(group = ArgGroup::new("detail").multiple(false), group = ArgGroup::new("shading").multiple(false))]
pub struct Mesh {
    /// The recipe, a JSON file; - is standard input
    recipe: PathBuf,
    /// Cells along the longer side of the land
    #[arg(long, default_value_t = 1024, value_parser = clap::value_parser!(u32).range(2..=16384))]
    cells: u32,
    /// At most so many triangles, those of sides and floor among them
    #[arg(long, group = "detail")]
    triangles: Option<usize>,
    /// This share of the triangles of the whole [default: 0.25]
    #[arg(long, group = "detail")]
    ratio: Option<f64>,
    /// Nothing farther from the land than this, upright, metres
    #[arg(long, group = "detail")]
    error_m: Option<f64>,
    /// Every place of the grid
    #[arg(long, group = "detail")]
    whole: bool,
    /// Close it with sides and a level floor
    #[arg(long)]
    solid: bool,
    /// The floor lies so far below the lowest place, metres [default: a twentieth of the
    /// longer side]
    #[arg(long, requires = "solid")]
    thickness_m: Option<f64>,
    /// Longer side of a print: the file is in millimetres
    #[arg(long, requires = "solid")]
    print_mm: Option<f64>,
    /// Shade the land smoothly over its triangles, as when nothing is said
    #[arg(long, group = "shading")]
    smooth: bool,
    /// Shade each triangle for itself
    #[arg(long, group = "shading")]
    faceted: bool,
    /// Levels of detail; each has a quarter of the triangles of the finer one
    #[arg(long, default_value_t = 1)]
    levels: usize,
    /// Cut it into tiles of so many cells along each side, whose borders meet exactly
    #[arg(long)]
    tile: Option<usize>,
    /// One texture reaches over so many metres [default: over the whole land]
    #[arg(long)]
    repeat_m: Option<f64>,
    /// Lay textures of the ground on it, so many cells along the longer side (GLB)
    #[arg(long)]
    textures: Option<usize>,
    /// Cliffs as a mesh apart, in even quads that follow the slope: steeper:40 for what is
    /// steeper than so many degrees, mask:NAME, or a field that the land's steps leave
    #[arg(long)]
    cliffs: Option<String>,
    /// Edges of these quads are so long, metres [default: two cells]
    #[arg(long, requires = "cliffs")]
    cliffs_edge_m: Option<f64>,
    /// The file to write: .glb, .obj, .ply or .stl; levels and tiles are named after it; - is
    /// standard output, for one file
    #[arg(long)]
    out: PathBuf,
    /// Its format [default: by its ending]: glb, obj, ply or stl
    #[arg(long)]
    to: Option<String>,
    /// Draw it too, on the right of the land in full, seen by one camera: a PNG
    #[arg(long)]
    picture: Option<PathBuf>,
    /// Where the camera of the picture stands: a compass bearing, and degrees over the horizon
    #[arg(long, num_args = 2, value_names = ["BEARING", "ALTITUDE"], default_values_t = [200.0, 35.0])]
    from: Vec<f64>,
    /// What the camera looks at, metres east and north [default: the middle]
    #[arg(long, num_args = 2, value_names = ["EAST", "NORTH"])]
    look_at_m: Option<Vec<f64>>,
    /// How much closer than to see the whole land
    #[arg(long, default_value_t = 1.0)]
    zoom: f64,
    #[command(flatten)]
    growing: Growing,
    /// Print what came of it as well, for programs
    #[arg(long, value_enum)]
    report: Option<Report>,
}

/// Memory for intermediate results of a picture, bytes.
const KEPT: usize = 1 << 30;

/// In which form a report is printed.
#[derive(Clone, Copy, ValueEnum)]
enum Report {
    /// Each file, its triangles, and how far the land is from them
    Json,
}

impl Mesh {
    pub fn run(self) -> Result<(), Failure> {
        let order = self.order().map_err(Failure::Input)?;
        let sent = is_standard(&self.out).then(tempfile::tempdir).transpose();
        let sent = sent.context("a folder for the file")?;
        let stem = self.out.file_stem().unwrap_or_default().to_string_lossy();
        let dir = self.out.parent().filter(|dir| *dir != Path::new(""));
        let place = match &sent {
            Some(_) if order.levels > 1 || order.tile.is_some() || order.cliffs.is_some() => {
                let why = anyhow!(
                    "--out -: only one file can be sent, not levels, tiles or cliffs apart"
                );
                return Err(Failure::Input(why));
            }
            Some(sent) => (sent.path(), "land"),
            None => (dir.unwrap_or(Path::new(".")), &*stem),
        };
        let (recipe, assets) = read_recipe(&self.recipe, self.growing.assets.clone())?;
        let pool = threads(self.growing.threads)?;
        // What is drawn beside what is written grows once.
        let kept = self.picture.as_ref().map_or(0, |_| KEPT);
        let grower = Grower::within(self.growing.work.budget().of_export(), kept);
        let bar = Bar::new(&recipe.name);
        let made = pool.install(|| {
            let land = (&recipe, &assets as &dyn recipe::Assets, self.cells as usize);
            let progress = |share| bar.set(share);
            let run = Run::to_the_end().reporting(&progress);
            deliver_meshes(&grower, land, &order, place, run)
        });
        let made = made?;
        if let Some(file) = &self.picture {
            let drawn = pool.install(|| self.drawn(&grower, (&recipe, &assets), &order));
            let drawn = drawn?;
            write_file(file, |out| formats::write_rgb8(out, &drawn))?;
        }
        bar.done();
        if let Some(sent) = &sent {
            return Ok(send_file(
                sent.path(),
                &format!("land.{}", order.format.name()),
            )?);
        }
        match self.report {
            Some(Report::Json) => {
                let meshes: Vec<_> = made.iter().map(MadeMesh::to_json).collect();
                let report = json!({
                    "recipe": recipe.name,
                    "cells": self.cells,
                    "meshes": meshes,
                });
                println!("{report:#}");
            }
            None => made.iter().for_each(say),
        }
        Ok(())
    }

    /// The land in full, and on its right as it was ordered.
    fn drawn(
        &self,
        grower: &Grower,
        (recipe, assets): (&Recipe, &LocalAssets),
        order: &MeshOrder,
    ) -> Result<Grid<[u8; 3]>, DeliverError> {
        const SIZE: [usize; 2] = [960, 720];
        let camera = Camera {
            bearing_deg: self.from[0],
            altitude_deg: self.from[1],
            zoom: self.zoom,
            at: self.look_at_m.as_ref().map_or([0.5; 2], |at| {
                [at[0] / recipe.extent.width_m, at[1] / recipe.extent.depth_m]
            }),
        };
        let one = |order| {
            let land = (recipe, assets as &dyn recipe::Assets, self.cells as usize);
            picture(grower, land, order, (&camera, SIZE), Run::to_the_end())
        };
        let (full, made) = (one(None)?, one(Some(order))?);
        Ok(Grid::by_rows(2 * SIZE[0], SIZE[1], |r, row| {
            row[..SIZE[0]].copy_from_slice(full.row(r));
            row[SIZE[0]..].copy_from_slice(made.row(r));
        }))
    }

    fn order(&self) -> anyhow::Result<MeshOrder> {
        let ending = self.out.extension().unwrap_or_default().to_string_lossy();
        let asked = self.to.as_deref().unwrap_or(&ending);
        let format = MeshFormat::named(asked).ok_or_else(|| {
            let known = MeshFormat::ALL.map(|format| format!(".{}", format.name()));
            let out = self.out.display();
            anyhow!(
                "{out}: what is to be written? expected one of {}",
                known.join(", ")
            )
        })?;
        let usual = MeshOrder::default();
        let detail = match (self.triangles, self.ratio, self.error_m) {
            (Some(most), _, _) => Detail::Triangles(most),
            (_, Some(ratio), _) => Detail::Ratio(ratio),
            (_, _, Some(error_m)) => Detail::Within(error_m),
            _ if self.whole => Detail::Whole,
            _ => usual.detail,
        };
        let cliffs = self.cliffs.as_deref().map(|name| {
            let of = CliffsOf::named(name)?;
            let edge_m = self.cliffs_edge_m;
            Ok::<_, String>(Cliffs { of, edge_m })
        });
        let cliffs = cliffs.transpose();
        let order = MeshOrder {
            format,
            detail,
            solid: self.solid.then_some(Solid {
                thickness_m: self.thickness_m,
                print_mm: self.print_mm,
            }),
            smooth: !self.faceted,
            levels: self.levels,
            tile: self.tile,
            cliffs: cliffs.map_err(|why| anyhow!(why))?,
            repeat_m: self.repeat_m,
            textures: self.textures,
        };
        order.check().map_err(|why| anyhow!(why))?;
        Ok(order)
    }
}

/// Says what one file is, for people.
fn say(made: &MadeMesh) {
    println!(
        "{}: {} triangles; the land within {:.2} m, {:.2} m in the mean of squares",
        made.file.display(),
        made.triangles,
        made.distance.greatest_m,
        made.distance.rms_m,
    );
}
