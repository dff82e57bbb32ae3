//! Pictures of the ground to lay on a mesh.

use formats::model::{Laid, Textures};
use recipe::{Assets, GrowError, Grower, Land, Recipe};
use terrain::light::{SKY_REACH_M, sky_seen};
use terrain::mesh::Mesh;
use terrain::{Frame, Grid, Run};

use crate::ground_maps::GroundMaps;
use crate::tiles::Tiling;
use crate::{ColourFormat, DeliverError, Layer, MeshOrder};

/// The ground of a land, as bytes on the cells of its textures.
pub(super) struct Pictures {
    frame: Frame,
    albedo: Vec<u8>,
    roughness: Vec<u8>,
    /// Directions of the surface, length 1.
    surface: Grid<[f32; 3]>,
    /// Share of the sky, 255 is all of it.
    sky: Vec<u8>,
}

impl Pictures {
    /// Those that an order asks for.
    pub(super) fn ordered(
        grower: &Grower,
        recipe: &Recipe,
        assets: &dyn Assets,
        order: &MeshOrder,
        run: Run,
    ) -> Result<Option<Self>, DeliverError> {
        let pictures = |cells| Self::of(grower, recipe, assets, cells, run);
        order.textures.map(pictures).transpose()
    }

    /// Grows the land as finely as its textures are, and lays its ground.
    fn of(
        grower: &Grower,
        recipe: &Recipe,
        assets: &dyn Assets,
        cells: usize,
        run: Run,
    ) -> Result<Self, DeliverError> {
        let frame = Frame::with_cells(recipe.extent.into(), cells);
        let land: Land = grower.land(recipe, assets, &frame, run.quietly())?;
        let maps = GroundMaps {
            recipe,
            land: &land,
            layers: &[Layer::Albedo, Layer::Roughness, Layer::Normal],
            tiling: Tiling::of(recipe, &frame, None),
            light: None,
            colour: ColourFormat::Png,
            packed: &[],
        };
        let [albedo, roughness, normal]: [Vec<u8>; 3] =
            maps.bytes_of_each(run)?.try_into().expect("three layers");
        run.check().map_err(GrowError::from)?;
        let sky = sky_seen(land.heights_with_apron(), 1, SKY_REACH_M, frame.cell_m);
        let direction = |bytes: &[u8]| {
            let along = |at: usize| f32::from(bytes[at]) / 127.5 - 1.0;
            [along(0), along(1), along(2)]
        };
        let surface = normal.chunks_exact(3).map(direction).collect();
        let byte = |share: &f32| (share.clamp(0.0, 1.0) * 255.0).round() as u8;
        Ok(Self {
            frame,
            albedo,
            roughness,
            surface: Grid::from_vec(frame.cols, frame.rows, surface).expect("one for each cell"),
            sky: sky.values().iter().map(byte).collect(),
        })
    }

    /// Where they lie, in metres.
    pub(super) fn laid(&self) -> Laid {
        let ([west, south], [east, north]) = self.frame.corners_m();
        Laid {
            west_north: [west, north],
            reach: [east - west, north - south],
        }
    }

    /// As files, for one mesh: only what it does not have itself is in the directions.
    pub(super) fn on(&self, mesh: &Mesh) -> Result<Textures, formats::WriteError> {
        let seen = mesh.seen_from_it(&self.surface, &self.frame);
        let normal = seen.map(|direction| {
            direction.map(|along| ((along + 1.0) * 127.5).round().clamp(0.0, 255.0) as u8)
        });
        let both = self.sky.iter().zip(&self.roughness);
        let both: Vec<[u8; 3]> = both.map(|(&sky, &rough)| [sky, rough, 0]).collect();
        let png = |pixels: &Grid<[u8; 3]>| {
            let mut bytes = Vec::new();
            formats::write_rgb8(&mut bytes, pixels)?;
            Ok::<_, formats::WriteError>(bytes)
        };
        let grid = |pixels| Grid::from_vec(self.frame.cols, self.frame.rows, pixels);
        let albedo: Vec<[u8; 3]> = self.albedo.as_chunks().0.to_vec();
        Ok(Textures {
            albedo: png(&grid(albedo).expect("one for each cell"))?,
            normal: png(&normal)?,
            occlusion_roughness: png(&grid(both).expect("one for each cell"))?,
        })
    }
}
