//! The documents of landscapes at their revisions: put together from what is stored,
//! and kept while they are in use.

use std::sync::Arc;
use std::time::Duration;

use json_patch::Patch;
use moka::future::Cache;
use recipe::Recipe;
use recipe::changes::summary;
use serde_json::Value;
use uuid::Uuid;

use crate::bulk::{Lists, filled, name_of, names_in, reaches_inside};
use crate::desk::Desk;
use crate::document::Document;
use crate::error::ApiError;
use crate::live::{Head, HeadMove};
use crate::patching::{difference, patched};
use crate::store::{Appended, KeptList, Link, Move, Moved, NewRevision, Store};

/// The documents of all landscapes; cheap to clone.
#[derive(Clone)]
pub(crate) struct Documents {
    store: Store,
    desk: Desk,
    /// A revision never changes.
    known: Cache<(Uuid, i64), Arc<Document>>,
    /// Why a head cannot be read, once that was looked at.
    faults: Cache<(Uuid, i64), Option<String>>,
    /// Moves of heads that were made here: whoever made one need not read it back.
    moves: Cache<(Uuid, i64), Arc<HeadMove>>,
}

/// The longest name of anything, in characters.
const LONGEST_LABEL: usize = 200;
/// The version of the format in which documents and patches are stored from now on.
const FORMAT: i32 = Recipe::VERSION as i32;
/// A document in memory takes about so many times the bytes of its text.
const SPREAD: usize = 20;
/// Bytes that documents may take in memory.
const MOST_BYTES: u64 = 256 << 20;
/// Heads of which is known whether they can be read.
const MOST_FAULTS: u64 = 10_000;
/// Moves that are remembered until the database tells of them, and so many seconds.
const MOST_MOVES: u64 = 1_000;
const MOVES_S: u64 = 30;
/// How often an undo or a redo is tried again when somebody else moves the head.
const TRIES: usize = 8;

/// A label or a name as it may be stored.
///
/// # Errors
/// When it is too long or is not text.
pub(crate) fn sound_label(label: &str) -> Result<&str, ApiError> {
    let label = label.trim();
    if label.contains('\0') {
        let detail = "a name or label has a character that is not text (U+0000)".to_owned();
        return Err(ApiError::Unfit(detail));
    }
    if label.chars().count() > LONGEST_LABEL {
        let detail = format!("a name or label has at most {LONGEST_LABEL} characters");
        return Err(ApiError::Unfit(detail));
    }
    Ok(label)
}

impl Documents {
    pub(crate) fn new(store: Store, desk: Desk) -> Self {
        let known = Cache::builder()
            .max_capacity(MOST_BYTES)
            .weigher(|_, document: &Arc<Document>| {
                u32::try_from(document.bytes * SPREAD).unwrap_or(u32::MAX)
            })
            .build();
        let faults = Cache::new(MOST_FAULTS);
        let moves = Cache::builder()
            .max_capacity(MOST_MOVES)
            .time_to_live(Duration::from_secs(MOVES_S))
            .build();
        Self {
            store,
            desk,
            known,
            faults,
            moves,
        }
    }

    /// Makes a landscape.
    pub(crate) async fn create(&self, label: &str, recipe: Recipe) -> Result<Uuid, ApiError> {
        let written = move || {
            let document = Document::written(&recipe)?;
            let (text, lists) = (document.text(), document.lists_beside(&Lists::new()));
            Ok::<_, ApiError>((document, text, lists))
        };
        let (document, text, lists) = self.desk.run(written).await??;
        let made = self
            .store
            .create_landscape(label, &text, FORMAT, &lists, document.summary());
        Ok(made.await?)
    }

    /// The head of a landscape, if there is one.
    pub(crate) async fn head(&self, landscape: Uuid) -> Result<Option<Head>, ApiError> {
        let Some(row) = self.store.head(landscape).await? else {
            return Ok(None);
        };
        let missing = ApiError::NotFound("landscape");
        let document = self.at(landscape, row.revision).await?.ok_or(missing)?;
        Ok(Some(Head {
            version: row.version,
            revision: row.revision,
            parent: row.parent,
            undo: row.parent.map(|_| row.label),
            redo: row.redo_label,
            mark: row.mark,
            author: row.author,
            document,
        }))
    }

    /// Why the head of a landscape cannot be read; none when it can.
    pub(crate) async fn fault_of(&self, landscape: Uuid, revision: i64) -> Option<String> {
        let look = async {
            match self.head(landscape).await {
                Err(error @ ApiError::Unreadable(_)) => Some(error.to_string()),
                _ => None,
            }
        };
        self.faults.get_with((landscape, revision), look).await
    }

