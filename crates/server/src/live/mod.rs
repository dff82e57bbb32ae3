//! Live sessions: every viewer of a landscape sees every change at once.
//!
//! The document lives in the database; a session is the channel on which each
//! committed move of its head is told, in order, plus one painter for each viewer (`painter`), since
//! viewers may look at different sizes, masks or unfinished edits. Results are
//! shared through the grower's cache.

mod flights;
mod hub;
mod messages;
mod outbox;
mod painter;
mod people;
mod pictures;
mod viewer;

pub(crate) use flights::Flights;
pub(crate) use hub::{Live, heads_of};
pub(crate) use messages::{FromViewer, Head, HeadMove, ToViewer, Wanted, WholeHead};
pub(crate) use pictures::PictureHeader;
pub(crate) use viewer::attend;
