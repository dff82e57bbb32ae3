//! Whose turn it is: a few at once, the most urgent first.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use tokio::sync::oneshot;

/// How urgent a piece of work is, the most urgent first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Class {
    /// The first, coarse picture of an edit: somebody holds a slider.
    Preview,
    /// The picture in full: somebody looks.
    Picture,
    /// A sheet, a core sample, a file of one mask: somebody waits.
    Study,
    /// An export: nobody need wait.
    Export,
}

impl Class {
    /// Every class.
    pub(crate) const ALL: [Self; 4] = [Self::Preview, Self::Picture, Self::Study, Self::Export];

    /// Its name in measurements.
    pub(crate) fn name(self) -> &'static str {
        match self {
            Class::Preview => "preview",
            Class::Picture => "picture",
            Class::Study => "study",
            Class::Export => "export",
        }
    }
}

/// A bound on how much is done at once. Cheap to clone.
#[derive(Clone)]
pub(crate) struct Turns(Arc<Mutex<Queue>>);

struct Queue {
    free: usize,
    /// Who waits, the most urgent and then the first to come first.
    waiting: BTreeMap<(Class, u64), oneshot::Sender<Turn>>,
    came: u64,
}

/// The right to work, until it is dropped.
pub(crate) struct Turn(Turns);

impl Turns {
    /// So many turns at once.
    pub(crate) fn new(at_once: usize) -> Self {
        Self(Arc::new(Mutex::new(Queue {
            free: at_once,
            waiting: BTreeMap::new(),
            came: 0,
        })))
    }

    fn queue(&self) -> MutexGuard<'_, Queue> {
        // Every statement below leaves the queue whole.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Waits for a turn. Whoever stops waiting leaves the queue.
    pub(crate) async fn wait(&self, class: Class) -> Turn {
        let place = {
            let mut queue = self.queue();
            if queue.free > 0 {
                queue.free -= 1;
                return Turn(self.clone());
            }
            queue.came += 1;
            let (give, take) = oneshot::channel();
            let key = (class, queue.came);
            queue.waiting.insert(key, give);
            take
        };
        // Senders are dropped only after they were used.
        place.await.expect("a turn is given")
    }

    /// How many wait.
    pub(crate) fn waiting(&self) -> usize {
        let queue = self.queue();
        queue
            .waiting
            .values()
            .filter(|give| !give.is_closed())
            .count()
    }
}

impl Drop for Turn {
    fn drop(&mut self) {
        loop {
            let next = {
                let mut queue = self.0.queue();
                let Some((_, next)) = queue.waiting.pop_first() else {
                    queue.free += 1;
                    return;
                };
                next
            };
            if next.is_closed() {
                continue;
            }
            match next.send(Turn(self.0.clone())) {
                Ok(()) => return,
                // They left in this very moment; that turn must not be given twice.
                Err(turn) => std::mem::forget(turn),
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use std::time::Duration;

    use super::{Class, Turns};

    #[tokio::test]
    async fn the_most_urgent_goes_first_and_then_the_first_to_come() {
        let turns = Turns::new(1);
        let held = turns.wait(Class::Export).await;
        let (told, mut order) = tokio::sync::mpsc::unbounded_channel();
        let queue = [
            (Class::Export, "export"),
            (Class::Picture, "picture"),
            (Class::Preview, "preview"),
            (Class::Picture, "second picture"),
        ];
        for (class, name) in queue {
            let (turns, told) = (turns.clone(), told.clone());
            tokio::spawn(async move {
                let turn = turns.wait(class).await;
                told.send(name).expect("heard");
                drop(turn);
            });
            tokio::time::sleep(Duration::from_millis(5)).await;
        }
        assert_eq!(turns.waiting(), 4);
        drop(held);
        for expected in ["preview", "picture", "second picture", "export"] {
            assert_eq!(order.recv().await, Some(expected));
        }
    }

    #[tokio::test]
    async fn whoever_stops_waiting_takes_no_turn_along() {
        let turns = Turns::new(1);
        let held = turns.wait(Class::Study).await;
        for _ in 0..50 {
            let waited = turns.wait(Class::Picture);
            let gave_up = tokio::time::timeout(Duration::from_millis(1), waited).await;
            assert!(gave_up.is_err());
        }
        assert_eq!(turns.waiting(), 0);
        drop(held);
        let free = tokio::time::timeout(Duration::from_secs(1), turns.wait(Class::Study));
        assert!(free.await.is_ok());
    }
}
