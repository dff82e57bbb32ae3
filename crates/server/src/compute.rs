//! Computation, apart from the threads that answer requests.
//!
//! A permit belongs to the work that has it, not to whoever asked: when they leave,
//! the work is asked to stop, and only when it has really ended is its memory free.
//! Each class has threads of its own, so that none is stuck beneath another's, and
//! the less urgent ones step back.

use std::any::Any;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;
use std::time::Instant;

use terrain::Cancel;
use tokio::sync::oneshot;

use crate::admission::{Admission, Class, Need};

/// Threads for computing, and a bound on how much is computed at once.
#[derive(Clone)]
pub(crate) struct Compute {
    pools: Arc<[rayon::ThreadPool; Class::ALL.len()]>,
    admission: Admission,
}

/// Work went wrong inside: a fault of the program. It was noted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("something went wrong inside the service; it was noted, and nothing was changed")]
pub(crate) struct Panicked;

/// How far each class steps back for the others (niceness, 0 to 19).
const STEPS_BACK: [i32; Class::ALL.len()] = [0, 2, 10, 14, 19];
/// Strands and masks take in one another many levels deep.
const STACK_BYTES: usize = 64 << 20;

impl Compute {
    /// All work together may take so much memory, bytes.
    pub(crate) fn within(memory: f64) -> Self {
        Self {
            pools: Arc::new(Class::ALL.map(threads)),
            admission: Admission::over(memory),
        }
    }

    /// Runs `work` on the computing threads, when there is room for it. Whoever stops
    /// waiting for it has it stopped: it is given the wish to stop.
    ///
    /// # Errors
    /// [`Panicked`] when `work` did.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        need: Need,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, Panicked> {
        self.run_until(need, Cancel::new(), work).await
    }

    /// The same with a wish to stop that others may express too.
    pub(crate) async fn run_until<T: Send + 'static>(
        &self,
        need: Need,
        cancel: Cancel,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, Panicked> {
        let class = need.class;
        let since = Instant::now();
        let permit = self.admission.wait(need).await;
        metrics::histogram!("morphogen_wait_seconds", "class" => class.name())
            .record(since.elapsed().as_secs_f64());
        let mut stop = StopWhenLeft(Some(cancel.clone()));
        let (give, take) = oneshot::channel();
        // Who asked is gone with the task; what is logged still says for whom.
        let span = tracing::Span::current();
        self.pools[class as usize].spawn(move || {
            let _entered = span.enter();
            let since = Instant::now();
            let done = caught(class.name(), || work(&cancel));
            metrics::histogram!("morphogen_work_seconds", "class" => class.name())
                .record(since.elapsed().as_secs_f64());
            // The work has ended: now others may begin.
            drop(permit);
            // Nobody may be waiting any more.
            let _ = give.send(done);
        });
        let done = take.await.unwrap_or(Err(Panicked));
        // It has ended by itself; the wish may be another piece of work's too.
        stop.0 = None;
        done
    }

    /// How many pieces of work wait to begin.
    pub(crate) fn waiting(&self) -> [(Class, usize); Class::ALL.len()] {
        self.admission.waiting()
    }
}

/// The threads of a class.
fn threads(class: Class) -> rayon::ThreadPool {
    let step_back = STEPS_BACK[class as usize];
    rayon::ThreadPoolBuilder::new()
        .thread_name(move |i| format!("{}-{i}", class.name()))
        .stack_size(STACK_BYTES)
        .start_handler(move |_| {
            // On Linux this is the calling thread's; where it is refused, work
            // is as urgent as all else, which is no fault.
            if step_back > 0 {
                let _ = rustix::process::nice(step_back);
            }
        })
        .build()
        .expect("threads for computing")
}

/// What `work` gives; a panic in it is noted and handed on.
pub(crate) fn caught<T>(kind: &'static str, work: impl FnOnce() -> T) -> Result<T, Panicked> {
    catch_unwind(AssertUnwindSafe(work)).map_err(|panic| {
        metrics::counter!("morphogen_panics_total").increment(1);
        tracing::error!(kind, panic = said(&*panic), "work panicked");
        Panicked
    })
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
        let compute = Compute::within(1e9);
        for _ in 0..8 {
            let done = compute
                .run(Class::Picture.taking(1.0), |_| panic!("as a test"))
                .await;
            assert_eq!(done, Err::<(), _>(Panicked));
        }
        assert_eq!(compute.run(Class::Picture.taking(1.0), |_| 7).await, Ok(7));
    }

    /// Whoever leaves stops the work within 20 ms, and its room is free only then.
    #[tokio::test]
    async fn whoever_leaves_stops_the_work_which_keeps_its_permit_until_it_ends() {
        let compute = Compute::within(1e9);
        let (ended, has_ended) = std::sync::mpsc::channel();
        let work = compute.run(Class::Export.taking(1.0), move |cancel| {
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
        let next = compute
            .run(Class::Export.taking(1.0), |_| Instant::now())
            .await;
        let ended = has_ended.recv().expect("it ended");
        assert!(
            next.expect("ran") >= ended,
            "the next one waited for its end"
        );
        assert!(ended - left < Duration::from_millis(80 + 20));
    }
}
