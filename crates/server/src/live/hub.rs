//! Who is told about which landscape.
//!
//! One task hears from the database of every move of a head, whichever service on
//! it made it, in the order of commits, and hands it on: so every viewer sees all
//! of them in that order.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use sqlx::postgres::PgListener;
use tokio::sync::{broadcast, watch};
use uuid::Uuid;

use super::HeadMove;
use super::people::{People, Person};
use crate::documents::Documents;
use crate::store::{HEADS, Move, Store};

/// What happened to a landscape.
#[derive(Clone, Debug)]
pub(crate) enum Event {
    /// Its head moved.
    Moved(Arc<HeadMove>),
    /// Something may have happened that was not heard of.
    Missed,
    /// Somebody came, left, or looks elsewhere.
    People,
    /// It was deleted.
    Gone,
}

/// The channels on which changes are told; cheap to clone.
#[derive(Clone)]
pub(crate) struct Live {
    events: Arc<Mutex<HashMap<Uuid, broadcast::Sender<Event>>>>,
    people: Arc<People>,
    closing: Arc<watch::Sender<bool>>,
}

/// A viewer that falls this many changes behind looks the head up instead.
const BEHIND: usize = 32;
/// How long it takes to look for the database again.
const AGAIN: Duration = Duration::from_millis(500);

impl Live {
    pub(crate) fn new() -> Self {
        Self {
            events: Arc::default(),
            people: Arc::default(),
            closing: Arc::new(watch::Sender::new(false)),
        }
    }

    fn events(&self) -> MutexGuard<'_, HashMap<Uuid, broadcast::Sender<Event>>> {
        self.events.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// All that happens to `landscape` from now on.
    pub(crate) fn listen(&self, landscape: Uuid) -> broadcast::Receiver<Event> {
        let mut events = self.events();
        events.retain(|_, sender| sender.receiver_count() > 0);
        events
            .entry(landscape)
            .or_insert_with(|| broadcast::Sender::new(BEHIND))
            .subscribe()
    }

    fn is_watched(&self, landscape: Uuid) -> bool {
        let events = self.events();
        events
            .get(&landscape)
            .is_some_and(|sender| sender.receiver_count() > 0)
    }

    fn tell(&self, landscape: Uuid, event: Event) {
        if let Some(sender) = self.events().get(&landscape) {
            // Nobody listening is fine: the head is in the database.
            let _ = sender.send(event);
        }
    }

    fn tell_all(&self, event: &Event) {
        for sender in self.events().values() {
            let _ = sender.send(event.clone());
        }
    }

    /// Somebody came to a landscape, or looks elsewhere on it.
    pub(super) fn is_here(&self, landscape: Uuid, person: Person) {
        self.people.is_here(landscape, person);
        self.tell(landscape, Event::People);
    }

    /// Somebody left a landscape.
    pub(super) fn left(&self, landscape: Uuid, id: Uuid) {
        self.people.left(landscape, id);
        self.tell(landscape, Event::People);
    }

    /// All who look at a landscape but the one called `id`.
    pub(super) fn beside(&self, landscape: Uuid, id: Uuid) -> Vec<Person> {
        self.people.beside(landscape, id)
    }

    /// How many viewers there are.
    pub(crate) fn viewers(&self) -> usize {
        let events = self.events();
        events.values().map(broadcast::Sender::receiver_count).sum()
    }

    /// Ends all sessions.
    pub(crate) fn close(&self) {
        self.closing.send_replace(true);
    }

    /// Becomes true when all sessions are to end.
    pub(crate) fn closing(&self) -> watch::Receiver<bool> {
        self.closing.subscribe()
    }

    /// Comes back when all sessions are to end.
    pub(crate) async fn closed(closing: &mut watch::Receiver<bool>) {
        // An error means that the service is gone already.
        let _ = closing.wait_for(|closing| *closing).await;
    }

    /// Hears from the database what happens, and hands it on, until all sessions
    /// are to end.
    pub(crate) async fn hear(self, store: Store, documents: Documents, mut listener: PgListener) {
        let mut closing = self.closing();
        loop {
            let heard = tokio::select! {
                heard = listener.try_recv() => heard,
                () = Self::closed(&mut closing) => return,
            };
            match heard {
                Ok(Some(told)) => self.hand_on(&documents, told.payload()).await,
                // The connection was lost, and what was told meanwhile with it.
                Ok(None) => self.tell_all(&Event::Missed),
                Err(source) => {
                    tracing::warn!(%source, "the database is not heard");
                    tokio::time::sleep(AGAIN).await;
                    if let Ok(again) = heads_of(&store).await {
                        listener = again;
                        self.tell_all(&Event::Missed);
                    }
                }
            }
        }
    }

    async fn hand_on(&self, documents: &Documents, payload: &str) {
        let Some((landscape, moved)) = read(payload) else {
            tracing::warn!(payload, "this was not understood");
            return;
        };
        if !self.is_watched(landscape) {
            return;
        }
        let event = match moved {
            None => Event::Gone,
            Some(moved) => match documents.told(landscape, &moved).await {
                Ok(told) => Event::Moved(told),
                // Whoever listens looks for themselves, and says what is wrong.
                Err(_) => Event::Missed,
            },
        };
        self.tell(landscape, event);
    }
}

/// A connection that hears of all moves of heads.
pub(crate) async fn heads_of(store: &Store) -> sqlx::Result<PgListener> {
    let mut listener = PgListener::connect_with(store.pool()).await?;
    listener.listen(HEADS).await?;
    Ok(listener)
}

fn read(payload: &str) -> Option<(Uuid, Option<Move>)> {
    let mut words = payload.split(' ');
    let landscape = words.next()?.parse().ok()?;
    let numbers: Vec<i64> = words.map(str::parse).collect::<Result<_, _>>().ok()?;
    let moved = match numbers[..] {
        [] => None,
        [version, from, to] => Some(Move { version, from, to }),
        _ => return None,
    };
    Some((landscape, moved))
}
