//! One viewer of one landscape, from the first word to the last.

use std::sync::Arc;
use std::time::Instant;

use axum::body::Bytes;
use axum::extract::ws::{Message, WebSocket};
use futures::{SinkExt, StreamExt};
use recipe::Recipe;
use tokio::sync::{broadcast, watch};
use uuid::Uuid;

use super::hub::{Event, Live};
use super::messages::{FromViewer, Head, HeadMove, Look, ToViewer, Wanted};
use super::outbox::{Outbox, Shows};
use super::painter::{Wish, fault, paint, send, text};
use super::people::Person;
use super::pictures::Moment;
use crate::document::Document;
use crate::error::ApiError;
use crate::limits::Limits;
use crate::state::AppState;

/// Talks with a viewer until one of them hangs up.
pub(crate) async fn attend(socket: WebSocket, state: AppState, landscape: Uuid, wanted: Wanted) {
    let Limits {
        ping_every,
        viewer_silent,
        ..
    } = state.limits;
    let (mut sink, mut stream) = socket.split();
    let out = Outbox::default();
    let outgoing = out.clone();
    let mut writer = tokio::spawn(async move {
        while let Some(message) = outgoing.next().await {
            match tokio::time::timeout(viewer_silent, sink.send(message)).await {
                Ok(Ok(())) => {}
                _ => return outgoing.close(),
            }
        }
        let _ = sink.close().await;
    });
    // First listen, then look: no change can fall between the two.
    let mut events = state.live.listen(landscape);
    let mut closing = state.live.closing();
    let (wishes, wished) = watch::channel(None);
    let painter = tokio::spawn(paint(state.clone(), wished, out.clone()));
    let mut viewer = Viewer {
        state,
        landscape,
        wanted,
        out,
        wishes,
        head: None,
        look: Look::default(),
        against: None,
        at: None,
        id: Uuid::now_v7(),
    };
    viewer.catch_up().await;
    let first = tokio::time::Instant::now() + ping_every;
    let mut ping = tokio::time::interval_at(first, ping_every);
    let mut heard = Instant::now();
    loop {
        tokio::select! {
            event = events.recv() => match event {
                Ok(Event::Moved(moved)) => viewer.follow(&moved).await,
                Ok(Event::People) => viewer.tell_people().await,
                Ok(Event::Gone) => viewer.say(&ToViewer::Gone).await,
                Ok(Event::Missed) | Err(broadcast::error::RecvError::Lagged(_)) => {
                    viewer.catch_up().await;
                }
                Err(broadcast::error::RecvError::Closed) => break,
            },
            message = stream.next() => {
                heard = Instant::now();
                match message {
                    Some(Ok(Message::Text(text))) => viewer.hear(&text).await,
                    Some(Ok(Message::Close(_)) | Err(_)) | None => break,
                    Some(Ok(_)) => {}
                }
            }
            _ = ping.tick() => {
                if heard.elapsed() > viewer_silent {
                    break;
                }
                // A full outbox is no reason to wait: the writer has its own limit.
                viewer.out.send_if_room(Shows::Other, Message::Ping(Bytes::new()));
            }
            _ = &mut writer => break,
            () = Live::closed(&mut closing) => break,
        }
    }
    viewer.state.live.left(landscape, viewer.id);
    // What was being grown for this viewer is stopped with the painter.
    painter.abort();
    let _ = painter.await;
    // The writer ends once all is sent.
    viewer.out.close();
    drop(viewer);
    if !writer.is_finished() {
        let _ = writer.await;
    }
}

struct Viewer {
    state: AppState,
    landscape: Uuid,
    wanted: Wanted,
    out: Outbox,
    wishes: watch::Sender<Option<Wish>>,
    head: Option<Head>,
    look: Look,
    /// The revision that the land is compared with.
    against: Option<(i64, Arc<Document>)>,
    /// The revision that is looked at, when that is not the head.
    at: Option<(i64, Arc<Document>)>,
    id: Uuid,
}

impl Viewer {
    /// Looks the head up in the database, and tells it whole.
    async fn refresh(&mut self) {
        match self.state.documents.head(self.landscape).await {
            Ok(Some(head)) => self.show_head(head).await,
            Ok(None) => self.say(&ToViewer::Gone).await,
            Err(error) => self.refuse(&error).await,
        }
    }

    /// Goes along with a move of the head; looks it up when one was missed.
    async fn follow(&mut self, moved: &HeadMove) {
        let known = self.head.as_ref().map(|head| (head.version, head.revision));
        let Some((version, revision)) = known else {
            return self.refresh().await;
        };
        if moved.version <= version {
            return;
        }
        let document = self
            .state
            .documents
            .at(self.landscape, moved.revision)
            .await;
        let (true, Ok(Some(document))) = (
            moved.version == version + 1 && moved.base == revision,
            document,
        ) else {
            return self.refresh().await;
        };
        let Ok(told) = moved.clone().told(&document, self.wanted.apart) else {
            return self.refresh().await;
        };
        self.head = Some(Head {
            version: moved.version,
            revision: moved.revision,
            parent: moved.parent,
            document,
            undo: moved.undo.clone(),
            redo: moved.redo.clone(),
            mark: moved.mark,
            author: moved.author.clone(),
        });
        self.say(&ToViewer::Moved(told)).await;
        self.wish_for_head();
    }

