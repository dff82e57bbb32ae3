//! What changed from one recipe to another, in words for the artist.
//!
//! Steps, grounds and washes are known by their ids, masks and strands by their names, so
//! that what was moved is not told as something deleted and something new.

use std::cmp::Ordering;
use std::collections::BTreeSet;
use std::fmt;
use std::sync::LazyLock;

use serde_json::{Map, Value};

use crate::Recipe;
use crate::document::{ReadingSheet, label_of, quantity, reading_sheets, unit_of};
use crate::steps::kind_sheets;

/// One thing that changed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Change {
    /// What it is about: the name of a step, a ground, a mask; empty for the land itself.
    pub of: String,
    /// What happened, such as “height from 900 to 1100 m”.
    pub what: String,
}

impl fmt::Display for Change {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.of.is_empty() {
            true => f.write_str(&capital(&self.what)),
            false => write!(f, "{}: {}", self.of, self.what),
        }
    }
}

/// All that changed from `before` to `after`: the land first, then steps, masks, grounds.
pub fn changes(before: &Recipe, after: &Recipe) -> Vec<Change> {
    let [before, after] =
        [before, after].map(|recipe| serde_json::to_value(recipe).expect("a recipe is plain data"));
    let mut found = Found::default();
    let own = [
        "name",
        "extent",
        "sea_level_m",
        "datum",
        "sun",
        "note",
        "georeference",
    ];
    for key in own {
        found.value("", key, &[], before.get(key), after.get(key));
    }
    found.strands(list(&before, "strands"), list(&after, "strands"));
    found.listed(
        "mask",
        "name",
        list(&before, "masks"),
        list(&after, "masks"),
    );
    found.listed(
        "ground",
        "id",
        list(&before, "covers"),
        list(&after, "covers"),
    );
    let [before, after] =
        [&before, &after].map(|whole| whole.get("finish").unwrap_or(&Value::Null));
    found.listed("wash", "id", list(before, "washes"), list(after, "washes"));
    for key in ["hollows", "shore"] {
        found.value("Whole ground", key, &[], before.get(key), after.get(key));
    }
    found.changes
}

/// All that changed, in one line as it stands in a list of edits; nothing when nothing did.
pub fn summary(before: &Recipe, after: &Recipe) -> Option<String> {
    /// The longest line.
    const LONGEST: usize = 120;
    let changes = changes(before, after);
    let first = changes.first()?.to_string();
    let line = match changes.len() {
        1 => first,
        2 => format!("{first}; {}", changes[1]),
        more => format!("{first}; and {} more", more - 1),
    };
    match line.char_indices().nth(LONGEST) {
        Some((at, _)) => Some(format!("{}…", &line[..at])),
        None => Some(line),
    }
}

fn list<'v>(value: &'v Value, key: &str) -> &'v [Value] {
    value
        .get(key)
        .and_then(Value::as_array)
        .map_or(&[], Vec::as_slice)
}

fn text<'v>(value: &'v Value, key: &str) -> &'v str {
    value.get(key).and_then(Value::as_str).unwrap_or_default()
}

fn capital(words: &str) -> String {
    let mut letters = words.chars();
    let first = letters.next().into_iter().flat_map(char::to_uppercase);
    first.chain(letters).collect()
}

#[derive(Default)]
struct Found {
    changes: Vec<Change>,
}

impl Found {
    fn note(&mut self, of: &str, what: impl Into<String>) {
        self.changes.push(Change {
            of: of.to_owned(),
            what: what.into(),
        });
    }

    fn strands(&mut self, before: &[Value], after: &[Value]) {
        let known = |all: &[Value], name: &str| all.iter().any(|one| text(one, "name") == name);
        for strand in before.iter().filter(|s| !known(after, text(s, "name"))) {
            self.note("", format!("strand {} deleted", text(strand, "name")));
        }
        for strand in after {
            let name = text(strand, "name");
            let earlier = before.iter().find(|one| text(one, "name") == name);
            match earlier {
                None => self.note("", format!("strand {name} added")),
                Some(earlier) => {
                    self.listed("step", "id", list(earlier, "steps"), list(strand, "steps"));
                }
            }
        }
    }

    /// Entries of a list that are known by `key`.
    fn listed(&mut self, kind: &str, key: &str, before: &[Value], after: &[Value]) {
        let keys = |all: &[Value]| -> Vec<String> {
            all.iter().map(|one| text(one, key).to_owned()).collect()
        };
        let (were, are) = (keys(before), keys(after));
        for (entry, id) in before.iter().zip(&were) {
            if !are.contains(id) {
                self.note(text(entry, "name"), format!("{kind} deleted"));
            }
        }
        if let Some(moved) = moved(&were, &are) {
            let entry = after.iter().find(|one| text(one, key) == moved);
            self.note(
                entry.map_or("", |one| text(one, "name")),
                format!("{kind} moved"),
            );
        }
        for (entry, id) in after.iter().zip(&are) {
            let name = text(entry, "name");
            match were.iter().position(|known| known == id) {
                None => self.note(name, format!("{kind} added")),
                Some(at) => self.entry(name, &before[at], entry),
            }
        }
    }

