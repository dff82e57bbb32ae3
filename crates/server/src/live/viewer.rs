//! One viewer of one landscape, from the first word to the last.

use std::sync::Arc;
use std::time::Instant;

use axum::extract::ws::{Message, WebSocket};
use futures::{SinkExt, StreamExt};
use recipe::{Recipe, RecipeError};
use tokio::sync::{broadcast, mpsc, watch};
use uuid::Uuid;

use super::messages::{FromViewer, Head, Look, ToViewer};
use super::painter::{Outbox, Wish, paint, send};
use super::pictures::Moment;
use crate::state::AppState;

/// Messages that may wait for a slow viewer.
const WAITING: usize = 16;

/// Talks with a viewer until one of them hangs up.
pub(crate) async fn attend(socket: WebSocket, state: AppState, landscape: Uuid) {
    let (mut sink, mut stream) = socket.split();
    let (out, mut outgoing) = mpsc::channel::<Message>(WAITING);
    let writer = tokio::spawn(async move {
        while let Some(message) = outgoing.recv().await {
            if sink.send(message).await.is_err() {
                return;
            }
        }
        let _ = sink.close().await;
    });
    // First listen, then look: no change can fall between the two.
    let mut heads = state.live.listen(landscape);
    let mut closing = state.live.closing();
    let (wishes, wished) = watch::channel(None);
    let painter = tokio::spawn(paint(state.clone(), wished, out.clone()));
    let mut viewer = Viewer {
        state,
        landscape,
        out,
        wishes,
        head: None,
        look: Look::default(),
        against: None,
    };
    viewer.refresh().await;
    loop {
        tokio::select! {
            head = heads.recv() => match head {
                Ok(head) => viewer.show_head(head).await,
                Err(broadcast::error::RecvError::Lagged(_)) => viewer.refresh().await,
                Err(broadcast::error::RecvError::Closed) => break,
            },
            message = stream.next() => match message {
                Some(Ok(Message::Text(text))) => viewer.hear(&text).await,
                Some(Ok(Message::Close(_)) | Err(_)) | None => break,
                Some(Ok(_)) => {}
            },
            () = closed(&mut closing) => break,
        }
    }
    // The painter ends with the wishes, the writer with the last outbox.
    drop(viewer);
    let _ = painter.await;
    let _ = writer.await;
}

async fn closed(closing: &mut watch::Receiver<bool>) {
    // An error means that the service is gone already.
    let _ = closing.wait_for(|closing| *closing).await;
}

struct Viewer {
    state: AppState,
    landscape: Uuid,
    out: Outbox,
    wishes: watch::Sender<Option<Wish>>,
    head: Option<Arc<Head>>,
    look: Look,
    against: Option<(i64, Arc<Recipe>)>,
}

impl Viewer {
    /// Looks the head up in the database.
    async fn refresh(&mut self) {
        match self.state.store.head(self.landscape).await {
            Ok(Some(row)) => self.show_head(Arc::new(row.into())).await,
            Ok(None) => self.say(&ToViewer::Gone).await,
            Err(source) => {
                tracing::error!(%source, "database");
                self.fault(
                    "the service could not look this up just now".to_owned(),
                    None,
                )
                .await;
            }
        }
    }

    async fn show_head(&mut self, head: Arc<Head>) {
        self.say(&ToViewer::Head(Box::new(Head::clone(&head))))
            .await;
        self.head = Some(head);
        self.wish_for_head();
    }

    fn wish_for_head(&self) {
        if let Some(head) = &self.head {
            self.wish(
                Arc::new(head.recipe.clone()),
                head.revision,
                false,
                Moment::Now,
            );
        }
    }

    fn wish(&self, recipe: Arc<Recipe>, revision: i64, preview: bool, moment: Moment) {
        let look = self.look.clone();
        let since = Instant::now();
        self.wishes.send_replace(Some(Wish {
            recipe,
            revision,
            preview,
            moment,
            look,
            against: self.against.clone(),
            since,
        }));
    }

    async fn hear(&mut self, text: &str) {
        match serde_json::from_str(text) {
            Ok(FromViewer::Look(look)) => {
                let cells = look.cells.clamp(2, Look::MOST_CELLS);
                let cells_at_rest = look.cells_at_rest.min(Look::MOST_CELLS);
                self.compare_with(look.against).await;
                self.look = Look {
                    cells,
                    cells_at_rest,
                    ..look
                };
                self.wish_for_head();
            }
            Ok(FromViewer::Preview { base, patch }) => self.preview(base, &patch).await,
            Ok(FromViewer::PreviewEnd) => self.wish_for_head(),
            Ok(FromViewer::Before) => self.show_before().await,
            // No wish at all: the painter stops what it is doing.
            Ok(FromViewer::Stop) => {
                self.wishes.send_replace(None);
                self.say(&ToViewer::Stopped).await;
            }
            Err(error) => {
                self.fault(format!("this was not understood: {error}"), None)
                    .await
            }
        }
    }

    /// Looks up the revision that the head is to be compared with.
    async fn compare_with(&mut self, revision: Option<i64>) {
        if self.against.as_ref().map(|(known, _)| *known) == revision {
            return;
        }
        self.against = None;
        let Some(revision) = revision else {
            return;
        };
        match self.state.store.recipe_at(self.landscape, revision).await {
            Ok(Some(recipe)) => self.against = Some((revision, Arc::new(recipe))),
            Ok(None) => {
                let detail = format!("there is no revision {revision} of this landscape");
                self.fault(detail, None).await;
            }
            Err(source) => tracing::error!(%source, "database"),
        }
    }

    async fn preview(&mut self, base: i64, patch: &json_patch::Patch) {
        // An edit of an older head: the newer one is on its way to the viewer.
        let Some(head) = self.head.as_ref().filter(|head| head.revision == base) else {
            return;
        };
        match patched(&head.recipe, patch) {
            Ok(recipe) => self.wish(Arc::new(recipe), base, true, Moment::Now),
            Err((detail, pointer)) => self.fault(detail, pointer).await,
        }
    }

    async fn show_before(&mut self) {
        let Some(parent) = self.head.as_ref().and_then(|head| head.parent) else {
            return;
        };
        match self.state.store.recipe_at(self.landscape, parent).await {
            Ok(Some(recipe)) => self.wish(Arc::new(recipe), parent, false, Moment::Before),
            Ok(None) => {}
            Err(source) => tracing::error!(%source, "database"),
        }
    }

    async fn fault(&self, detail: String, pointer: Option<String>) {
        self.say(&ToViewer::Fault { detail, pointer }).await;
    }

    async fn say(&self, message: &ToViewer) {
        // A viewer who is gone is noticed by the loop.
        let _ = send(&self.out, message).await;
    }
}

fn patched(recipe: &Recipe, patch: &json_patch::Patch) -> Result<Recipe, (String, Option<String>)> {
    let mut document = serde_json::to_value(recipe).expect("a recipe is plain data");
    json_patch::patch(&mut document, patch).map_err(|error| (error.to_string(), None))?;
    Recipe::from_value(document).map_err(|error: RecipeError| {
        let detail = error.to_string();
        (detail, Some(error.place.pointer))
    })
}
