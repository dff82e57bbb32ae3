//! Materials, ready to be laid.

use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use moka::sync::Cache;
use terrain::Grid;
use terrain::ground::{Colour, GivenMaps, Material, MaterialKind};

use super::BARE;
use crate::document::{Cover, CoverMaterial, ImageSet};
use crate::grow::cache::{UNIT, weight};
use crate::grow::{Assets, GrowError, Image};

/// Roughness of a cover that has no material.
pub(super) const PLAIN_ROUGHNESS: f32 = 0.85;
/// Texels along each side of a material: enough to be looked at closely, or to
/// have its mean.
const NEAR_SIDE: usize = 1024;
const FAR_SIDE: usize = 128;

/// What `cover` is made of, to be laid over cells of `cell_m`.
pub(super) fn material_of(
    cover: &Cover,
    colour: Colour,
    cell_m: f64,
    assets: &dyn Assets,
) -> Result<Arc<Material>, GrowError> {
    Ok(match &cover.material {
        None => Arc::new(Material::plain(colour, PLAIN_ROUGHNESS)),
        Some(CoverMaterial::Images(images)) => imported(images, &cover.name, assets)?,
        Some(known) => {
            let kind = known.kind().expect("only imported ones have none");
            // From afar only the mean is asked for, which a small texture tells
            // at once.
            let near = cover.texture.size_m / cell_m > FAR_SIDE as f64 / 4.0;
            shipped(kind, if near { NEAR_SIDE } else { FAR_SIDE })
        }
    })
}

/// What `cover` is made of, in full.
///
/// # Errors
/// [`GrowError::MissingAsset`].
pub fn cover_material(cover: &Cover, assets: &dyn Assets) -> Result<Arc<Material>, GrowError> {
    let colour = cover.linear_colour().unwrap_or(BARE);
    // Over cells so small every material is near.
    material_of(cover, colour, f64::MIN_POSITIVE, assets)
}

/// Grows all materials that ship with the program, so that no one waits for the
/// first that is asked for.
pub fn grow_shipped_materials() {
    for side in [FAR_SIDE, NEAR_SIDE] {
        for kind in MaterialKind::ALL {
            shipped(kind, side);
        }
    }
}

/// A material that ships with the program, grown once.
fn shipped(kind: MaterialKind, side: usize) -> Arc<Material> {
    type Slots = [Mutex<Option<Arc<Material>>>; 2 * MaterialKind::ALL.len()];
    static GROWN: LazyLock<Slots> = LazyLock::new(|| std::array::from_fn(|_| Mutex::new(None)));
    let slot = &GROWN[2 * kind as usize + usize::from(side == NEAR_SIDE)];
    let known = || slot.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(grown) = known().clone() {
        return grown;
    }
    // Not under the lock: while a thread waits for others here, it may be given
    // work that asks for the same material.
    let grown = Arc::new(Material::grown(kind, side));
    known().get_or_insert(grown).clone()
}

/// Memory that imported materials may take, bytes.
const IMPORTED_BYTES: usize = 256 << 20;

fn imported(
    images: &ImageSet,
    cover: &str,
    assets: &dyn Assets,
) -> Result<Arc<Material>, GrowError> {
    static MADE: LazyLock<Cache<ImageSet, Arc<Material>>> = LazyLock::new(|| {
        Cache::builder()
            .max_capacity((IMPORTED_BYTES / UNIT) as u64)
            .weigher(|_: &ImageSet, material: &Arc<Material>| weight(material.bytes()))
            .build()
    });
    if let Some(known) = MADE.get(images) {
        return Ok(known);
    }
    // Not by the cache, as above: it would have others wait for it.
    let made = Arc::new(Material::given(maps_of(images, cover, assets)?));
    MADE.insert(images.clone(), made.clone());
    MADE.run_pending_tasks();
    Ok(made)
}

fn maps_of(images: &ImageSet, cover: &str, assets: &dyn Assets) -> Result<GivenMaps, GrowError> {
    let read = |id: &str| -> Result<Option<Arc<Image>>, GrowError> {
        if id.is_empty() {
            return Ok(None);
        }
        let missing = || GrowError::MissingAsset {
            step: cover.to_owned(),
            asset: id.to_owned(),
        };
        assets.image(id).ok_or_else(missing).map(Some)
    };
    let colours = |image: Option<Arc<Image>>| -> Option<[Grid; 3]> {
        let image = image?;
        let channel = |k: usize| image.share(k.min(image.colours() - 1));
        Some([channel(0), channel(1), channel(2)])
    };
    let values = |image: Option<Arc<Image>>| image.map(|image| image.share(0));
    Ok(GivenMaps {
        albedo: colours(read(&images.albedo)?),
        normal: colours(read(&images.normal)?),
        roughness: values(read(&images.roughness)?),
        occlusion: values(read(&images.occlusion)?),
        height: values(read(&images.height)?),
    })
}