    /// The fields of a step, a ground, a mask or a wash.
    fn entry(&mut self, name: &str, before: &Value, after: &Value) {
        for key in fields(before, after) {
            let [was, is] = [before, after].map(|entry| entry.get(&key));
            if was == is {
                continue;
            }
            match (key.as_str(), was, is) {
                ("name", Some(was), _) => {
                    let was = was.as_str().unwrap_or_default();
                    self.note(name, format!("was called {was}"));
                }
                ("on", _, Some(is)) => {
                    self.note(
                        name,
                        if is == &Value::Bool(true) {
                            "on"
                        } else {
                            "off"
                        },
                    );
                }
                ("do", Some(was), Some(is)) => self.operation(name, was, is),
                ("mask", was, is) => self.mask(name, "mask", was, is),
                (key, was, is) => self.value(name, key, &[], was, is),
            }
        }
    }

    fn operation(&mut self, name: &str, before: &Value, after: &Value) {
        let kind = |value: &Value| value.as_object().and_then(|all| all.keys().next().cloned());
        let (was, is) = (kind(before), kind(after));
        let (Some(was), Some(is)) = (was, is) else {
            return;
        };
        if was != is {
            let title = kind_sheets().into_iter().find(|sheet| sheet.kind == is);
            let title = title.map_or(is.clone(), |sheet| sheet.title.to_lowercase());
            return self.note(name, format!("is {title} now"));
        }
        let (before, after) = (&before[&was], &after[&is]);
        for key in fields(before, after) {
            let [was, is] = [before, after].map(|values| values.get(&key));
            let is_mask = [was, is]
                .into_iter()
                .flatten()
                .any(|v| v.get("terms").is_some());
            match is_mask {
                true if was != is => self.mask(name, &label_of(&key).to_lowercase(), was, is),
                true => {}
                false => self.value(name, &key, &[], was, is),
            }
        }
    }

    fn mask(&mut self, name: &str, called: &str, before: Option<&Value>, after: Option<&Value>) {
        let (before, after) = match (given(before), given(after)) {
            (None, Some(_)) => return self.note(name, format!("{called} added")),
            (Some(_), None) => return self.note(name, format!("{called} deleted")),
            (None, None) => return,
            (Some(before), Some(after)) => (before, after),
        };
        let (were, are) = (list(before, "terms"), list(after, "terms"));
        for (k, term) in are.iter().enumerate() {
            let (title, unit) = reading(&term["of"]);
            match were.get(k) {
                None => self.note(name, format!("{called}, {title} added")),
                Some(earlier) if earlier == term => {}
                // One before it came or went, and all behind have another number.
                Some(_) if were.len() != are.len() => {}
                Some(earlier) if reading(&earlier["of"]).0 != title => {
                    self.note(name, format!("{called} reads {title} now"));
                }
                Some(earlier) => {
                    for key in fields(earlier, term) {
                        let unit = match key.as_str() {
                            "from" | "to" | "soft_from" | "soft_to" => unit,
                            _ => unit_of(&key),
                        };
                        let way = [called, title.as_str()];
                        let [was, is] = [earlier, term].map(|values| values.get(&key));
                        self.leaves(name, &way, (&key, unit), was, is);
                    }
                }
            }
        }
        if were.len() > are.len() {
            let gone = were.len() - are.len();
            let terms = if gone == 1 { "reading" } else { "readings" };
            self.note(name, format!("{called}, {gone} {terms} deleted"));
        }
        for key in fields(before, after)
            .into_iter()
            .filter(|key| key != "terms")
        {
            let [was, is] = [before, after].map(|values| values.get(&key));
            self.value(name, &key, &[called], was, is);
        }
    }

    /// A value whose unit its name says.
    fn value(
        &mut self,
        of: &str,
        key: &str,
        way: &[&str],
        before: Option<&Value>,
        after: Option<&Value>,
    ) {
        self.leaves(of, way, (key, unit_of(key)), before, after);
    }

