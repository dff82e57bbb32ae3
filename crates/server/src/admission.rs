//! Which work may begin: one queue for all of it, the most urgent first, within the memory
//! and the threads of the whole machine.

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
    /// A picture finer than one works at: nobody waits for it, but it is looked at.
    Detail,
    /// An export: nobody need wait.
    Export,
}

impl Class {
    /// Every class.
    pub(crate) const ALL: [Self; 5] = [
        Self::Preview,
        Self::Picture,
        Self::Study,
        Self::Detail,
        Self::Export,
    ];

    /// Its name in measurements.
    pub(crate) fn name(self) -> &'static str {
        match self {
            Class::Preview => "preview",
            Class::Picture => "picture",
            Class::Study => "study",
            Class::Detail => "detail",
            Class::Export => "export",
        }
    }

    /// Pieces of work of this class, and of more urgent ones, that may be at work when another
    /// begins. More would only make each of them slower.
    fn at_once(self) -> usize {
        2
    }

    /// The share of the machine's memory that is left for more urgent work: a long one must
    /// not keep a picture waiting that takes as much as any may.
    fn leaves(self) -> f64 {
        match self {
            Class::Export => 0.25,
            _ => 0.0,
        }
    }

    /// Whether one piece of it at a time is enough, whatever is free.
    fn one_at_a_time(self) -> bool {
        self == Class::Export
    }

    /// A piece of this class that takes so much memory, bytes.
    pub(crate) fn taking(self, bytes: f64) -> Need {
        let class = self;
        Need { class, bytes }
    }
}

/// What a piece of work needs to begin.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Need {
    pub(crate) class: Class,
    /// Memory that it takes at once, as far as it was counted.
    pub(crate) bytes: f64,
}

/// A bound on what is done at once. Cheap to clone.
#[derive(Clone)]
pub(crate) struct Admission(Arc<Mutex<Queue>>);

struct Queue {
    /// Memory of all work together, bytes.
    memory: f64,
    /// What is at work: pieces by class, and the memory that they take.
    at_work: [usize; Class::ALL.len()],
    held: f64,
    /// Who waits, the most urgent and then the first to come first.
    waiting: BTreeMap<(Class, u64), Waiting>,
    came: u64,
}

struct Waiting {
    bytes: f64,
    give: oneshot::Sender<Permit>,
}

/// The right to work, until it is dropped.
pub(crate) struct Permit {
    admission: Admission,
    need: Need,
}

impl Queue {
    /// Whether a piece of work may begin beside what is at work. One that takes more than
    /// there is begins once it would be alone: its own budget allowed it.
    fn admits(&self, Need { class, bytes }: Need) -> bool {
        let beside: usize = self.at_work[..=class as usize].iter().sum();
        let alone = class.one_at_a_time() && self.at_work[class as usize] > 0;
        let room = self.memory * (1.0 - class.leaves());
        beside < class.at_once() && !alone && (self.held + bytes <= room || self.held == 0.0)
    }

    fn begin(&mut self, Need { class, bytes }: Need) {
        self.at_work[class as usize] += 1;
        self.held += bytes;
    }

    fn end(&mut self, Need { class, bytes }: Need) {
        self.at_work[class as usize] -= 1;
        self.held -= bytes;
        // Sums of floats do not quite come back to nothing.
        if self.at_work.iter().all(|&pieces| pieces == 0) {
            self.held = 0.0;
        }
    }

    /// The next to begin: the first in the order of urgency, if there is room for it. Nobody
    /// less urgent goes before, or large work would never find its room.
    fn next(&mut self) -> Option<(Need, oneshot::Sender<Permit>)> {
        loop {
            let (&(class, _), first) = self.waiting.first_key_value()?;
            let need = class.taking(first.bytes);
            if first.give.is_closed() {
                self.waiting.pop_first();
                continue;
            }
            if !self.admits(need) {
                return None;
            }
            let (_, first) = self.waiting.pop_first()?;
            self.begin(need);
            return Some((need, first.give));
        }
    }
}

impl Admission {
    /// All work together may take so much memory, bytes.
    pub(crate) fn over(memory: f64) -> Self {
        Self(Arc::new(Mutex::new(Queue {
            memory,
            at_work: [0; Class::ALL.len()],
            held: 0.0,
            waiting: BTreeMap::new(),
            came: 0,
        })))
    }

    fn queue(&self) -> MutexGuard<'_, Queue> {
        // Every statement above leaves the queue whole.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Waits until work may begin. Whoever stops waiting leaves the queue.
    pub(crate) async fn wait(&self, need: Need) -> Permit {
        // Dropped after the place in the queue is left, and not before.
        let waits = Leaves(self);
        let take = {
            let mut queue = self.queue();
            queue.came += 1;
            let (give, take) = oneshot::channel();
            let bytes = need.bytes;
            let place = (need.class, queue.came);
            queue.waiting.insert(place, Waiting { bytes, give });
            take
        };
        self.let_begin();
        // Senders are dropped only after they were used.
        let permit = take.await.expect("a permit is given");
        std::mem::forget(waits);
        permit
    }