    /// The document at a revision, if there is one.
    pub(crate) async fn at(
        &self,
        landscape: Uuid,
        revision: i64,
    ) -> Result<Option<Arc<Document>>, ApiError> {
        let key = (landscape, revision);
        if let Some(known) = self.known.get(&key).await {
            return Ok(Some(known));
        }
        // The head is kept whole; the others are put together from the last whole one on.
        let read = match self.store.head_text(landscape, revision).await? {
            Some(text) => {
                let read = move || serde_json::from_str(&text).map(Some).map_err(unreadable);
                self.desk.run(read).await??
            }
            None => {
                let links = self.store.chain(landscape, revision).await?;
                self.desk.run(|| assembled(links)).await??
            }
        };
        let Some(value) = read else {
            return Ok(None);
        };
        let document = Arc::new(self.read(landscape, value).await?);
        self.known.insert(key, document.clone()).await;
        Ok(Some(document))
    }

    /// The document at a revision, or the newest, and which revision that is.
    pub(crate) async fn at_or_head(
        &self,
        landscape: Uuid,
        revision: Option<i64>,
    ) -> Result<(i64, Arc<Document>), ApiError> {
        let head = self.head(landscape).await?;
        let head = head.ok_or(ApiError::NotFound("landscape"))?;
        match revision.filter(|at| *at != head.revision) {
            None => Ok((head.revision, head.document)),
            Some(at) => {
                let document = self.at(landscape, at).await?;
                let missing = ApiError::NotFound("revision of this landscape");
                Ok((at, document.ok_or(missing)?))
            }
        }
    }

    /// A document that is stored: its lists are stored beside it.
    async fn read(&self, landscape: Uuid, stored: Value) -> Result<Document, ApiError> {
        let lists = self.lists_in(landscape, &stored, &Lists::new()).await?;
        let read = move || {
            let unreadable = |error: String| ApiError::Unreadable(error);
            let whole = filled(stored, &lists).map_err(|error| unreadable(error.to_string()))?;
            Document::read(whole).map_err(|error| unreadable(error.to_string()))
        };
        self.desk.run(read).await?
    }

    /// The lists that `value` names, but those in `known`, as far as they are kept.
    async fn lists_in(
        &self,
        landscape: Uuid,
        value: &Value,
        known: &Lists,
    ) -> Result<Lists, ApiError> {
        let names = names_in(value).into_iter();
        let missing: Vec<_> = names.filter(|name| !known.contains_key(name)).collect();
        if missing.is_empty() {
            return Ok(Lists::new());
        }
        let kept = self.store.lists(landscape, &missing).await?;
        let read = kept.into_iter().map(|list| {
            let points: Value = serde_json::from_str(&list.points).map_err(unreadable)?;
            Ok((list.name, Arc::new(points)))
        });
        read.collect()
    }

    /// One list of a landscape, by its name.
    pub(crate) async fn list(&self, landscape: Uuid, name: String) -> Result<Value, ApiError> {
        let kept = self.store.lists(landscape, &[name]).await?;
        let list = kept.first().ok_or(ApiError::NotFound("list of points"))?;
        serde_json::from_str(&list.points).map_err(unreadable)
    }

    /// Keeps a list for the edit that will name it; its name.
    pub(crate) async fn lay_ready(
        &self,
        landscape: Uuid,
        points: &Value,
    ) -> Result<String, ApiError> {
        let name = name_of(points);
        let list = KeptList {
            name: name.clone(),
            points: points.to_string(),
        };
        match self.store.lay_ready(landscape, &list).await? {
            true => Ok(name),
            false => Err(ApiError::NotFound("landscape")),
        }
    }

    /// What `patch` makes of a document, the whole of it: lists that it names may be
    /// the document's or laid ready.
    pub(crate) async fn patched(
        &self,
        landscape: Uuid,
        before: &Arc<Document>,
        patch: Patch,
    ) -> Result<Value, ApiError> {
        let of = before.clone();
        let change = move || {
            // Single points can be changed only where they are.
            match reaches_inside(&patch) {
                true => patched(&of.whole(), &patch),
                false => patched(&of.light, &patch),
            }
        };
        let changed = self.desk.run(change).await??;
        let mut lists = before.lists.clone();
        lists.extend(self.lists_in(landscape, &changed, &lists).await?);
        Ok(self.desk.run(move || filled(changed, &lists)).await??)
    }

    /// The recipe that `patch` makes of a document, for a look; nothing is kept.
    pub(crate) async fn preview(
        &self,
        landscape: Uuid,
        before: &Arc<Document>,
        patch: Patch,
    ) -> Result<Recipe, ApiError> {
        let changed = self.patched(landscape, before, patch).await?;
        Ok(self.desk.run(|| Recipe::from_value(changed)).await??)
    }

