//! Computation, apart from the threads that answer requests.
//!
//! A turn belongs to the work that has it, not to whoever asked: when they leave,
//! the work is asked to stop, and only when it has really ended is its turn free.
//! Each class has threads of its own, so that none is stuck beneath another's, and
//! the less urgent ones step back.

use std::any::Any;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;
use std::time::Instant;

use terrain::Cancel;
use tokio::sync::oneshot;

use crate::turns::{Class, Turns};

/// Threads for computing, and a bound on how much is computed at once.
#[derive(Clone)]
pub(crate) struct Compute {
    previews: Pool,
    pictures: Pool,
    studies: Pool,
    exports: Pool,
}

#[derive(Clone)]
struct Pool {
    threads: Arc<rayon::ThreadPool>,
    turns: Turns,
}

/// Work went wrong inside: a fault of the program. It was noted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("something went wrong inside the service; it was noted, and nothing was changed")]
pub(crate) struct Panicked;

/// Pieces of work of a class at once. More would only make each of them slower and
/// take more memory; an export may take gigabytes.
const AT_ONCE: [usize; 4] = [2, 2, 2, 1];
/// How far each class steps back for the others (niceness, 0 to 19).
const STEPS_BACK: [i32; 4] = [0, 2, 10, 19];
/// Strands and masks take in one another many levels deep.
const STACK_BYTES: usize = 64 << 20;

impl Compute {
    pub(crate) fn new() -> Self {
        Self {
            previews: Pool::of(Class::Preview),
            pictures: Pool::of(Class::Picture),
            studies: Pool::of(Class::Study),
            exports: Pool::of(Class::Export),
        }
    }

    fn pool(&self, class: Class) -> &Pool {
        match class {
            Class::Preview => &self.previews,
            Class::Picture => &self.pictures,
            Class::Study => &self.studies,
            Class::Export => &self.exports,
        }
    }

    /// Runs `work` on the computing threads, when it is its turn. Whoever stops
    /// waiting for it has it stopped: it is given the wish to stop.
    ///
    /// # Errors
    /// [`Panicked`] when `work` did.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        class: Class,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, Panicked> {
        self.run_until(class, Cancel::new(), work).await
    }

    /// The same with a wish to stop that others may express too.
    pub(crate) async fn run_until<T: Send + 'static>(
        &self,
        class: Class,
        cancel: Cancel,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, Panicked> {
        let pool = self.pool(class);
        let since = Instant::now();
        let turn = pool.turns.wait(class).await;
        metrics::histogram!("morphogen_wait_seconds", "class" => class.name())
            .record(since.elapsed().as_secs_f64());
        let mut stop = StopWhenLeft(Some(cancel.clone()));
        let (give, take) = oneshot::channel();
        // Who asked is gone with the task; what is logged still says for whom.
        let span = tracing::Span::current();
        pool.threads.spawn(move || {
            let _entered = span.enter();
            let since = Instant::now();
            let done = catch_unwind(AssertUnwindSafe(|| work(&cancel)));
            metrics::histogram!("morphogen_work_seconds", "class" => class.name())
                .record(since.elapsed().as_secs_f64());
            // The work has ended: now others may begin.
            drop(turn);
            let done = done.map_err(|panic| {
                metrics::counter!("morphogen_panics_total").increment(1);
                tracing::error!(class = class.name(), panic = said(&*panic), "work panicked");
                Panicked
            });
            // Nobody may be waiting any more.
            let _ = give.send(done);
        });
        let done = take.await.unwrap_or(Err(Panicked));
        // It has ended by itself; the wish may be another piece of work's too.
        stop.0 = None;
        done
    }

    /// How many pieces of work wait for a turn.
    pub(crate) fn waiting(&self) -> [(Class, usize); 4] {
        Class::ALL.map(|class| (class, self.pool(class).turns.waiting()))
    }
}

impl Pool {
    fn of(class: Class) -> Self {
        let (at_once, step_back) = (AT_ONCE[class as usize], STEPS_BACK[class as usize]);
        let threads = rayon::ThreadPoolBuilder::new()
            .thread_name(move |i| format!("{}-{i}", class.name()))
            .stack_size(STACK_BYTES)
            .start_handler(move |_| {
                // On Linux this is the calling thread's; where it is refused, work
                // is as urgent as all else, which is no fault.
                if step_back > 0 {
                    let _ = rustix::process::nice(step_back);
                }
            })
            // A panic in a piece of work is caught above and handed on.
            .build()
            .expect("threads for computing");
        Self {
            threads: Arc::new(threads),
            turns: Turns::new(at_once),
        }
    }
}

/// Expresses the wish to stop when whoever waited leaves.
struct StopWhenLeft(Option<Cancel>);

impl Drop for StopWhenLeft {
    fn drop(&mut self) {
        if let Some(cancel) = &self.0 {
            cancel.cancel();
        }
    }
}

fn said(panic: &(dyn Any + Send)) -> &str {
    let text = panic.downcast_ref::<&str>().copied();
    text.or_else(|| panic.downcast_ref::<String>().map(String::as_str))
        .unwrap_or("it said nothing")
}

#[cfg(test)]
mod tests {
    use std::time::{Duration, Instant};

    use super::{Class, Compute, Panicked};

    #[tokio::test]
    async fn a_panic_is_told_and_the_next_work_goes_on() {
        let compute = Compute::new();
        for _ in 0..8 {
            let done = compute.run(Class::Picture, |_| panic!("as a test")).await;
            assert_eq!(done, Err::<(), _>(Panicked));
        }
        assert_eq!(compute.run(Class::Picture, |_| 7).await, Ok(7));
    }

    /// Whoever leaves stops the work within 20 ms, and its turn is free only then.
    #[tokio::test]
    async fn whoever_leaves_stops_the_work_which_keeps_its_turn_until_it_ends() {
        let compute = Compute::new();
        let (ended, has_ended) = std::sync::mpsc::channel();
        let work = compute.run(Class::Export, move |cancel| {
            while !cancel.is_cancelled() {
                std::thread::sleep(Duration::from_millis(1));
            }
            // Tidying up takes a while.
            std::thread::sleep(Duration::from_millis(80));
            ended.send(Instant::now()).expect("heard");
        });
        let left = tokio::time::timeout(Duration::from_millis(30), work).await;
        assert!(left.is_err(), "it was left alone");
        let left = Instant::now();
        let next = compute.run(Class::Export, |_| Instant::now()).await;
        let ended = has_ended.recv().expect("it ended");
        assert!(
            next.expect("ran") >= ended,
            "the next one waited for its end"
        );
        assert!(ended - left < Duration::from_millis(80 + 20));
    }
}
