//! What is wanted of a landscape, as it stands in requests, in targets and in the database:
//! a small document, which becomes an [`Order`] once it is found to be sound.

mod mesh;
mod order;
mod packed;
mod range;
mod stems;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use mesh::{CliffsWish, MeshWish};
pub use order::Order;
pub(crate) use packed::Channel;
pub use packed::Packed;
pub use range::ValueRange;

use crate::fields::{ColourFormat, FieldFormat};

/// What is wanted of a landscape.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Wish {
    /// Cells along the longer side; 1024 when absent.
    #[schema(required = false)]
    pub cells: usize,
    /// Cells along each side of a tile, to cut maps into tiles that meet exactly; one file a
    /// map when absent.
    pub tile: Option<usize>,
    /// Names of layers; `mask:` with the name of a mask is that mask. All but meshes and
    /// masks when empty.
    #[schema(required = false)]
    pub layers: Vec<String>,
    /// In which format fields are written: heights, slope, what steps leave, masks.
    #[schema(required = false)]
    pub fields: FieldFormat,
    /// Between which values formats of 16-bit steps are spread.
    #[schema(required = false)]
    pub range: ValueRange,
    /// In which format colour without light is written.
    #[schema(required = false)]
    pub colour: ColourFormat,
    /// Pictures that hold a map in each channel.
    #[schema(required = false)]
    pub packed: Vec<Packed>,
    /// How the land is put into triangles, when the layer `mesh` is among them.
    pub mesh: Option<MeshWish>,
}

impl Default for Wish {
    fn default() -> Self {
        Self {
            cells: 1024,
            tile: None,
            layers: Vec::new(),
            fields: FieldFormat::default(),
            range: ValueRange::default(),
            colour: ColourFormat::default(),
            packed: Vec::new(),
            mesh: None,
        }
    }
}