    /// Adds a revision: `base` with the patch. One that was made before with the same
    /// mark is not made again.
    pub(crate) async fn edit(
        &self,
        landscape: Uuid,
        NewEdit {
            base,
            label,
            mark,
            author,
            patch,
        }: NewEdit<'_>,
        allowed: impl FnOnce(&Recipe, &Recipe) -> Result<(), ApiError> + Send + 'static,
    ) -> Result<Arc<HeadMove>, ApiError> {
        if let Some(mark) = mark
            && let Some(made) = self.store.marked(landscape, mark).await?
        {
            return self.made_before(landscape, made).await;
        }
        let missing = ApiError::NotFound("revision of this landscape");
        let before = self.at(landscape, base).await?.ok_or(missing)?;
        let changed = self.patched(landscape, &before, patch.clone()).await?;
        let (of, label) = (before.clone(), label.to_owned());
        let written = move || {
            let document = Document::read(changed)?;
            allowed(&of.recipe, &document.recipe)?;
            let patch = document.patch_from(&of, patch);
            let label = match label.is_empty() {
                true => summary(&of.recipe, &document.recipe).unwrap_or_default(),
                false => label,
            };
            Ok::<_, ApiError>(Written::of(Arc::new(document), &of, patch, label))
        };
        let written = self.desk.run(written).await??;
        self.add(landscape, (base, before), written, (mark, author))
            .await
    }

    /// Adds a revision that is as an earlier one was.
    pub(crate) async fn return_to(
        &self,
        landscape: Uuid,
        revision: i64,
        label: &str,
        author: &str,
    ) -> Result<Arc<HeadMove>, ApiError> {
        let missing = || ApiError::NotFound("revision of this landscape");
        let earlier = self.at(landscape, revision).await?.ok_or_else(missing)?;
        let head = self.head(landscape).await?.ok_or_else(missing)?;
        let (before, label) = (head.document.clone(), label.to_owned());
        let written = move || {
            let patch = difference(&before.light, &earlier.light);
            Written::of(earlier, &before, patch, label)
        };
        let written = self.desk.run(written).await?;
        let base = (head.revision, head.document);
        self.add(landscape, base, written, (None, author)).await
    }

    async fn add(
        &self,
        landscape: Uuid,
        (base, before): (i64, Arc<Document>),
        written: Written,
        (mark, author): (Option<Uuid>, &str),
    ) -> Result<Arc<HeadMove>, ApiError> {
        let Written {
            document,
            text,
            lists,
            patch,
            patch_text,
            label,
        } = written;
        let moved = self.store.append(NewRevision {
            landscape,
            base,
            label: &label,
            mark,
            author,
            patch: &patch_text,
            document: &text,
            format: FORMAT,
            lists: &lists,
            summary: document.summary(),
        });
        let Move { version, from, to } = match moved.await? {
            Appended::Before(made) => return self.made_before(landscape, made).await,
            Appended::Now(moved) => done(moved)?,
        };
        self.known.insert((landscape, base), before).await;
        self.known.insert((landscape, to), document).await;
        let told = Arc::new(HeadMove {
            version,
            base: from,
            revision: to,
            parent: Some(from),
            patch: patch.0,
            undo: Some(label),
            redo: None,
            mark,
            author: author.to_owned(),
        });
        self.moves.insert((landscape, version), told.clone()).await;
        Ok(told)
    }

    /// The answer to an edit that was sent again.
    async fn made_before(&self, landscape: Uuid, made: i64) -> Result<Arc<HeadMove>, ApiError> {
        let missing = || ApiError::NotFound("landscape");
        let head = self.store.head(landscape).await?.ok_or_else(missing)?;
        let meta = self.store.revision(landscape, made).await?;
        let from = meta.and_then(|meta| meta.parent).ok_or_else(missing)?;
        let version = head.version;
        let moved = Move {
            version,
            from,
            to: made,
        };
        self.told(landscape, &moved).await
    }

    /// Takes the last edit back.
    pub(crate) async fn undo(&self, landscape: Uuid) -> Result<Arc<HeadMove>, ApiError> {
        self.step(landscape, "undo", |parent, _| parent).await
    }

    /// Brings back the edit that was undone last.
    pub(crate) async fn redo(&self, landscape: Uuid) -> Result<Arc<HeadMove>, ApiError> {
        self.step(landscape, "redo", |_, redo_to| redo_to).await
    }

