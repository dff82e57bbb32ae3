//! Computation, apart from the threads that answer requests.

use std::sync::Arc;

use tokio::sync::Semaphore;

/// Threads for computing, and a bound on how much is computed at once.
#[derive(Clone)]
pub(crate) struct Compute {
    pool: Arc<rayon::ThreadPool>,
    turns: Arc<Semaphore>,
}

/// The pieces of work that share the threads at any time. More would only
/// make each of them slower and take more memory.
const AT_ONCE: usize = 3;

impl Compute {
    pub(crate) fn new() -> Self {
        let pool = rayon::ThreadPoolBuilder::new()
            .thread_name(|i| format!("compute-{i}"))
            .build()
            .expect("threads for computing");
        Self {
            pool: Arc::new(pool),
            turns: Arc::new(Semaphore::new(AT_ONCE)),
        }
    }

    /// Runs `work` on the computing threads, when it is its turn.
    ///
    /// # Panics
    /// When `work` does.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> T {
        let _turn = self
            .turns
            .acquire()
            .await
            .expect("the semaphore is never closed");
        let pool = self.pool.clone();
        tokio::task::spawn_blocking(move || pool.install(work))
            .await
            .expect("work does not panic")
    }
}
