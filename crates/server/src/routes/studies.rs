//! Looking closer: core samples and sheets of variants.

use std::sync::Arc;

use axum::extract::State;
use base64::Engine;
use base64::engine::general_purpose::STANDARD as BASE64;
use recipe::Recipe;
use recipe::document::LAND;
use recipe::grow::Part;
use recipe::view::{
    CoreSample, SheetError, Sweep, Variant, View, core_sample, flow_lines, shape_only, sheet,
    study_term, variants, way_of_water,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use terrain::Run;
use terrain::line::Polyline;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::CoreSampleDocument;
use super::head_of;
use crate::admission::Class;
use crate::error::ApiError;
use crate::extract::{Json, Path, Query};
use crate::state::AppState;

/// The most variants on a sheet, and the largest pictures of them.
const MOST_VARIANTS: usize = 25;
const MOST_CELLS: usize = 256;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(core))
        .routes(routes!(water_way))
        .routes(routes!(flow))
        .routes(routes!(term))
        .routes(routes!(make_sheet))
        .routes(routes!(make_variants))
}

/// A place, and how closely it is looked at.
#[derive(Deserialize, IntoParams)]
struct CorePlace {
    /// Metres east of the west edge.
    x_m: f64,
    /// Metres north of the south edge.
    y_m: f64,
    /// Cells along the longer side.
    cells: usize,
}

/// Explain one place: what each step did there, and why the ground is as it is.
#[utoipa::path(get, operation_id = "core_sample", path = "/api/landscapes/{id}/core",
    params(("id" = Uuid, Path), CorePlace), responses((status = OK, body = CoreSampleDocument)))]
async fn core(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(place): Query<CorePlace>,
) -> Result<axum::Json<CoreSample>, ApiError> {
    let recipe = head_of(&state, id).await?;
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let cells = place.cells.clamp(2, 2048);
    let at = (place.x_m, place.y_m);
    let need = state.need(Class::Study, &recipe, cells).await?;
    let sample = state
        .compute
        .run(need, move |cancel| {
            core_sample(&grower, &recipe, &assets, cells, at, Run::until(cancel))
        })
        .await??;
    sample
        .map(axum::Json)
        .ok_or_else(|| ApiError::BadRequest("that place is not on the land".to_owned()))
}

/// Of which land flow lines are wanted.
#[derive(Deserialize, IntoParams)]
struct FlowWish {
    /// The strand; the land when absent.
    strand: Option<String>,
    /// Cells along the longer side.
    cells: usize,
}

/// A line along which water runs.
#[derive(Serialize, ToSchema)]
struct FlowLine {
    /// Its order after Strahler: 1 has no tributaries.
    order: u8,
    /// Metres east and north, downstream.
    points: Vec<[f32; 2]>,
}

/// Where water runs over the land: lines with their order.
#[utoipa::path(get, operation_id = "flow_lines", path = "/api/landscapes/{id}/flow-lines",
    params(("id" = Uuid, Path), FlowWish), responses((status = OK, body = Vec<FlowLine>)))]
async fn flow(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(wish): Query<FlowWish>,
) -> Result<axum::Json<Vec<FlowLine>>, ApiError> {
    let recipe = head_of(&state, id).await?;
    let strand = wish.strand.unwrap_or_else(|| LAND.to_owned());
    if recipe.strand(&strand).is_none() {
        return Err(ApiError::NotFound("strand"));
    }
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let cells = wish.cells.clamp(16, 2048);
    let need = state.need(Class::Study, &recipe, cells).await?;
    let lines = state
        .compute
        .run(need, move |cancel| {
            let part = Part {
                strand: &strand,
                steps: usize::MAX,
            };
            flow_lines(&grower, &recipe, part, &assets, cells, Run::until(cancel))
        })
        .await??;
    let line = |line: Polyline| FlowLine {
        order: line.rank,
        points: (line.points.iter())
            .map(|point| point.at.as_vec2().to_array())
            .collect(),
    };
    Ok(axum::Json(lines.into_iter().map(line).collect()))
}

/// From where water is followed.
#[derive(Deserialize, IntoParams)]
struct WaterPlace {
    /// The step below which the land is looked at.
    step: String,
    /// Metres east of the west edge.
    x_m: f64,
    /// Metres north of the south edge.
    y_m: f64,
    /// Cells along the longer side.
    cells: usize,
}

