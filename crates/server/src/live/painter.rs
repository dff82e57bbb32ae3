//! Paints what one viewer wants to see: coarse first, then finer and in full,
//! and always the newest wish.

use std::cmp::Ordering;
use std::sync::{Arc, Mutex, MutexGuard};
use std::time::{Duration, Instant};

use axum::extract::ws::Message;
use base64::Engine;
use base64::engine::general_purpose::STANDARD as BASE64;
use fail::fail_point;
use futures::FutureExt;
use recipe::survey::survey;
use recipe::view::{Difference, Picture, Sketch, Sketchbook, bands, picture};
use recipe::{GrowError, Recipe};
use terrain::Run;
use tokio::sync::watch;

use super::flights::{Failed, Grown};
use super::messages::{BandMessage, Look, ToViewer};
use super::outbox::{Fineness, Gone, Outbox, Shows};
use super::pictures::{Caption, Moment, encode, encode_part};
use crate::admission::Class;
use crate::document::Document;
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
    /// A revision to compare with, and its recipe.
    pub(super) against: Option<(i64, Arc<Document>)>,
    pub(super) since: Instant,
}

/// Cells of the small reliefs in the column.
const BAND_CELLS: usize = 72;

/// Paints the newest of `wishes` until the viewer is gone.
pub(super) async fn paint(state: AppState, mut wishes: watch::Receiver<Option<Wish>>, out: Outbox) {
    let book = Book::default();
    loop {
        let wish = wishes.borrow_and_update().clone();
        if let Some(wish) = wish
            && let Err(error) = paint_one(&state, &wish, &book, &mut wishes, &out).await
            && send(&out, &fault(&error)).await.is_err()
        {
            return;
        }
        if wishes.changed().await.is_err() {
            return;
        }
    }
}

async fn paint_one(
    state: &AppState,
    wish: &Wish,
    book: &Book,
    wishes: &mut watch::Receiver<Option<Wish>>,
    out: &Outbox,
) -> Result<(), ApiError> {
    let full = wish.look.cells;
    let first = Look::FIRST_CELLS;
    let since = Instant::now();
    let sketched = paint_sketch(state, wish, book, out).await?;
    // All of it is there, but for what waits until the hand rests.
    if sketched && wish.preview {
        return Ok(());
    }
    if !sketched && first < full {
        paint_first(state, wish, wishes, out).await?;
    }
    if wishes.has_changed().unwrap_or(true) {
        return Ok(());
    }
    let rungs = match sketched {
        true => vec![full],
        false => rungs(first, full, since.elapsed()),
    };
    tokio::select! {
        painted = paint_rest(state, wish, book, &rungs, out) => painted,
        // Whoever leaves stops what is grown for them alone.
        _ = wishes.changed() => {
            // Seen by `changed`; the caller's next look must see it too.
            wishes.mark_changed();
            Ok(())
        }
    }
}

/// The last whole picture that was sent of the head, on which strokes are sketched.
type Book = Arc<Mutex<Option<Sketchbook>>>;

/// The book; one that a panic has left half drawn is thrown away.
fn opened(book: &Book) -> MutexGuard<'_, Option<Sketchbook>> {
    book.lock().unwrap_or_else(|poisoned| {
        book.clear_poison();
        let mut half = poisoned.into_inner();
        *half = None;
        half
    })
}

