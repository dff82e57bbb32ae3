//! How a land is to be put into triangles, as a document.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{Cliffs, CliffsOf, Detail, MeshFormat, MeshOrder, Solid};

/// How the land is put into triangles. Of triangles, ratio and within, one at most; a
/// quarter of all triangles when none is given.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct MeshWish {
    /// `glb`, `obj`, `ply` or `stl`; GLB when absent.
    pub format: Option<String>,
    /// At most so many triangles, those of sides and floor among them.
    pub triangles: Option<usize>,
    /// This share of all triangles.
    pub ratio: Option<f64>,
    /// No place farther from the land, metres.
    pub within_m: Option<f64>,
    /// Closed with sides and a floor.
    pub solid: bool,
    /// The floor so far below the lowest place, metres.
    pub thickness_m: Option<f64>,
    /// Longer side of a print, millimetres.
    pub print_mm: Option<f64>,
    /// Each triangle shaded for itself.
    pub faceted: bool,
    /// Levels of detail; one when absent.
    pub levels: Option<usize>,
    /// One texture reaches over so many metres; over the whole land when absent.
    pub repeat_m: Option<f64>,
    /// Cells along the longer side of textures laid on it (GLB).
    pub textures: Option<usize>,
    /// Cliffs as a mesh apart, in quads.
    pub cliffs: Option<CliffsWish>,
}

/// Cliffs as a mesh apart, in quads.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CliffsWish {
    /// What is one: `steeper:` and degrees, `mask:` and the name of a mask, or a field that
    /// the land's steps leave, where it is a half or more.
    pub of: String,
    /// Edges of their quads are so long, metres; two cells when absent.
    #[serde(default)]
    pub edge_m: Option<f64>,
}

impl MeshWish {
    /// As it is made; maps are cut into tiles, and the land with them unless it is closed.
    ///
    /// # Errors
    /// What of it cannot be, and what is allowed.
    pub fn order(&self, tile: Option<usize>) -> Result<MeshOrder, String> {
        let refused = |why: String| format!("mesh: {why}");
        let usual = MeshOrder::default();
        let format = match &self.format {
            None => usual.format,
            Some(name) => MeshFormat::named(name)
                .ok_or_else(|| refused(format!("there is no format called ‘{name}’")))?,
        };
        let detail = match (self.triangles, self.ratio, self.within_m) {
            (None, None, None) => usual.detail,
            (Some(most), None, None) => Detail::Triangles(most),
            (None, Some(ratio), None) => Detail::Ratio(ratio),
            (None, None, Some(within_m)) => Detail::Within(within_m),
            _ => {
                return Err(refused(
                    "of triangles, ratio and within_m only one".to_owned(),
                ));
            }
        };
        let solid = self.solid.then_some(Solid {
            thickness_m: self.thickness_m,
            print_mm: self.print_mm,
        });
        let cliffs = self.cliffs.as_ref().map(|cliffs| {
            Ok::<_, String>(Cliffs {
                of: CliffsOf::named(&cliffs.of).map_err(refused)?,
                edge_m: cliffs.edge_m,
            })
        });
        let order = MeshOrder {
            format,
            detail,
            solid,
            smooth: !self.faceted,
            levels: self.levels.unwrap_or(usual.levels),
            tile: tile.filter(|_| solid.is_none()),
            repeat_m: self.repeat_m,
            textures: self.textures,
            cliffs: cliffs.transpose()?,
        };
        order.check().map_err(refused)?;
        Ok(order)
    }
}