    /// A value, or what is in it.
    fn leaves(
        &mut self,
        of: &str,
        way: &[&str],
        (key, unit): (&str, &str),
        before: Option<&Value>,
        after: Option<&Value>,
    ) {
        if before == after {
            return;
        }
        let label = match key {
            "from" => "lower end".to_owned(),
            "to" => "upper end".to_owned(),
            _ => label_of(key).to_lowercase(),
        };
        if let (Some(Value::Object(was)), Some(Value::Object(is))) = (before, after) {
            let alike = was.keys().any(|key| is.contains_key(key));
            if alike {
                let way: Vec<&str> = way.iter().copied().chain([label.as_str()]).collect();
                for key in keys(was, is) {
                    self.value(of, &key, &way, was.get(&key), is.get(&key));
                }
                return;
            }
        }
        let called: Vec<&str> = way.iter().copied().chain([label.as_str()]).collect();
        let called = called.join(", ");
        let what = match (shown(before, unit), shown(after, unit)) {
            (Some(was), Some(is)) => {
                // The unit is said once.
                let was = was
                    .strip_suffix(&format!(" {unit}"))
                    .unwrap_or(&was)
                    .to_owned();
                format!("{called} from {was} to {is}")
            }
            (None, Some(is)) => format!("{called} {is}"),
            (Some(was), None) => format!("{called} no longer {was}"),
            (None, None) => match (given(before), given(after)) {
                (None, Some(_)) => format!("{called} added"),
                (Some(_), None) => format!("{called} deleted"),
                (Some(Value::Array(was)), Some(Value::Array(is))) => counted(&called, was, is),
                _ => format!("{called} changed"),
            },
        };
        self.note(of, what);
    }
}

/// How a list has grown or shrunk; of strokes, what the newest one does.
fn counted(called: &str, was: &[Value], is: &[Value]) -> String {
    let apart = is.len().abs_diff(was.len());
    let one = called.strip_suffix('s').filter(|_| apart == 1);
    let things = format!("{apart} {}", one.unwrap_or(called));
    let does = is.last().and_then(|newest| newest["do"].as_object());
    let does = does.and_then(|deed| deed.keys().next());
    match (is.len().cmp(&was.len()), does) {
        (Ordering::Greater, Some(does)) => format!("{things} more, {}", does.replace('_', " ")),
        (Ordering::Greater, None) => format!("{things} more"),
        (Ordering::Less, _) => format!("{things} fewer"),
        (Ordering::Equal, _) => format!("{called} changed"),
    }
}

fn given(value: Option<&Value>) -> Option<&Value> {
    value.filter(|value| !value.is_null())
}

/// A single value as people write it.
fn shown(value: Option<&Value>, unit: &str) -> Option<String> {
    match value? {
        Value::Number(number) => Some(quantity(number.as_f64()?, unit)),
        Value::Bool(true) => Some("on".to_owned()),
        Value::Bool(false) => Some("off".to_owned()),
        Value::String(text) if text.is_empty() => Some("nothing".to_owned()),
        Value::String(text) if text.chars().count() > 32 => None,
        Value::String(text) => Some(format!("“{}”", text.replace('_', " "))),
        _ => None,
    }
}

/// The title of a reading in the middle of a line, and its unit.
fn reading(of: &Value) -> (String, &'static str) {
    let name = match of {
        Value::String(name) => name.as_str(),
        Value::Object(fields) => match fields.iter().next() {
            Some((key, Value::String(field))) if key == "trace" => field,
            Some((key, _)) => key,
            None => "",
        },
        _ => "",
    };
    static SHEETS: LazyLock<Vec<ReadingSheet>> = LazyLock::new(reading_sheets);
    let sheet = SHEETS.iter().find(|sheet| sheet.reading == name);
    sheet.map_or((name.replace('_', " "), ""), |sheet| {
        (sheet.title.to_lowercase(), sheet.unit)
    })
}

fn fields(before: &Value, after: &Value) -> Vec<String> {
    match (before, after) {
        (Value::Object(before), Value::Object(after)) => keys(before, after),
        _ => Vec::new(),
    }
}

/// The keys of both, those of the first in their order.
fn keys(before: &Map<String, Value>, after: &Map<String, Value>) -> Vec<String> {
    let new = after.keys().filter(|key| !before.contains_key(*key));
    before.keys().chain(new).cloned().collect()
}

/// Of what is in both, the one that was moved farthest past the others; nothing when their
/// order is the same.
fn moved<'k>(before: &'k [String], after: &'k [String]) -> Option<&'k str> {
    let both: BTreeSet<&String> = before.iter().filter(|id| after.contains(id)).collect();
    let of_both = |all: &'k [String]| -> Vec<&'k String> {
        all.iter().filter(|id| both.contains(id)).collect()
    };
    let (was, is) = (of_both(before), of_both(after));
    let way = |id: &String| {
        let at = |all: &[&String]| all.iter().position(|one| *one == id).unwrap_or(0);
        at(&was).abs_diff(at(&is))
    };
    is.iter()
        .copied()
        .filter(|id| way(id) > 0)
        .max_by_key(|id| way(id))
        .map(String::as_str)
}
