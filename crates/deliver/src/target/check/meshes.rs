//! The land as triangles.

use super::{Finding, Looked, Weight};
use crate::wish::MeshWish;
use crate::{Detail, Layer};

impl Looked<'_> {
    fn has_mesh(&self) -> bool {
        self.order.layers.contains(&Layer::Mesh)
    }

    /// About how many triangles the finest mesh has; nobody knows where a distance decides.
    pub(super) fn triangles(&self) -> Option<f64> {
        let all = 2.0 * (self.frame.cols + 1) as f64 * (self.frame.rows + 1) as f64;
        match self.order.mesh.detail {
            Detail::Whole => Some(all),
            Detail::Triangles(most) => Some(all.min(most as f64)),
            Detail::Ratio(ratio) => Some(all * ratio),
            Detail::Within(_) => None,
        }
    }
}

/// More triangles than the target takes.
pub(super) fn too_many_triangles(looked: &Looked) -> Option<Finding> {
    let most = looked.bounds.most_triangles?;
    if !looked.has_mesh() {
        return None;
    }
    let triangles = looked.triangles();
    if triangles.is_some_and(|triangles| triangles <= most as f64) {
        return None;
    }
    let finding = match triangles {
        Some(triangles) => {
            format!("The mesh has {triangles:.0} triangles, the target takes {most}.")
        }
        None => format!(
            "Nobody knows how many triangles a distance takes; the target takes {most} at most."
        ),
    };
    Some(looked.found(
        ("triangles", Weight::Wrong),
        finding,
        (format!("At most {most} triangles"), |wish| {
            wish.mesh = Some(MeshWish {
                triangles: Some(most),
                ratio: None,
                within_m: None,
                ..wish.mesh.take().unwrap_or_default()
            });
        }),
    ))
}

/// A land without a floor where the target takes bodies.
pub(super) fn open(looked: &Looked) -> Option<Finding> {
    if !looked.bounds.closed || !looked.has_mesh() || looked.order.mesh.solid.is_some() {
        return None;
    }
    Some(looked.found(
        ("closed", Weight::Wrong),
        "The target takes closed bodies; the land has no sides and no floor.".to_owned(),
        ("Close it".to_owned(), |wish| {
            wish.mesh = Some(MeshWish {
                solid: true,
                textures: None,
                ..wish.mesh.take().unwrap_or_default()
            });
        }),
    ))
}

/// Textures larger than the target takes.
pub(super) fn large_textures(looked: &Looked) -> Option<Finding> {
    let most = looked.bounds.most_texture_cells?;
    let cells = looked.order.mesh.textures?;
    if !looked.has_mesh() || cells <= most {
        return None;
    }
    Some(looked.found(
        ("textures", Weight::Wrong),
        format!("Textures are {cells} cells along, the target takes {most}."),
        (format!("Textures of {most}"), |wish| {
            if let Some(mesh) = &mut wish.mesh {
                mesh.textures = Some(most);
            }
        }),
    ))
}
