//! What can be wrong with a recipe, in words for the artist.

use std::fmt;

use serde_json::Value;

use super::{label_of, quantity, unit_of};

/// Why a document is not a valid recipe.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[error("{place}{fault}")]
pub struct RecipeError {
    /// Where: the step or cover, or the recipe as a whole.
    pub place: Place,
    /// What is wrong there.
    pub fault: Fault,
}

/// Where in the recipe a fault is.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Place {
    /// “step ‘Massif’”, “cover ‘Snow’”; empty for the recipe as a whole.
    pub owner: String,
    /// JSON Pointer (RFC 6901) to the faulty value.
    pub pointer: String,
}

impl fmt::Display for Place {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.owner.is_empty() {
            true => Ok(()),
            false => write!(f, "{}: ", self.owner),
        }
    }
}

/// What is wrong.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum Fault {
    /// Not JSON at all.
    #[error("this is not JSON: {0}")]
    NotJson(String),
    /// A value of the wrong type, a missing or an unknown field.
    #[error("{}: {}", label_of(parameter), in_words(reason))]
    Unreadable {
        /// The parameter.
        parameter: String,
        /// What was expected.
        reason: String,
    },
    /// A number beyond what is allowed.
    #[error(
        "{} is {}; it can be {} to {}",
        label_of(parameter),
        said(parameter, *value),
        quantity(*low, ""),
        said(parameter, *high)
    )]
    OutOfRange {
        /// The parameter.
        parameter: String,
        /// Its value.
        value: f64,
        /// Least allowed.
        low: f64,
        /// Most allowed.
        high: f64,
    },
    /// Anything else that does not fit together.
    #[error("{} is {value}: {reason}", label_of(parameter))]
    Unfit {
        /// The parameter.
        parameter: String,
        /// Its value.
        value: String,
        /// What would be allowed.
        reason: String,
    },
}

/// A value of a parameter, with its unit.
fn said(parameter: &str, value: f64) -> String {
    quantity(value, unit_of(parameter))
}

/// What a parser of JSON complains of, as one says it to somebody who types into a field.
fn in_words(reason: &str) -> String {
    let quoted = |text: &str| -> Vec<String> {
        text.split('`')
            .skip(1)
            .step_by(2)
            .map(str::to_owned)
            .collect()
    };
    let (what, expected) = reason.split_once(", expected ").unwrap_or((reason, ""));
    let known = quoted(expected).join(", ");
    if let (Some(_), [name]) = (what.strip_prefix("unknown field"), &quoted(what)[..]) {
        return match known.is_empty() {
            true => format!("there is no setting “{name}” here"),
            false => format!("there is no setting “{name}” here; there are {known}"),
        };
    }
    if let (Some(_), [word]) = (what.strip_prefix("unknown variant"), &quoted(what)[..]) {
        return format!("“{word}” is none of the choices, which are {known}");
    }
    if let (Some(_), [name]) = (what.strip_prefix("missing field"), &quoted(what)[..]) {
        return format!("“{name}” is missing");
    }
    let given = ["invalid type: ", "invalid value: "]
        .iter()
        .find_map(|start| what.strip_prefix(start));
    let Some(given) = given else {
        return reason.to_owned();
    };
    // “string "seven"” is said without its type; “null” and “map” say what they are.
    let given = match given.split_once(' ') {
        Some((_, value)) => value.trim_matches(['`', '"']).to_owned(),
        None => given.to_owned(),
    };
    let wanted = match expected {
        "u32" | "u64" | "u8" | "usize" => "a whole number, 0 or more",
        "i32" | "i64" => "a whole number",
        "f32" | "f64" => "a number",
        "a boolean" => "true or false",
        "a string" => "text",
        "a sequence" => "a list",
        other => other,
    };
    format!("“{given}” does not fit; it must be {wanted}")
}

impl RecipeError {
    pub(super) fn not_json(error: serde_json::Error) -> Self {
        Self {
            place: Place::default(),
            fault: Fault::NotJson(error.to_string()),
        }
    }

    pub(super) fn unreadable(
        document: &Value,
        error: &serde_path_to_error::Error<serde_json::Error>,
    ) -> Self {
        use serde_path_to_error::Segment;
        let segments: Vec<String> = error
            .path()
            .iter()
            .filter_map(|segment| match segment {
                Segment::Seq { index } => Some(index.to_string()),
                Segment::Map { key } => Some(key.clone()),
                Segment::Enum { variant } => Some(variant.clone()),
                Segment::Unknown => None,
            })
            .collect();
        let parameter = segments.last().map_or("recipe", String::as_str).to_owned();
        let reason = error.inner().to_string();
        Self {
            place: Place::at(document, &segments),
            fault: Fault::Unreadable { parameter, reason },
        }
    }

    pub(super) fn unfit(place: Place, parameter: &str, value: &str, reason: String) -> Self {
        let (parameter, value) = (parameter.to_owned(), value.to_owned());
        Self {
            place,
            fault: Fault::Unfit {
                parameter,
                value,
                reason,
            },
        }
    }
}

impl Place {
    /// The place at the end of a path of keys and indices.
    pub(super) fn at<S: AsRef<str>>(document: &Value, path: &[S]) -> Self {
        let mut owner = String::new();
        let mut value = document;
        let mut list = "";
        for segment in path {
            let segment = segment.as_ref();
            value = match value {
                Value::Array(items) => {
                    let item = segment.parse().ok().and_then(|i: usize| items.get(i));
                    let name = item
                        .and_then(|item| item.get("name"))
                        .and_then(Value::as_str);
                    let what = match list {
                        "steps" => Some("step"),
                        "covers" => Some("cover"),
                        "masks" => Some("mask"),
                        "washes" => Some("wash"),
                        _ => None,
                    };
                    if let Some(what) = what {
                        let unnamed = format!("number {segment}");
                        owner = format!("{what} ‘{}’", name.unwrap_or(&unnamed));
                    }
                    item.unwrap_or(&Value::Null)
                }
                other => other.get(segment).unwrap_or(&Value::Null),
            };
            list = segment;
        }
        let escaped = |s: &S| s.as_ref().replace('~', "~0").replace('/', "~1");
        let pointer = path.iter().map(|s| format!("/{}", escaped(s))).collect();
        Self { owner, pointer }
    }
}
