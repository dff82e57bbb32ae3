//! Paints what one viewer wants to see: coarse first, then in full, and
//! always the newest wish.

use std::sync::Arc;
use std::time::Instant;

use axum::extract::ws::Message;
use base64::Engine;
use base64::engine::general_purpose::STANDARD as BASE64;
use recipe::view::{Picture, Watched, bands, picture};
use recipe::{GrowError, Recipe};
use terrain::{Cancel, Run};
use tokio::sync::{mpsc, watch};

use super::messages::{BandMessage, Look, ToViewer};
use super::pictures::{Caption, Moment, encode};
use crate::error::ApiError;
use crate::state::AppState;

/// What a viewer wants to see.
#[derive(Clone)]
pub(super) struct Wish {
    pub(super) recipe: Arc<Recipe>,
    pub(super) revision: i64,
    pub(super) preview: bool,
    pub(super) moment: Moment,
    pub(super) look: Look,
    pub(super) since: Instant,
}

/// Where messages to the viewer go.
pub(super) type Outbox = mpsc::Sender<Message>;

/// Cells of the small reliefs in the column.
const BAND_CELLS: usize = 72;

/// Paints the newest of `wishes` until the viewer is gone.
pub(super) async fn paint(state: AppState, mut wishes: watch::Receiver<Option<Wish>>, out: Outbox) {
    loop {
        let wish = wishes.borrow_and_update().clone();
        if let Some(wish) = wish
            && let Err(fault) = paint_one(&state, &wish, &mut wishes, &out).await
        {
            let message = ToViewer::Fault {
                detail: fault.to_string(),
                pointer: None,
            };
            if send(&out, &message).await.is_err() {
                return;
            }
        }
        if wishes.changed().await.is_err() {
            return;
        }
    }
}

async fn paint_one(
    state: &AppState,
    wish: &Wish,
    wishes: &mut watch::Receiver<Option<Wish>>,
    out: &Outbox,
) -> Result<(), ApiError> {
    let full = wish.look.cells;
    let first = Look::FIRST_CELLS;
    // The first picture is always finished, or a viewer who drags a slider
    // without rest would never see one.
    if first < full && !paint_at(state, wish, first, Cancel::new(), out).await? {
        return Ok(());
    }
    if wishes.has_changed().unwrap_or(true) {
        return Ok(());
    }
    let cancel = Cancel::new();
    let mut painting = std::pin::pin!(paint_at(state, wish, full, cancel.clone(), out));
    let painted = tokio::select! {
        painted = &mut painting => painted?,
        _ = wishes.changed() => {
            // Seen by `changed`; the caller's next look must see it too.
            wishes.mark_changed();
            cancel.cancel();
            painting.await?
        }
    };
    if painted && !wish.preview && wish.moment == Moment::Now {
        paint_bands(state, wish, out).await?;
    }
    Ok(())
}

/// Paints one picture; whether it was finished.
async fn paint_at(
    state: &AppState,
    wish: &Wish,
    cells: usize,
    cancel: Cancel,
    out: &Outbox,
) -> Result<bool, ApiError> {
    let assets = state.assets.of(&wish.recipe).await?;
    let grower = state.grower.clone();
    let recipe = wish.recipe.clone();
    let look = wish.look.clone();
    let watched = look.watched.clone().map(|id| Watched { id });
    let progress = out.clone();
    let painted = state.compute.run(move || {
        let report = |share: f32| {
            let message = ToViewer::Progress { cells, share };
            // A viewer who is slow to read does not need every step.
            let _ = progress.try_send(text(&message));
        };
        let run = Run::until(&cancel).reporting(&report);
        picture(
            &grower,
            &recipe,
            &assets,
            cells,
            look.shading(),
            watched.as_ref(),
            run,
        )
    });
    let picture: Picture = match painted.await {
        Ok(picture) => picture,
        Err(GrowError::Cancelled(_)) => return Ok(false),
        Err(error) => return Err(error.into()),
    };
    let caption = Caption {
        revision: wish.revision,
        preview: wish.preview,
        moment: wish.moment,
        complete: cells == wish.look.cells,
        watched: wish.look.watched.clone(),
        sea_level_m: wish.recipe.sea_level_m,
        took_ms: wish.since.elapsed().as_secs_f64() * 1e3,
    };
    Ok(out
        .send(Message::Binary(encode(&picture, caption).into()))
        .await
        .is_ok())
}

async fn paint_bands(state: &AppState, wish: &Wish, out: &Outbox) -> Result<(), ApiError> {
    let assets = state.assets.of(&wish.recipe).await?;
    let (grower, recipe) = (state.grower.clone(), wish.recipe.clone());
    let bands = state
        .compute
        .run(move || bands(&grower, &recipe, &assets, BAND_CELLS, Run::to_the_end()))
        .await?;
    let bands = bands
        .into_iter()
        .map(|band| {
            let mut png = Vec::new();
            formats::write_grey8(&mut png, &band.relief).expect("a small picture fits into memory");
            let relief = format!("data:image/png;base64,{}", BASE64.encode(png));
            BandMessage {
                step: band.step,
                rms_m: band.rms_m,
                relief,
            }
        })
        .collect();
    // The viewer may be gone by now, which is fine.
    let _ = send(
        out,
        &ToViewer::Bands {
            revision: wish.revision,
            bands,
        },
    )
    .await;
    Ok(())
}

fn text(message: &ToViewer) -> Message {
    Message::Text(serde_json::to_string(message).expect("plain data").into())
}

/// Sends a message; an error when the viewer is gone.
pub(super) async fn send(
    out: &Outbox,
    message: &ToViewer,
) -> Result<(), mpsc::error::SendError<Message>> {
    out.send(text(message)).await
}