    async fn show_head(&mut self, head: Head) {
        let newest = self.head.as_ref().map_or(0, |known| known.version);
        // Looked up before a move that was told since.
        if head.version < newest {
            return;
        }
        let (of, apart) = (head.clone(), self.wanted.apart);
        let told = move || text(&ToViewer::Head(of.whole(apart)));
        match self.state.desk.run(told).await {
            Ok(told) => _ = self.out.send(Shows::Other, told).await,
            Err(error) => self.refuse(&error.into()).await,
        }
        self.head = Some(head);
        self.wish_for_head();
    }

    /// Wishes to see the head, or the revision that is looked at instead.
    fn wish_for_head(&self) {
        let head = self.head.as_ref();
        let head = head.map(|head| (head.revision, &head.document));
        let at = self
            .at
            .as_ref()
            .map(|(revision, document)| (*revision, document));
        if let Some((revision, document)) = at.or(head) {
            self.wish(document.recipe.clone(), revision, false, Moment::Now);
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
                self.against = self.looked_up(look.against, self.against.clone()).await;
                self.at = self.looked_up(look.at, self.at.clone()).await;
                self.look = Look {
                    cells,
                    cells_at_rest,
                    ..look
                };
                self.wish_for_head();
            }
            Ok(FromViewer::Preview { base, patch }) => self.preview(base, patch).await,
            Ok(FromViewer::PreviewEnd) => self.wish_for_head(),
            Ok(FromViewer::Before) => self.show_before().await,
            Ok(FromViewer::Whole) => self.refresh().await,
            Ok(FromViewer::Here { name, at }) => {
                let person = Person {
                    id: self.id,
                    name,
                    at,
                };
                self.state.live.is_here(self.landscape, person);
            }
            // No wish at all: the painter stops what it is doing.
            Ok(FromViewer::Stop) => {
                self.wishes.send_replace(None);
                self.say(&ToViewer::Stopped).await;
            }
            Err(error) => {
                let detail = format!("this was not understood: {error}");
                self.refuse(&ApiError::BadRequest(detail)).await
            }
        }
    }

    /// A revision that is to be looked at or compared with, and its document; `known` is
    /// the one until now.
    async fn looked_up(
        &self,
        revision: Option<i64>,
        known: Option<(i64, Arc<Document>)>,
    ) -> Option<(i64, Arc<Document>)> {
        let revision = revision?;
        if known.as_ref().is_some_and(|(known, _)| *known == revision) {
            return known;
        }
        match self.state.documents.at(self.landscape, revision).await {
            Ok(Some(document)) => return Some((revision, document)),
            Ok(None) => {
                let detail = format!("there is no revision {revision} of this landscape");
                self.refuse(&ApiError::BadRequest(detail)).await;
            }
            Err(error) => self.refuse(&error).await,
        }
        None
    }

    /// Shows what may have been missed: the head, and who is here.
    async fn catch_up(&mut self) {
        self.refresh().await;
        let people = self.state.live.beside(self.landscape, self.id);
        if !people.is_empty() {
            self.say(&ToViewer::People { people }).await;
        }
    }

    async fn tell_people(&self) {
        let people = self.state.live.beside(self.landscape, self.id);
        self.say(&ToViewer::People { people }).await;
    }

    async fn preview(&mut self, base: i64, patch: json_patch::Patch) {
        let Some(head) = &self.head else {
            return;
        };
        // An edit of an older head: the viewer has it made anew on the newer one.
        if head.revision != base {
            let revision = head.revision;
            return self.say(&ToViewer::Outdated { revision }).await;
        }
        let documents = &self.state.documents;
        let recipe = documents.preview(self.landscape, &head.document, patch);
        match recipe.await {
            Ok(recipe) => self.wish(Arc::new(recipe), base, true, Moment::Now),
            Err(error) => self.refuse(&error).await,
        }
    }

    async fn show_before(&mut self) {
        let Some(parent) = self.head.as_ref().and_then(|head| head.parent) else {
            return;
        };
        match self.state.documents.at(self.landscape, parent).await {
            Ok(Some(document)) => {
                self.wish(document.recipe.clone(), parent, false, Moment::Before);
            }
            Ok(None) => {}
            Err(error) => self.refuse(&error).await,
        }
    }

    async fn refuse(&self, error: &ApiError) {
        if let ApiError::Database(source) = error {
            tracing::error!(%source, "database");
        }
        self.say(&fault(error)).await;
    }

    async fn say(&self, message: &ToViewer<'_>) {
        // A viewer who is gone is noticed by the loop.
        let _ = send(&self.out, message).await;
    }
}
