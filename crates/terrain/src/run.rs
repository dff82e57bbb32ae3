//! How a computation is run: whether it should stop, and how far it is.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// A wish to stop, shared between the one who asks and the one who computes.
#[derive(Clone, Debug, Default)]
pub struct Cancel(Arc<AtomicBool>);

impl Cancel {
    /// A wish that nobody has expressed yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Asks the computation to stop at its next check.
    pub fn cancel(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether someone has asked to stop.
    pub fn is_cancelled(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }
}

/// The computation was asked to stop and did; nothing was changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("stopped on request")]
pub struct Cancelled;

/// The surroundings of one computation.
///
/// Threads are those of the rayon pool that the caller is in.
#[derive(Clone, Copy, Default)]
pub struct Run<'a> {
    cancel: Option<&'a Cancel>,
    progress: Option<&'a (dyn Fn(f32) + Sync)>,
}

impl<'a> Run<'a> {
    /// Runs to the end without reporting.
    pub const fn to_the_end() -> Self {
        Self {
            cancel: None,
            progress: None,
        }
    }

    /// Stops when `cancel` asks for it.
    pub fn until(cancel: &'a Cancel) -> Self {
        Self {
            cancel: Some(cancel),
            progress: None,
        }
    }

    /// The same run, reporting its progress (0 to 1) to `progress`.
    pub fn reporting(self, progress: &'a (dyn Fn(f32) + Sync)) -> Self {
        Self {
            progress: Some(progress),
            ..self
        }
    }

    /// The same run without reports, for a part of a larger piece of work.
    pub fn quietly(self) -> Self {
        Self {
            progress: None,
            ..self
        }
    }

    /// Returns [`Cancelled`] when someone has asked to stop.
    pub fn check(&self) -> Result<(), Cancelled> {
        match self.cancel {
            Some(cancel) if cancel.is_cancelled() => Err(Cancelled),
            _ => Ok(()),
        }
    }

    /// Reports that `share` (0 to 1) of the work is done.
    pub fn report(&self, share: f32) {
        if let Some(progress) = self.progress {
            progress(share.clamp(0.0, 1.0));
        }
    }
}
