//! Pictures of a land as triangles, before it is exported.

use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use deliver::{DeliverError, MeshWish, picture};
use serde::Deserialize;
use terrain::Run;
use terrain::mesh::Camera;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::admission::Class;
use crate::error::ApiError;
use crate::extract::{Path, Query};
use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(mesh_picture))
}

/// Columns and rows of a picture.
const SIDES: std::ops::RangeInclusive<usize> = 16..=1600;
/// Larger documents are no wish for a mesh.
const MOST_LETTERS: usize = 2_000;

/// What is drawn, and from where.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
struct Drawing {
    /// How the land is put into triangles, a `MeshWish` in JSON; the land in full when absent.
    mesh: Option<String>,
    /// Cells along the longer side of the export.
    cells: usize,
    /// The revision that is meant.
    revision: i64,
    /// Compass bearing of where the camera stands.
    bearing_deg: f64,
    /// How high it stands over the horizon.
    altitude_deg: f64,
    /// 1 shows the whole land, 2 half of it.
    zoom: f64,
    /// Columns of the picture.
    width: usize,
    /// Rows of it.
    height: usize,
}

impl Drawing {
    fn camera(&self) -> Result<Camera, ApiError> {
        let sound = self.bearing_deg.is_finite()
            && (0.0..=90.0).contains(&self.altitude_deg)
            && (0.5..=50.0).contains(&self.zoom);
        let sides = SIDES.contains(&self.width) && SIDES.contains(&self.height);
        if !sound || !sides || !(2..=16_384).contains(&self.cells) {
            let detail = "a picture is seen from 0 to 90 degrees over the horizon, 0.5 to 50 times as \
                 close, on 16 to 1600 columns and rows, of 2 to 16384 cells";
            return Err(ApiError::BadRequest(detail.to_owned()));
        }
        Ok(Camera {
            bearing_deg: self.bearing_deg,
            altitude_deg: self.altitude_deg,
            zoom: self.zoom,
            at: [0.5, 0.5],
        })
    }

    fn wish(&self) -> Result<Option<MeshWish>, ApiError> {
        let Some(text) = &self.mesh else {
            return Ok(None);
        };
        if text.len() > MOST_LETTERS {
            return Err(ApiError::BadRequest("mesh: it is too long".to_owned()));
        }
        let wish = serde_json::from_str(text);
        wish.map(Some)
            .map_err(|error| ApiError::BadRequest(format!("mesh: {error}")))
    }
}

/// Draw a landscape as triangles, or in full, as one camera sees it.
#[utoipa::path(get, operation_id = "mesh_picture", path = "/api/landscapes/{id}/mesh.png",
    params(("id" = Uuid, Path), Drawing), responses((status = OK, body = Vec<u8>, content_type = "image/png")))]
async fn mesh_picture(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(drawing): Query<Drawing>,
) -> Result<Response, ApiError> {
    let camera = drawing.camera()?;
    let order = drawing.wish()?.map(|wish| wish.order(None));
    let order = order.transpose().map_err(ApiError::BadRequest)?;
    let document = state.documents.at(id, drawing.revision).await?;
    let document = document.ok_or(ApiError::NotFound("revision of this landscape"))?;
    let assets = state.assets.of(&document.recipe).await?;
    let grower = state.grower.clone();
    let need = state.need(Class::Study, &document.recipe, drawing.cells);
    let drawn = state.compute.run(need.await?, move |cancel| {
        let land = (
            &*document.recipe,
            &assets as &dyn recipe::Assets,
            drawing.cells,
        );
        let size = [drawing.width, drawing.height];
        let run = Run::until(cancel);
        let drawn = picture(&grower, land, order.as_ref(), (&camera, size), run)?;
        let mut png = Vec::new();
        formats::write_rgb8(&mut png, &drawn).expect("it fits into memory");
        Ok(png)
    });
    let png: Vec<u8> = drawn
        .await?
        .map_err(|error: DeliverError| ApiError::from(error))?;
    // A revision never changes; the product may.
    let headers = [
        (header::CONTENT_TYPE, "image/png"),
        (header::CACHE_CONTROL, "private, max-age=600"),
    ];
    Ok((headers, png).into_response())
}
