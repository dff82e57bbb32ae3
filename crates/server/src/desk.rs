//! Where documents are read, checked and written: what answers an edit waits for nobody's
//! growth, and keeps no thread that answers requests.

use std::sync::Arc;

use tokio::sync::oneshot;

use crate::compute::{Panicked, caught};

/// Threads for documents; cheap to clone.
#[derive(Clone)]
pub(crate) struct Desk(Arc<rayon::ThreadPool>);

/// Documents that are worked on at once: each may take many times its length in memory.
const AT_ONCE: usize = 2;
/// Documents are nested many levels deep.
const STACK_BYTES: usize = 64 << 20;

impl Desk {
    pub(crate) fn new() -> Self {
        let threads = rayon::ThreadPoolBuilder::new()
            .num_threads(AT_ONCE)
            .thread_name(|i| format!("desk-{i}"))
            .stack_size(STACK_BYTES)
            .build()
            .expect("threads for documents");
        Self(Arc::new(threads))
    }

    /// Does what takes milliseconds, one after the other.
    ///
    /// # Errors
    /// [`Panicked`] when `work` did.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Panicked> {
        let (give, take) = oneshot::channel();
        let span = tracing::Span::current();
        self.0.spawn_fifo(move || {
            let _entered = span.enter();
            // Nobody may be waiting any more.
            if !give.is_closed() {
                let _ = give.send(caught("desk", work));
            }
        });
        take.await.unwrap_or(Err(Panicked))
    }
}