    async fn step(
        &self,
        landscape: Uuid,
        action: &'static str,
        to: impl Fn(Option<i64>, Option<i64>) -> Option<i64>,
    ) -> Result<Arc<HeadMove>, ApiError> {
        let missing = || ApiError::NotFound("landscape");
        let mut stale = 0;
        for _ in 0..TRIES {
            let head = self.store.head(landscape).await?.ok_or_else(missing)?;
            let meta = self.store.revision(landscape, head.revision).await?;
            let meta = meta.ok_or_else(missing)?;
            let to = to(meta.parent, meta.redo_to).ok_or(ApiError::Nothing(action))?;
            let target = self.at(landscape, to).await?.ok_or_else(missing)?;
            let way = (head.revision, to);
            let of = target.clone();
            let written = move || (of.text(), of.lists_beside(&Lists::new()));
            let (text, lists) = self.desk.run(written).await?;
            let moved = self
                .store
                .go(landscape, way, &text, &lists, target.summary())
                .await?;
            match done(moved) {
                Err(ApiError::Conflict { head }) => stale = head,
                Err(error) => return Err(error),
                Ok(moved) => return self.told(landscape, &moved).await,
            }
        }
        Err(ApiError::Conflict { head: stale })
    }

    /// A move of the head that is committed, as viewers are told of it.
    pub(crate) async fn told(
        &self,
        landscape: Uuid,
        moved: &Move,
    ) -> Result<Arc<HeadMove>, ApiError> {
        let name = (landscape, moved.version);
        if let Some(told) = self.moves.get(&name).await
            && (told.base, told.revision) == (moved.from, moved.to)
        {
            return Ok(told);
        }
        let missing = || ApiError::NotFound("revision of this landscape");
        let meta = self.store.revision(landscape, moved.to).await?;
        let meta = meta.ok_or_else(missing)?;
        let forth = meta.parent == Some(moved.from);
        let patch = match meta.patch.filter(|_| forth) {
            Some(patch) => serde_json::from_str(&patch).map_err(unreadable)?,
            None => {
                let from = self.at(landscape, moved.from).await?.ok_or_else(missing)?;
                let to = self.at(landscape, moved.to).await?.ok_or_else(missing)?;
                let way = move || difference(&from.light, &to.light);
                self.desk.run(way).await?
            }
        };
        let told = Arc::new(HeadMove {
            version: moved.version,
            base: moved.from,
            revision: moved.to,
            parent: meta.parent,
            patch: patch.0,
            undo: meta.parent.map(|_| meta.label),
            redo: meta.redo_to.and(meta.redo_label),
            mark: meta.mark.filter(|_| forth),
            author: meta.author,
        });
        self.moves.insert(name, told.clone()).await;
        Ok(told)
    }
}

/// One edit, as it comes.
pub(crate) struct NewEdit<'a> {
    /// The revision that it changes.
    pub(crate) base: i64,
    /// What the artist did; told from what changes when it is empty.
    pub(crate) label: &'a str,
    /// By which it is known when it is sent again.
    pub(crate) mark: Option<Uuid>,
    /// Who makes it, as far as they say.
    pub(crate) author: &'a str,
    pub(crate) patch: Patch,
}

/// A revision, ready to be kept.
struct Written {
    document: Arc<Document>,
    /// The document as it is stored, and its lists that are not kept yet.
    text: String,
    lists: Vec<KeptList>,
    patch: Patch,
    patch_text: String,
    label: String,
}

impl Written {
    fn of(document: Arc<Document>, before: &Document, patch: Patch, label: String) -> Self {
        Self {
            text: document.text(),
            lists: document.lists_beside(&before.lists),
            patch_text: serde_json::to_string(&patch).expect("a patch is plain data"),
            document,
            patch,
            label,
        }
    }
}

fn done(moved: Moved) -> Result<Move, ApiError> {
    match moved {
        Moved::To(moved) => Ok(moved),
        Moved::Missing => Err(ApiError::NotFound("landscape")),
        Moved::Stale(head) => Err(ApiError::Conflict { head }),
    }
}

/// The document at the end of a chain, as it is stored.
fn assembled(links: Vec<Link>) -> Result<Option<Value>, ApiError> {
    let mut links = links.into_iter();
    let Some(Link {
        snapshot: Some(whole),
        number,
        ..
    }) = links.next()
    else {
        return Ok(None);
    };
    let mut value: Value = serde_json::from_str(&whole).map_err(unreadable)?;
    for Link {
        patch, number: at, ..
    } in links
    {
        let patch = patch.unwrap_or_else(|| "[]".to_owned());
        let patch: Patch = serde_json::from_str(&patch).map_err(unreadable)?;
        json_patch::patch(&mut value, &patch).map_err(|error| {
            tracing::error!(snapshot = number, revision = at, %error, "a stored patch does not fit");
            ApiError::Unreadable(format!("revision {at} does not fit the one before it"))
        })?;
    }
    Ok(Some(value))
}

fn unreadable(error: serde_json::Error) -> ApiError {
    ApiError::Unreadable(error.to_string())
}