/// The way that water takes from a place, on the land below a step: metres east and north.
#[utoipa::path(get, operation_id = "way_of_water", path = "/api/landscapes/{id}/way-of-water",
    params(("id" = Uuid, Path), WaterPlace), responses((status = OK, body = Vec<[f64; 2]>)))]
async fn water_way(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(place): Query<WaterPlace>,
) -> Result<axum::Json<Vec<[f64; 2]>>, ApiError> {
    let recipe = head_of(&state, id).await?;
    let found = recipe.strands.iter().find_map(|strand| {
        let steps = strand.steps.iter().position(|step| step.id == place.step)?;
        Some((strand.name.clone(), steps))
    });
    let (strand, steps) = found.ok_or(ApiError::NotFound("step"))?;
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let looked = (place.cells.clamp(16, 2048), (place.x_m, place.y_m));
    let need = state.need(Class::Study, &recipe, looked.0).await?;
    let way = state
        .compute
        .run(need, move |cancel| {
            let strand = &strand;
            let part = Part { strand, steps };
            way_of_water(&grower, &recipe, part, &assets, looked, Run::until(cancel))
        })
        .await??;
    way.map(axum::Json)
        .ok_or_else(|| ApiError::BadRequest("that place is not on the land".to_owned()))
}

/// A term of a mask.
#[derive(Deserialize, IntoParams)]
struct TermPlace {
    /// The step or cover whose mask it is, or `mask:` and the name of one.
    owner: String,
    /// Which of its terms, from 0.
    term: usize,
}

/// What a term of a mask reads.
#[derive(Serialize, ToSchema)]
struct TermReading {
    /// Lower end of the first range of values.
    low: f32,
    /// Upper end of the last one.
    high: f32,
    /// How many cells fall into each range.
    counts: Vec<u32>,
    /// Share of the land that the whole mask takes, 0 to 1.
    share: f64,
}

/// Cells along the longer side on which terms are looked at.
const TERM_CELLS: usize = 256;

/// Look at what a term of a mask reads: how often its values occur.
#[utoipa::path(get, operation_id = "read_term", path = "/api/landscapes/{id}/term",
    params(("id" = Uuid, Path), TermPlace), responses((status = OK, body = TermReading)))]
async fn term(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Query(place): Query<TermPlace>,
) -> Result<axum::Json<TermReading>, ApiError> {
    let recipe = head_of(&state, id).await?;
    let assets = state.assets.of(&recipe).await?;
    let grower = state.grower.clone();
    let need = state.need(Class::Study, &recipe, TERM_CELLS).await?;
    let study = state
        .compute
        .run(need, move |cancel| {
            let place = (place.owner.as_str(), place.term);
            study_term(
                &grower,
                &recipe,
                &assets,
                place,
                TERM_CELLS,
                Run::until(cancel),
            )
        })
        .await??;
    let study = study.ok_or(ApiError::NotFound("term of a mask"))?;
    Ok(axum::Json(TermReading {
        low: study.histogram.low,
        high: study.histogram.high,
        counts: study.histogram.counts,
        share: study.share,
    }))
}

/// What is varied on a sheet.
#[derive(Deserialize, ToSchema)]
struct SheetWish {
    /// One or two parameters and their values.
    sweeps: Vec<SweepWish>,
    /// Cells along the longer side of each picture.
    cells: usize,
    /// Leave erosion out, which takes far longer than all the rest.
    shape_only: bool,
}

/// A parameter of a step and the values that it takes in turn.
#[derive(Deserialize, ToSchema)]
struct SweepWish {
    /// The step's id.
    step: String,
    /// The parameter's name.
    parameter: String,
    /// Its values.
    #[schema(value_type = Vec<Object>)]
    values: Vec<Value>,
}

/// A sheet of variants.
#[derive(Serialize, ToSchema)]
struct Sheet {
    /// How long it took, milliseconds.
    took_ms: f64,
    /// The variants; the first sweep goes from left to right.
    variants: Vec<SheetEntry>,
}

/// One variant.
#[derive(Serialize, ToSchema)]
struct SheetEntry {
    /// The value of each sweep.
    #[schema(value_type = Vec<Object>)]
    values: Vec<Value>,
    /// Its picture: a PNG as a data URL.
    picture: String,
}

/// Grow a sheet of variants, small and all under the same light.
#[utoipa::path(post, operation_id = "make_sheet", path = "/api/landscapes/{id}/sheet", params(("id" = Uuid, Path)),
    request_body = SheetWish, responses((status = OK, body = Sheet)))]
