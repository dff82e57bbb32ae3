//! Who is told about which landscape.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use tokio::sync::{broadcast, watch};
use uuid::Uuid;

use super::Head;

/// The channels on which changes are told; cheap to clone.
#[derive(Clone)]
pub(crate) struct Live {
    heads: Arc<Mutex<HashMap<Uuid, broadcast::Sender<Arc<Head>>>>>,
    closing: Arc<watch::Sender<bool>>,
}

/// A viewer that falls this many changes behind is told the newest one only.
const BEHIND: usize = 32;

impl Live {
    pub(crate) fn new() -> Self {
        Self {
            heads: Arc::default(),
            closing: Arc::new(watch::Sender::new(false)),
        }
    }

    /// Every head of `landscape` from now on.
    pub(crate) fn listen(&self, landscape: Uuid) -> broadcast::Receiver<Arc<Head>> {
        let mut heads = self.heads.lock().unwrap_or_else(PoisonError::into_inner);
        heads.retain(|_, sender| sender.receiver_count() > 0);
        heads
            .entry(landscape)
            .or_insert_with(|| broadcast::Sender::new(BEHIND))
            .subscribe()
    }

    /// Tells all viewers of `landscape` its new head, which is committed.
    pub(crate) fn tell(&self, landscape: Uuid, head: Head) {
        let heads = self.heads.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(sender) = heads.get(&landscape) {
            // Nobody listening is fine: the head is in the database.
            let _ = sender.send(Arc::new(head));
        }
    }

    /// Ends all sessions.
    pub(crate) fn close(&self) {
        self.closing.send_replace(true);
    }

    /// Becomes true when all sessions are to end.
    pub(crate) fn closing(&self) -> watch::Receiver<bool> {
        self.closing.subscribe()
    }
}
