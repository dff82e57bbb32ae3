//! Masks as pictures.

use axum::extract::State;
use axum::response::Response;
use recipe::view::{MaskPlace, mask_picture};
use serde::Deserialize;
use terrain::{Cancel, Run};
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::presets::lasting;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::state::AppState;

/// Cells along the longer side: as few as are seen, and as many as a screen has room for.
const CELLS: std::ops::RangeInclusive<usize> = 16..=512;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(mask_map))
}

/// Which mask is shown.
#[derive(Deserialize, IntoParams)]
struct MaskShown {
    /// The step, ground or wash whose mask it is, or `mask:` and the name of one; with `#k`
    /// behind it only its readings up to the one numbered k from 0.
    owner: String,
    /// The revision: what it shows never changes.
    revision: i64,
    /// Cells along the longer side.
    cells: usize,
}

/// A mask from above in grey: white where it is full.
#[utoipa::path(get, operation_id = "mask_picture", path = "/api/landscapes/{id}/mask.png",
    params(("id" = Uuid, Path), MaskShown), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn mask_map(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(MaskShown {
        owner,
        revision,
        cells,
    }): Query<MaskShown>,
) -> Result<Response, ApiError> {
    let document = state.documents.at(id, revision).await?;
    let recipe = document
        .ok_or(ApiError::NotFound("revision of this landscape"))?
        .recipe
        .clone();
    if MaskPlace::of(&recipe, &owner).is_none() {
        return Err(ApiError::NotFound("mask"));
    }
    let cells = cells.clamp(*CELLS.start(), *CELLS.end());
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let name = format!("mask-{id}-{revision}-{cells}-{owner}");
    let draw = move |cancel: &Cancel| {
        let run = Run::until(cancel);
        let mask = mask_picture(&grower, &recipe, &assets, &owner, cells, run)?;
        let mask = mask.expect("it was looked for");
        let mut png = Vec::new();
        formats::write_grey8(&mut png, &mask).expect("it fits into memory");
        Ok(png)
    };
    let drawn = state
        .gallery
        .get_or_draw(&name, &state.compute, draw)
        .await?;
    Ok(lasting(drawn))
}
