//! `morphogen materials`.

use std::fs::{self, File};
use std::io::BufWriter;
use std::path::{Path, PathBuf};

use anyhow::{Context, anyhow};
use clap::Args;
use formats::WriteError;
use terrain::ground::{Material, MaterialKind};

use super::Failure;

/// Write the materials that ship as tiling textures: colour, normal,
/// roughness, occlusion and height, as PNG.
#[derive(Args)]
pub struct Materials {
    /// Folder for the files; made when it is not there
    #[arg(long)]
    out: PathBuf,
    /// Texels along each side, a power of two
    #[arg(long, default_value_t = 1024, value_parser = clap::value_parser!(u32).range(16..=4096))]
    side: u32,
    /// Only these, separated by commas [default: all]
    #[arg(long, value_delimiter = ',', value_parser = parse_kind)]
    only: Vec<MaterialKind>,
}

fn parse_kind(name: &str) -> Result<MaterialKind, String> {
    let found = MaterialKind::ALL
        .into_iter()
        .find(|kind| kind.name() == name);
    found.ok_or_else(|| {
        format!(
            "expected one of {}",
            MaterialKind::ALL.map(MaterialKind::name).join(", ")
        )
    })
}

impl Materials {
    pub fn run(self) -> Result<(), Failure> {
        if !self.side.is_power_of_two() {
            let reason = anyhow!("--side is {}, it must be a power of two", self.side);
            return Err(Failure::Input(reason));
        }
        fs::create_dir_all(&self.out).with_context(|| self.out.display().to_string())?;
        let kinds = match self.only.is_empty() {
            true => MaterialKind::ALL.to_vec(),
            false => self.only,
        };
        for kind in kinds {
            let material = Material::grown(kind, self.side as usize);
            let file = |map: &str| self.out.join(format!("{}-{map}.png", kind.name()));
            write(&file("albedo"), |out| {
                formats::write_rgb8(out, &material.albedo_map())
            })?;
            write(&file("normal"), |out| {
                formats::write_rgb8(out, &material.normal_map())
            })?;
            write(&file("roughness"), |out| {
                formats::write_grey8(out, &material.roughness_map())
            })?;
            write(&file("occlusion"), |out| {
                formats::write_grey8(out, &material.occlusion_map())
            })?;
            write(&file("height"), |out| {
                formats::write_grey8(out, &material.height_map())
            })?;
            println!("{}", kind.name());
        }
        Ok(())
    }
}

fn write(
    path: &Path,
    fill: impl FnOnce(&mut BufWriter<File>) -> Result<(), WriteError>,
) -> anyhow::Result<()> {
    let file = File::create(path).with_context(|| path.display().to_string())?;
    let mut out = BufWriter::new(file);
    fill(&mut out).with_context(|| path.display().to_string())?;
    out.into_inner()
        .map(drop)
        .with_context(|| path.display().to_string())
}