/// Shows strokes of the hand on the last picture, when nothing else differs from it;
/// whether it did.
async fn paint_sketch(
    state: &AppState,
    wish: &Wish,
    book: &Book,
    out: &Outbox,
) -> Result<bool, ApiError> {
    if wish.moment != Moment::Now || opened(book).is_none() {
        return Ok(false);
    }
    let assets = state.assets.of(&wish.recipe).await?;
    let (grower, recipe) = (state.grower.clone(), wish.recipe.clone());
    let (view, book) = (wish.look.view(wish.look.cells), book.clone());
    let caption = caption(state, wish, wish.look.cells);
    let since = wish.since;
    let need = state
        .need(Class::Preview, &wish.recipe, wish.look.cells)
        .await?;
    let sketched = state
        .compute
        .run(need, move |cancel| {
            let mut kept = opened(&book);
            let Some(book) = kept.as_mut() else {
                return Ok(None);
            };
            let run = Run::until(cancel);
            Ok(match book.sketch(&grower, &recipe, &view, &assets, run)? {
                None => None,
                Some(Sketch::Nothing) => Some(None),
                Some(Sketch::Part { part, waits }) => {
                    let took_ms = since.elapsed().as_secs_f64() * 1e3;
                    let caption = Caption {
                        waits,
                        took_ms,
                        ..caption
                    };
                    Some(Some(encode_part(&part, book.picture(), caption)))
                }
            })
        })
        .await?;
    match sketched {
        Err(error) => Err(GrowError::into(error)),
        Ok(None) => Ok(false),
        Ok(Some(part)) => {
            if let Some(part) = part {
                // The viewer may be gone by now, which is fine.
                let shows = Shows::Part(wish.moment);
                let _ = out.send(shows, Message::Binary(part.into())).await;
            }
            Ok(true)
        }
    }
}

/// The first, coarse picture: finished even when there is a newer wish, or a viewer
/// who drags a slider without rest would never see one, unless it takes very long.
async fn paint_first(
    state: &AppState,
    wish: &Wish,
    wishes: &mut watch::Receiver<Option<Wish>>,
    out: &Outbox,
) -> Result<(), ApiError> {
    /// So long a dragged slider waits for one of its pictures.
    const PATIENCE: Duration = Duration::from_millis(1_500);
    let newer = async {
        tokio::time::sleep(PATIENCE).await;
        let _ = wishes.changed().await;
    };
    tokio::select! {
        painted = paint_at(state, wish, Look::FIRST_CELLS, out) => painted.map(drop),
        () = newer => {
            // Seen by `changed`; the caller's next look must see it too.
            wishes.mark_changed();
            Ok(())
        }
    }
}

/// The sizes of the pictures after the first one, which took `took`: the full
/// one, and others in between where the leap would be a long wait. They cost
/// little, because erosion goes on from what a coarser picture has grown.
fn rungs(first: usize, full: usize, took: Duration) -> Vec<usize> {
    /// Nobody minds waiting so long for the next picture.
    const PATIENCE: Duration = Duration::from_millis(250);
    let mut rungs = vec![full];
    let mut cells = full;
    loop {
        let leap = (cells as f64 / first as f64).powi(2);
        cells = cells.div_ceil(2);
        if cells <= first || took.mul_f64(leap) <= PATIENCE {
            break;
        }
        rungs.push(cells);
    }
    rungs.reverse();
    rungs
}

/// Everything after the first, coarse picture.
async fn paint_rest(
    state: &AppState,
    wish: &Wish,
    book: &Book,
    rungs: &[usize],
    out: &Outbox,
) -> Result<(), ApiError> {
    let (&cells, between) = rungs.split_last().expect("the full one");
    for &cells in between {
        paint_at(state, wish, cells, out).await?;
    }
    let now = paint_at(state, wish, cells, out).await?;
    if wish.moment != Moment::Now {
        return Ok(());
    }
    if let Some((revision, document)) = &wish.against
        && !wish.preview
    {
        let earlier = Wish {
            recipe: document.recipe.clone(),
            revision: *revision,
            moment: Moment::Against,
            ..wish.clone()
        };
        let then = grow_picture(state, &earlier, cells, None).await?;
        let (now, caption) = (now.clone(), caption(state, &earlier, cells));
        let written = state.desk.run(move || {
            let size = |picture: &Picture| (picture.heights.cols(), picture.heights.rows());
            let difference = (size(&then) == size(&now))
                .then(|| Difference::between(&now.heights, &then.heights));
            encode(&then, difference.as_ref(), caption)
        });
        let message = Message::Binary(written.await?.into());
        let _ = out
            .send(Shows::Picture(Moment::Against, Fineness::Whole), message)
            .await;
    }
    let now = Arc::unwrap_or_clone(now);
    let sketched_on = Sketchbook::of(wish.recipe.clone(), wish.look.view(cells), now);
    *opened(book) = Some(sketched_on);
    if wish.preview {
        return Ok(());
    }
    send_bands(state, wish, out).await?;
    send_survey(state, wish, out).await?;
    paint_at_rest(state, wish, out).await
}