    /// Lets all begin for whom there is room.
    fn let_begin(&self) {
        loop {
            let Some((need, give)) = self.queue().next() else {
                return;
            };
            let admission = self.clone();
            // Whoever left in this very moment gives it back by dropping it.
            let _ = give.send(Permit { admission, need });
        }
    }

    /// How many wait.
    pub(crate) fn waiting(&self) -> [(Class, usize); Class::ALL.len()] {
        let queue = self.queue();
        Class::ALL.map(|class| {
            let of_class = queue.waiting.range((class, 0)..=(class, u64::MAX));
            let there = of_class.filter(|(_, waiting)| !waiting.give.is_closed());
            (class, there.count())
        })
    }
}

/// Whoever leaves the queue may have stood before others.
struct Leaves<'a>(&'a Admission);

impl Drop for Leaves<'_> {
    fn drop(&mut self) {
        self.0.let_begin();
    }
}

impl Drop for Permit {
    fn drop(&mut self) {
        self.admission.queue().end(self.need);
        self.admission.let_begin();
    }
}

#[cfg(test)]
mod tests {
    use std::time::Duration;

    use tokio::sync::mpsc;

    use super::{Admission, Class, Need, Permit};

    const SOON: Duration = Duration::from_millis(20);

    async fn begins(admission: &Admission, need: Need) -> Option<Permit> {
        tokio::time::timeout(SOON, admission.wait(need)).await.ok()
    }

    #[tokio::test]
    async fn the_most_urgent_begins_first_whatever_its_class() {
        let admission = Admission::over(100.0);
        let held = [Class::Preview, Class::Preview].map(|class| class.taking(1.0));
        let held = [admission.wait(held[0]).await, admission.wait(held[1]).await];
        let (told, mut order) = mpsc::unbounded_channel();
        let queue = [
            (Class::Export, "export"),
            (Class::Picture, "picture"),
            (Class::Study, "study"),
            (Class::Preview, "preview"),
            (Class::Picture, "second picture"),
        ];
        for (class, name) in queue {
            let (admission, told) = (admission.clone(), told.clone());
            tokio::spawn(async move {
                // Each takes so much that it is alone.
                let permit = admission.wait(class.taking(99.5)).await;
                told.send(name).expect("heard");
                drop(permit);
            });
            tokio::time::sleep(Duration::from_millis(5)).await;
        }
        let waiting: usize = admission.waiting().iter().map(|(_, count)| count).sum();
        assert_eq!(waiting, 5);
        drop(held);
        for expected in ["preview", "picture", "second picture", "study", "export"] {
            assert_eq!(order.recv().await, Some(expected));
        }
    }

    #[tokio::test]
    async fn all_work_together_keeps_within_the_memory_of_the_machine() {
        let admission = Admission::over(100.0);
        let export = begins(&admission, Class::Export.taking(75.0)).await;
        assert!(export.is_some());
        let first = begins(&admission, Class::Picture.taking(20.0)).await;
        assert!(first.is_some());
        let second = begins(&admission, Class::Picture.taking(20.0)).await;
        assert!(second.is_none(), "115 of 100");
        drop(first);
        assert!(
            begins(&admission, Class::Picture.taking(20.0))
                .await
                .is_some()
        );
        drop(export);
        // What leaves no room for a picture waits, though it would fit by itself.
        let picture = begins(&admission, Class::Picture.taking(20.0)).await;
        assert!(picture.is_some());
        assert!(
            begins(&admission, Class::Export.taking(60.0))
                .await
                .is_none()
        );
        drop(picture);
        assert!(
            begins(&admission, Class::Export.taking(60.0))
                .await
                .is_some()
        );
    }

    #[tokio::test]
    async fn less_urgent_work_keeps_nobody_waiting() {
        let admission = Admission::over(100.0);
        let less = [Class::Export, Class::Detail, Class::Study, Class::Picture];
        let mut held = Vec::new();
        for class in less {
            held.extend(begins(&admission, class.taking(1.0)).await);
        }
        assert!(
            begins(&admission, Class::Preview.taking(1.0))
                .await
                .is_some()
        );
        let two = [Class::Preview, Class::Preview].map(|class| class.taking(1.0));
        let two = [
            begins(&admission, two[0]).await,
            begins(&admission, two[1]).await,
        ];
        assert!(two.iter().all(Option::is_some));
        assert!(
            begins(&admission, Class::Preview.taking(1.0))
                .await
                .is_none()
        );
    }

    #[tokio::test]
    async fn whoever_stops_waiting_takes_nothing_along() {
        let admission = Admission::over(100.0);
        let held = begins(&admission, Class::Export.taking(70.0)).await;
        for _ in 0..50 {
            let waited = admission.wait(Class::Picture.taking(80.0));
            let gave_up = tokio::time::timeout(Duration::from_millis(1), waited).await;
            assert!(gave_up.is_err());
        }
        // The large one that stood before it has left.
        assert!(
            begins(&admission, Class::Study.taking(10.0))
                .await
                .is_some()
        );
        drop(held);
        assert!(
            begins(&admission, Class::Study.taking(100.0))
                .await
                .is_some()
        );
        assert!(admission.waiting().iter().all(|(_, count)| *count == 0));
    }
}