async fn make_sheet(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(wish): Json<SheetWish>,
) -> Result<axum::Json<Sheet>, ApiError> {
    let count: usize = wish.sweeps.iter().map(|sweep| sweep.values.len()).product();
    if wish.sweeps.is_empty() || wish.sweeps.len() > 2 || !(1..=MOST_VARIANTS).contains(&count) {
        let reason = format!(
            "a sheet varies one or two parameters and has 1 to {MOST_VARIANTS} variants, not {count}"
        );
        return Err(ApiError::BadRequest(reason));
    }
    let recipe = head_of(&state, id).await?;
    let recipe = match wish.shape_only {
        true => Arc::new(shape_only(&recipe)),
        false => recipe,
    };
    let sweep = |sweep: SweepWish| Sweep {
        step: sweep.step,
        parameter: sweep.parameter,
        values: sweep.values,
    };
    let sweeps: Vec<Sweep> = wish.sweeps.into_iter().map(sweep).collect();
    let of = recipe.clone();
    let variants = state.desk.run(move || variants(&of, &sweeps)).await?;
    let variants = variants.map_err(|error| match error {
        SheetError::Recipe(error) => ApiError::Recipe(error),
        missing @ SheetError::NoParameter { .. } => ApiError::BadRequest(missing.to_string()),
    })?;
    drawn(&state, &recipe, variants, wish.cells).await
}

/// Variants that are not of one parameter.
#[derive(Deserialize, ToSchema)]
struct VariantsWish {
    /// JSON Patch (RFC 6902) of the landscape for each of them.
    #[schema(value_type = Vec<Vec<Object>>)]
    variants: Vec<json_patch::Patch>,
    /// Cells along the longer side of each picture.
    cells: usize,
    /// Leave erosion out, which takes far longer than all the rest.
    shape_only: bool,
}

/// Grow a sheet of variants of any kind, such as crossings of two.
#[utoipa::path(post, operation_id = "make_variants", path = "/api/landscapes/{id}/variants", params(("id" = Uuid, Path)),
    request_body = VariantsWish, responses((status = OK, body = Sheet)))]
async fn make_variants(
    State(state): State<AppState>,
    Path(id): Path<Uuid>,
    Json(wish): Json<VariantsWish>,
) -> Result<axum::Json<Sheet>, ApiError> {
    let count = wish.variants.len();
    if !(1..=MOST_VARIANTS).contains(&count) {
        let reason = format!("a sheet has 1 to {MOST_VARIANTS} variants, not {count}");
        return Err(ApiError::BadRequest(reason));
    }
    let head = state.documents.head(id).await?;
    let head = head.ok_or(ApiError::NotFound("landscape"))?;
    let mut variants = Vec::with_capacity(count);
    for patch in wish.variants {
        let recipe = state.documents.preview(id, &head.document, patch).await?;
        variants.push(Variant {
            values: Vec::new(),
            recipe: match wish.shape_only {
                true => shape_only(&recipe),
                false => recipe,
            },
        });
    }
    drawn(&state, &head.document.recipe, variants, wish.cells).await
}

/// The pictures of variants of a recipe.
async fn drawn(
    state: &AppState,
    recipe: &Recipe,
    variants: Vec<Variant>,
    cells: usize,
) -> Result<axum::Json<Sheet>, ApiError> {
    let since = std::time::Instant::now();
    let assets = state.assets.of(recipe).await?;
    let grower = state.grower.clone();
    let cells = cells.clamp(16, MOST_CELLS);
    let view = View::of_land(cells);
    // They are grown one after the other.
    let one = Arc::new(
        variants
            .first()
            .map_or(recipe, |first| &first.recipe)
            .clone(),
    );
    let need = state.need(Class::Study, &one, cells).await?;
    let entries = state
        .compute
        .run(need, move |cancel| {
            let pictures = sheet(&grower, &variants, &assets, &view, Run::until(cancel))?;
            let entry = |(variant, colour): (Variant, _)| {
                let mut png = Vec::new();
                formats::write_rgb8(&mut png, &colour).expect("a small picture fits into memory");
                SheetEntry {
                    values: variant.values,
                    picture: format!("data:image/png;base64,{}", BASE64.encode(png)),
                }
            };
            Ok::<_, recipe::GrowError>(variants.into_iter().zip(pictures).map(entry).collect())
        })
        .await??;
    Ok(axum::Json(Sheet {
        took_ms: since.elapsed().as_secs_f64() * 1e3,
        variants: entries,
    }))
}