/// Nothing has changed meanwhile: finer pictures, each with twice the cells, so
/// that erosion goes on from the one before.
async fn paint_at_rest(state: &AppState, wish: &Wish, out: &Outbox) -> Result<(), ApiError> {
    let mut cells = wish.look.cells;
    // Two moments are compared cell by cell, at one size.
    while wish.against.is_none() && cells < wish.look.cells_at_rest {
        cells = (2 * cells).min(wish.look.cells_at_rest);
        paint_at(state, wish, cells, out).await?;
    }
    Ok(())
}

/// Grows and sends one picture.
async fn paint_at(
    state: &AppState,
    wish: &Wish,
    cells: usize,
    out: &Outbox,
) -> Result<Arc<Picture>, ApiError> {
    let picture = grow_picture(state, wish, cells, Some(out)).await?;
    let (shown, caption) = (picture.clone(), caption(state, wish, cells));
    let written = state.desk.run(move || encode(&shown, None, caption));
    let message = Message::Binary(written.await?.into());
    // A viewer who is gone is noticed by their session, which ends this too.
    let fineness = match cells.cmp(&wish.look.cells) {
        Ordering::Less => Fineness::Coarse,
        Ordering::Equal => Fineness::Whole,
        Ordering::Greater => Fineness::AtRest,
    };
    let _ = out
        .send(Shows::Picture(wish.moment, fineness), message)
        .await;
    Ok(picture)
}

/// Grows one picture, or waits for another viewer's of the same. Progress goes to `out`.
async fn grow_picture(
    state: &AppState,
    wish: &Wish,
    cells: usize,
    out: Option<&Outbox>,
) -> Result<Arc<Picture>, ApiError> {
    let assets = state.assets.of(&wish.recipe).await?;
    let view = wish.look.view(cells);
    let class = match cells {
        _ if cells <= Look::FIRST_CELLS => Class::Preview,
        _ if cells <= wish.look.cells => Class::Picture,
        _ => Class::Detail,
    };
    let need = state.need(class, &wish.recipe, cells).await?;
    let begin = |report: watch::Sender<f32>| {
        let (compute, grower) = (state.compute.clone(), state.grower.clone());
        let (recipe, view) = (wish.recipe.clone(), view.clone());
        let grown = async move {
            let grown = compute.run(need, move |cancel| {
                fail_point!(&format!("picture of {}", recipe.name));
                let report = |share: f32| _ = report.send(share);
                let run = Run::until(cancel).reporting(&report);
                picture(&grower, &recipe, &assets, &view, run)
            });
            let grown: Grown = match grown.await {
                Ok(Ok(picture)) => Ok(Arc::new(picture)),
                Ok(Err(error)) => Err(Failed::Grow(error)),
                Err(error) => Err(Failed::Panicked(error)),
            };
            grown
        };
        grown.boxed()
    };
    let mut seat = state.flights.join(&wish.recipe, &view, begin);
    let mut told = u32::MAX;
    loop {
        tokio::select! {
            biased;
            grown = &mut seat.growing => return Ok(grown?),
            Ok(()) = seat.progress.changed(), if out.is_some() => {
                let share = *seat.progress.borrow_and_update();
                // Whole percents are enough; a step of erosion reports far more often.
                let percent = (100.0 * share) as u32;
                if let Some(out) = out && told != percent {
                    told = percent;
                    // A viewer who is slow to read does not need every step.
                    out.send_if_room(Shows::Progress, text(&ToViewer::Progress { cells, share }));
                }
            }
        }
    }
}

