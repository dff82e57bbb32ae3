//! Pictures that are being grown: viewers who wish for the same one share it, and it is
//! grown once. When the last of them leaves, it is stopped.

use std::sync::{Arc, Mutex, PoisonError, Weak};

use futures::FutureExt;
use futures::future::{BoxFuture, Shared, WeakShared};
use recipe::view::{Picture, View};
use recipe::{GrowError, Recipe};
use tokio::sync::watch;

use crate::compute::Panicked;
use crate::error::ApiError;

/// Why a picture was not grown, as all who wished for it are told.
#[derive(Clone, Debug)]
pub(super) enum Failed {
    Grow(GrowError),
    Panicked(Panicked),
}

impl From<Failed> for ApiError {
    fn from(failed: Failed) -> Self {
        match failed {
            Failed::Grow(error) => error.into(),
            Failed::Panicked(error) => error.into(),
        }
    }
}

/// What comes of it.
pub(super) type Grown = Result<Arc<Picture>, Failed>;
type Growing = BoxFuture<'static, Grown>;

/// All pictures that are being grown; cheap to clone.
#[derive(Clone, Default)]
pub(crate) struct Flights(Arc<Mutex<Vec<Flight>>>);

struct Flight {
    /// The recipe that it is of: two viewers of a revision have the very same one.
    recipe: Weak<Recipe>,
    view: View,
    growing: WeakShared<Growing>,
    progress: watch::Receiver<f32>,
}

/// A place on one of them.
pub(super) struct Seat {
    pub(super) growing: Shared<Growing>,
    /// How far it is.
    pub(super) progress: watch::Receiver<f32>,
}

impl Flights {
    /// The picture of `recipe` as `view` says, which `begin` begins to grow when nobody has
    /// yet; it says how far it is.
    pub(super) fn join(
        &self,
        recipe: &Arc<Recipe>,
        view: &View,
        begin: impl FnOnce(watch::Sender<f32>) -> Growing,
    ) -> Seat {
        let mut flights = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        flights.retain(|flight| flight.growing.upgrade().is_some());
        let same = |flight: &&Flight| {
            Weak::as_ptr(&flight.recipe) == Arc::as_ptr(recipe) && flight.view == *view
        };
        if let Some(flight) = flights.iter().find(same)
            && let Some(growing) = flight.growing.upgrade()
        {
            let progress = flight.progress.clone();
            return Seat { growing, progress };
        }
        let (report, progress) = watch::channel(0.0);
        let growing = begin(report).shared();
        flights.extend(growing.downgrade().map(|weak| Flight {
            recipe: Arc::downgrade(recipe),
            view: view.clone(),
            growing: weak,
            progress: progress.clone(),
        }));
        Seat { growing, progress }
    }
}
