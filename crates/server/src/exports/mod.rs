//! Exports: grown in the background, one after the other, packed into one file to
//! download.
//!
//! What is to be made stands in the database. Every service takes from there what it
//! makes (`making`), and says again and again that it is alive; what a service that died
//! has left is begun anew by whoever finds it. One that stops gives back what it has.

mod making;

use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use deliver::Wish;
use tokio::sync::Notify;
use uuid::Uuid;

pub(crate) use making::{begin, work};

use crate::config::Archives;

/// The exports of this service; cheap to clone.
#[derive(Clone)]
pub(crate) struct Exports {
    folder: Arc<Path>,
    archives: Archives,
    /// This service, among all on one database.
    me: Uuid,
    /// Something is to be made.
    wanted: Arc<Notify>,
    /// How far those are that are being made here.
    shares: Arc<Mutex<HashMap<Uuid, f32>>>,
}

/// What is wanted, of which revision: the newest when absent.
pub(crate) struct Wanted {
    pub(crate) revision: Option<i64>,
    pub(crate) wish: Wish,
}

impl Exports {
    pub(crate) fn new(folder: PathBuf, archives: Archives) -> Self {
        Self {
            folder: folder.into(),
            archives,
            me: Uuid::now_v7(),
            wanted: Arc::default(),
            shares: Arc::default(),
        }
    }

    /// The packed file of an export that is done.
    pub(crate) fn file(&self, id: Uuid) -> PathBuf {
        self.folder.join(format!("{id}.zip"))
    }

    fn shares(&self) -> MutexGuard<'_, HashMap<Uuid, f32>> {
        self.shares.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// How far an export is that is being made here, 0 to 1.
    pub(crate) fn share(&self, id: Uuid) -> Option<f32> {
        self.shares().get(&id).copied()
    }
}
