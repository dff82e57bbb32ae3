//! The ground: ready covers, materials close up, masks as files.

use std::io::Cursor;

use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use formats::WriteError;
use recipe::grow::cover_material;
use recipe::view::MaskPlace;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use terrain::{Frame, Grid, Run};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::head_of;
use crate::admission::Class;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::state::AppState;

/// The largest mask, and the most texels of a material close up.
const MOST_CELLS: usize = 8192;
const MOST_TEXELS: usize = 512;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(cover_combinations))
        .routes(routes!(cover_detail))
        .routes(routes!(mask_file))
}

/// Covers that are often used together.
#[derive(Serialize, ToSchema)]
struct CoverCombination {
    /// Its name in requests.
    key: &'static str,
    /// Its name on screen.
    title: &'static str,
    /// What it is for.
    about: &'static str,
    /// The covers, bottom first; whoever lays them in gives them ids of their own.
    #[schema(value_type = Vec<Object>)]
    covers: Value,
}

/// List covers that are often used together.
#[utoipa::path(get, operation_id = "list_cover_combinations", path = "/api/cover-combinations",
    responses((status = OK, body = Vec<CoverCombination>)))]
async fn cover_combinations() -> axum::Json<Vec<CoverCombination>> {
    let entry = |combination: &recipe::combinations::CoverCombination| CoverCombination {
        key: combination.key,
        title: combination.title,
        about: combination.about,
        covers: combination.document(),
    };
    let all = recipe::combinations::COVER_COMBINATIONS.iter();
    axum::Json(all.map(entry).collect())
}

/// How closely a material is looked at.
#[derive(Deserialize, IntoParams)]
struct Closeness {
    /// Most texels along each side.
    side: usize,
    /// Of which revision the cover is; the head when absent.
    revision: Option<i64>,
}

/// What growing a material takes, bytes.
const MATERIAL_BYTES: f64 = 256e6;

/// A cover's material close up: the bytes of two square pictures of four bytes
/// a texel, one after the other. In the first, red, green and blue say how the
/// colour differs from the material's mean, (2 v / 255)² times as much in linear
/// light, and the fourth is the height. The second has the surface direction
/// east and north, roughness, and how open the texel is to light.
#[utoipa::path(get, operation_id = "cover_detail", path = "/api/landscapes/{id}/covers/{cover}/detail",
    params(("id" = Uuid, Path), ("cover" = String, Path), Closeness),
    responses((status = OK, body = Vec<u8>, content_type = "application/octet-stream")))]
async fn cover_detail(
    State(state): State<AppState>,
    Path((id, cover)): Path<(Uuid, String)>,
    Query(closeness): Query<Closeness>,
) -> Result<Response, ApiError> {
    let recipe = match closeness.revision {
        None => head_of(&state, id).await?,
        Some(revision) => {
            let document = state.documents.at(id, revision).await?;
            let document = document.ok_or(ApiError::NotFound("revision of this landscape"))?;
            document.recipe.clone()
        }
    };
    let cover = recipe.covers.iter().find(|entry| entry.id == cover);
    let cover = cover.ok_or(ApiError::NotFound("cover"))?.clone();
    let assets = state.assets.of(&recipe).await?;
    let side = closeness.side.clamp(1, MOST_TEXELS);
    let bytes = state
        .compute
        .run(Class::Study.taking(MATERIAL_BYTES), move |_| {
            let detail = cover_material(&cover, &assets)?.detail(side);
            let pictures = [&detail.grain, &detail.surface];
            let bytes = pictures.map(|picture| picture.values().as_flattened());
            Ok::<_, recipe::GrowError>(bytes.concat())
        })
        .await??;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], bytes).into_response())
}

/// Which mask, and as what file.
#[derive(Deserialize, IntoParams)]
struct MaskWish {
    /// The id of its step, cover or wash, or `mask:` and the name of a mask.
    of: String,
    /// Cells along the longer side.
    cells: usize,
    /// Bits of each value.
    #[param(inline)]
    bits: Bits,
    /// What kind of file.
    #[param(inline)]
    format: MaskFormat,
}

#[derive(Clone, Copy, Deserialize, ToSchema)]
enum Bits {
    #[serde(rename = "8")]
    Eight,
    #[serde(rename = "16")]
    Sixteen,
}

#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
enum MaskFormat {
    Png,
    Tiff,
}

/// A mask as a picture: black is 0 and white is 1, linear.
#[utoipa::path(get, operation_id = "mask_file", path = "/api/landscapes/{id}/mask-file",
    params(("id" = Uuid, Path), MaskWish),
    responses((status = OK, body = Vec<u8>, content_type = "application/octet-stream")))]
async fn mask_file(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wish): Query<MaskWish>,
) -> Result<Response, ApiError> {
    if !(2..=MOST_CELLS).contains(&wish.cells) {
        let detail = format!("cells is {}, allowed is 2 to {MOST_CELLS}", wish.cells);
        return Err(ApiError::BadRequest(detail));
    }
    let recipe = head_of(&state, id).await?;
    let place = MaskPlace::of(&recipe, &wish.of).ok_or(ApiError::NotFound("mask"))?;
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let (bits, format) = (wish.bits, wish.format);
    let need = state.need(Class::Study, &recipe, wish.cells).await?;
    let bytes = state
        .compute
        .run(need, move |cancel| {
            let frame = Frame::with_cells(recipe.extent.into(), wish.cells);
            let run = Run::until(cancel);
            let mask =
                grower.mask_of_part(&recipe, place.part(), &place.mask, &assets, &frame, run)?;
            let file = written(&mask, bits, format);
            Ok::<_, recipe::GrowError>(file.expect("it fits into memory"))
        })
        .await??;
    let (kind, ending) = match format {
        MaskFormat::Png => ("image/png", "png"),
        MaskFormat::Tiff => ("image/tiff", "tif"),
    };
    let disposition = format!("attachment; filename=\"mask.{ending}\"");
    let headers = [
        (header::CONTENT_TYPE, kind.to_owned()),
        (header::CONTENT_DISPOSITION, disposition),
    ];
    Ok((headers, bytes).into_response())
}

fn written(mask: &Grid, bits: Bits, format: MaskFormat) -> Result<Vec<u8>, WriteError> {
    let mut out = Cursor::new(Vec::new());
    let steps = |white: f32| move |v: f32| (v.clamp(0.0, 1.0) * white).round();
    let eight = || mask.map(|v| steps(255.0)(v) as u8);
    let sixteen = || mask.map(|v| steps(65_535.0)(v) as u16);
    match (format, bits) {
        (MaskFormat::Png, Bits::Eight) => formats::write_grey8(&mut out, &eight())?,
        (MaskFormat::Png, Bits::Sixteen) => formats::write_grey16(&mut out, &sixteen())?,
        (MaskFormat::Tiff, Bits::Eight) => formats::write_tiff_grey8(&mut out, &eight())?,
        (MaskFormat::Tiff, Bits::Sixteen) => formats::write_tiff_grey16(&mut out, &sixteen())?,
    }
    Ok(out.into_inner())
}
