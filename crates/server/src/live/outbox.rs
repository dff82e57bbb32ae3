//! What waits to be sent to a viewer: bounded in bytes, and without what newer messages
//! have made idle.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use axum::extract::ws::Message;
use tokio::sync::Notify;

use super::pictures::Moment;

/// Bytes that may wait for a slow viewer; one message may always.
const MOST_BYTES: usize = 64 << 20;

/// What a message shows, when a newer one can take its place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Shows {
    /// How far the work is.
    Progress,
    /// A picture of a moment.
    Picture(Moment, Fineness),
    /// A part, on top of the whole picture before it.
    Part(Moment),
    /// Something of its own.
    Other,
}

/// How fine a picture is, against what was asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Fineness {
    /// Coarser: on its way.
    Coarse,
    /// As it was asked for: parts are laid on it.
    Whole,
    /// Finer, since nothing changes.
    AtRest,
}

impl Shows {
    /// Whether a message of `newer` makes one of this idle. A whole picture goes out unless
    /// another one does: parts that come later are laid on it.
    fn is_idle_after(self, newer: Self) -> bool {
        match (self, newer) {
            (Self::Progress, Self::Progress) => true,
            (Self::Picture(of, older), Self::Picture(moment, fineness)) => {
                of == moment && (fineness == Fineness::Whole || older != Fineness::Whole)
            }
            (Self::Part(of), Self::Picture(moment, Fineness::Whole)) => of == moment,
            _ => false,
        }
    }
}

/// Where messages to one viewer go; cheap to clone.
#[derive(Clone, Default)]
pub(super) struct Outbox(Arc<Waiting>);

#[derive(Default)]
struct Waiting {
    letters: Mutex<Letters>,
    /// Something has come, or nothing will any more.
    came: Notify,
    /// Something has gone.
    went: Notify,
}

#[derive(Default)]
struct Letters {
    queue: VecDeque<(Shows, Message)>,
    bytes: usize,
    closed: bool,
}

/// The viewer is gone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Gone;

impl Letters {
    /// Takes a message in, if there is room for it.
    fn take_in(&mut self, shows: Shows, message: Message) -> Result<(), Message> {
        let mut idle = 0;
        self.queue.retain(|(older, message)| {
            let goes = older.is_idle_after(shows);
            idle += if goes { size(message) } else { 0 };
            !goes
        });
        self.bytes -= idle;
        let bytes = size(&message);
        if self.bytes + bytes > MOST_BYTES && !self.queue.is_empty() {
            return Err(message);
        }
        self.bytes += bytes;
        self.queue.push_back((shows, message));
        Ok(())
    }
}

fn size(message: &Message) -> usize {
    match message {
        Message::Text(text) => text.len(),
        Message::Binary(bytes) => bytes.len(),
        _ => 0,
    }
}

impl Outbox {
    fn letters(&self) -> MutexGuard<'_, Letters> {
        let letters = &self.0.letters;
        letters.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Sends a message, once there is room for it.
    ///
    /// # Errors
    /// [`Gone`].
    pub(super) async fn send(&self, shows: Shows, message: Message) -> Result<(), Gone> {
        let mut message = message;
        loop {
            // Before the look, so that what goes in between is noticed.
            let went = self.0.went.notified();
            {
                let mut letters = self.letters();
                if letters.closed {
                    return Err(Gone);
                }
                match letters.take_in(shows, message) {
                    Ok(()) => break,
                    Err(back) => message = back,
                }
            }
            went.await;
        }
        self.0.came.notify_one();
        Ok(())
    }

    /// Sends a message that may be lost when there is no room.
    pub(super) fn send_if_room(&self, shows: Shows, message: Message) {
        let mut letters = self.letters();
        if !letters.closed && letters.take_in(shows, message).is_ok() {
            self.0.came.notify_one();
        }
    }

    /// The next message to go out; none when the outbox is closed and empty.
    pub(super) async fn next(&self) -> Option<Message> {
        loop {
            let came = self.0.came.notified();
            {
                let mut letters = self.letters();
                if let Some((_, message)) = letters.queue.pop_front() {
                    letters.bytes -= size(&message);
                    drop(letters);
                    self.0.went.notify_waiters();
                    return Some(message);
                }
                if letters.closed {
                    return None;
                }
            }
            came.await;
        }
    }

    /// Nothing comes in any more; what is there may still go out.
    pub(super) fn close(&self) {
        self.letters().closed = true;
        self.0.went.notify_waiters();
        self.0.came.notify_one();
    }
}

#[cfg(test)]
mod tests {
    use std::time::Duration;

    use axum::extract::ws::Message;

    use super::{Fineness, Gone, MOST_BYTES, Outbox, Shows};
    use crate::live::pictures::Moment;

    fn picture(bytes: usize) -> Message {
        Message::Binary(vec![0; bytes].into())
    }

    #[tokio::test]
    async fn a_newer_picture_takes_the_place_of_what_it_covers() {
        use Fineness::{AtRest, Coarse, Whole};
        let (now, against) = (Moment::Now, Moment::Against);
        let said = |text: &'static str| Message::Text(text.into());
        let before = [
            (Shows::Picture(now, Coarse), picture(1)),
            (Shows::Picture(now, Whole), picture(2)),
            (Shows::Picture(against, Whole), picture(3)),
            (Shows::Part(now), picture(4)),
            (Shows::Other, said("moved")),
            (Shows::Progress, said("10 %")),
            (Shows::Progress, said("20 %")),
            (Shows::Picture(now, AtRest), picture(5)),
        ];
        let left_after = async |newest: Fineness| {
            let out = Outbox::default();
            for (shows, message) in before.clone() {
                assert_eq!(out.send(shows, message).await, Ok(()));
            }
            let last = out.send(Shows::Picture(now, newest), picture(6));
            assert_eq!(last.await, Ok(()));
            out.close();
            assert_eq!(out.send(Shows::Other, picture(1)).await, Err(Gone));
            let mut left = Vec::new();
            while let Some(message) = out.next().await {
                left.push(message);
            }
            left
        };
        let rest = [picture(3), said("moved"), said("20 %"), picture(6)];
        assert_eq!(left_after(Whole).await, rest);
        // Parts are laid on the last whole one.
        let [against, moved, told, newest] = rest;
        let kept = [picture(2), against, picture(4), moved, told, newest];
        assert_eq!(left_after(Coarse).await, kept);
        assert_eq!(left_after(AtRest).await, kept);
    }

    #[tokio::test]
    async fn what_waits_is_bounded_in_bytes() {
        let out = Outbox::default();
        let large = || picture(MOST_BYTES - 10);
        assert_eq!(out.send(Shows::Other, large()).await, Ok(()));
        let soon = Duration::from_millis(20);
        let next = out.send(Shows::Other, large());
        assert!(tokio::time::timeout(soon, next).await.is_err(), "no room");
        out.send_if_room(Shows::Progress, picture(100));
        let waits = tokio::spawn({
            let out = out.clone();
            async move { out.send(Shows::Other, picture(20)).await }
        });
        tokio::time::sleep(soon).await;
        assert_eq!(out.next().await, Some(large()));
        assert_eq!(waits.await.expect("runs"), Ok(()), "now there is room");
        assert_eq!(out.next().await, Some(picture(20)), "the progress is lost");
    }
}
