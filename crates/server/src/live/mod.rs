//! Live sessions: every viewer of a landscape sees every change at once.
//!
//! The document lives in the database; a session is the channel on which each
//! committed head is told, plus one painter for each viewer (`painter`), since
//! viewers may look at different sizes, masks or unfinished edits. Results are
//! shared through the grower's cache.

mod hub;
mod messages;
mod painter;
mod pictures;
mod viewer;

pub(crate) use hub::Live;
pub(crate) use messages::{FromViewer, Head, ToViewer};
pub(crate) use pictures::PictureHeader;
pub(crate) use viewer::attend;