fn caption(state: &AppState, wish: &Wish, cells: usize) -> Caption {
    Caption {
        waits: None,
        revision: wish.revision,
        preview: wish.preview,
        moment: wish.moment,
        complete: cells >= wish.look.cells,
        watched: wish.look.watched.clone(),
        sea_level_m: wish.recipe.sea_level_m,
        took_ms: wish.since.elapsed().as_secs_f64() * 1e3,
        cache: state.grower.cache_use(),
    }
}

async fn send_bands(state: &AppState, wish: &Wish, out: &Outbox) -> Result<(), ApiError> {
    let assets = state.assets.of(&wish.recipe).await?;
    let (grower, recipe) = (state.grower.clone(), wish.recipe.clone());
    let need = state.need(Class::Picture, &wish.recipe, BAND_CELLS).await?;
    let drawn = state.compute.run(need, move |cancel| {
        let bands = bands(&grower, &recipe, &assets, BAND_CELLS, Run::until(cancel))?;
        let drawn = bands.into_iter().map(|band| {
            let mut png = Vec::new();
            formats::write_grey8(&mut png, &band.relief).expect("a small picture fits into memory");
            let relief = format!("data:image/png;base64,{}", BASE64.encode(png));
            BandMessage {
                step: band.step,
                rms_m: band.rms_m,
                relief,
            }
        });
        Ok::<_, GrowError>(drawn.collect())
    });
    let (bands, revision) = (drawn.await??, wish.revision);
    // The viewer may be gone by now, which is fine.
    let _ = send(out, &ToViewer::Bands { revision, bands }).await;
    Ok(())
}

async fn send_survey(state: &AppState, wish: &Wish, out: &Outbox) -> Result<(), ApiError> {
    let assets = state.assets.of(&wish.recipe).await?;
    let (grower, recipe) = (state.grower.clone(), wish.recipe.clone());
    let cells = wish.look.cells;
    let need = state.need(Class::Picture, &wish.recipe, cells).await?;
    let findings = state
        .compute
        .run(need, move |cancel| {
            survey(&grower, &recipe, &assets, cells, Run::until(cancel))
        })
        .await??;
    let message = ToViewer::Survey {
        revision: wish.revision,
        findings: findings.into_iter().map(Into::into).collect(),
    };
    let _ = send(out, &message).await;
    Ok(())
}

pub(super) fn text(message: &ToViewer) -> Message {
    Message::Text(serde_json::to_string(message).expect("plain data").into())
}

/// A refusal, as viewers are told of it.
pub(super) fn fault(error: &ApiError) -> ToViewer<'static> {
    let (pointer, fits) = error.place();
    ToViewer::Fault {
        detail: error.to_string(),
        pointer,
        fits,
    }
}

/// Sends a message; an error when the viewer is gone.
pub(super) async fn send(out: &Outbox, message: &ToViewer<'_>) -> Result<(), Gone> {
    out.send(Shows::Other, text(message)).await
}

#[cfg(test)]
mod tests {
    use super::rungs;
    use std::time::Duration;

    #[test]
    fn pictures_in_between_come_only_where_the_wait_would_be_long() {
        let after_ms = |ms| rungs(128, 1024, Duration::from_millis(ms));
        assert_eq!(after_ms(1), [1024]);
        assert_eq!(after_ms(10), [512, 1024]);
        assert_eq!(after_ms(100), [256, 512, 1024]);
        assert_eq!(rungs(128, 128, Duration::from_secs(9)), [128]);
        assert_eq!(rungs(128, 100, Duration::from_secs(9)), [100]);
    }
}
