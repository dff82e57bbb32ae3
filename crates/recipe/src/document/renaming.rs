//! Another name for what others refer to by its name.

use serde_json::Value;

use super::{Recipe, RecipeError};

/// What has a name that others refer to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Named {
    /// A named mask.
    Mask,
    /// A strand.
    Strand,
}

impl Recipe {
    /// The recipe with a mask or a strand called `to` instead of `from`, wherever it is
    /// referred to.
    ///
    /// # Errors
    /// [`RecipeError`] when something else has that name already, or is the land.
    pub fn renamed(&self, what: Named, from: &str, to: &str) -> Result<Self, RecipeError> {
        let mut document = serde_json::to_value(self).expect("a recipe is plain data");
        let list = match what {
            Named::Mask => "masks",
            Named::Strand => "strands",
        };
        for entry in document[list].as_array_mut().into_iter().flatten() {
            if entry["name"] == from {
                entry["name"] = to.into();
            }
        }
        refer(&mut document, what, from, to);
        Self::from_value(document)
    }
}

/// Readings that refer to a mask by its name.
const OF_MASKS: [&str; 2] = ["named", "near"];

fn refer(value: &mut Value, what: Named, from: &str, to: &str) {
    let replace = |place: Option<&mut Value>| {
        if let Some(name) = place
            && name == from
        {
            *name = to.into();
        }
    };
    match value {
        Value::Array(items) => {
            for item in items {
                refer(item, what, from, to);
            }
        }
        Value::Object(fields) => {
            match what {
                Named::Mask => OF_MASKS.into_iter().for_each(|reading| {
                    let reading = fields.get_mut(reading).and_then(Value::as_object_mut);
                    replace(reading.and_then(|reading| reading.get_mut("mask")));
                }),
                Named::Strand => {
                    // A step's kind and its parameters.
                    let kinds = fields.get_mut("do").and_then(Value::as_object_mut);
                    for (_, parameters) in kinds.into_iter().flatten() {
                        replace(parameters.get_mut("strand"));
                    }
                }
            }
            for (_, field) in fields {
                refer(field, what, from, to);
            }
        }
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    fn recipe() -> Recipe {
        let near = json!({ "terms": [{ "of": { "near": { "mask": "rock" } }, "to": 50 }] });
        let both = json!({ "terms": [{ "of": { "named": { "mask": "rock" } } }] });
        Recipe::from_value(json!({
            "version": 1, "name": "rock", "extent": { "width_m": 900, "depth_m": 900 },
            "masks": [
                { "name": "rock", "mask": { "terms": [{ "of": "slope", "from": 40 }] } },
                { "name": "foot", "mask": near },
            ],
            "strands": [
                { "name": "land", "steps": [
                    { "id": "a", "name": "rock", "mask": both,
                      "do": { "take_in": { "strand": "piece" } } },
                    { "id": "b", "name": "Wet", "do": { "water": { "hard": near } } },
                ] },
                { "name": "piece", "steps": [{ "id": "c", "name": "Hill", "do": { "noise": {} } }] },
            ],
            "covers": [{ "id": "rock", "name": "rock", "colour": "#808080", "mask": both }],
        }))
        .expect("valid")
    }

    #[test]
    fn a_name_changes_wherever_it_is_referred_to_and_nowhere_else() {
        let before = recipe();
        let after = before.renamed(Named::Mask, "rock", "crags").expect("free");
        let text = after.to_json();
        assert_eq!(text.matches("crags").count(), 5);
        // The landscape, a step and a cover are called so too, and stay.
        assert_eq!(text.matches("\"rock\"").count(), 4);
        let back = after.renamed(Named::Mask, "crags", "rock").expect("free");
        assert_eq!(back, before);
        let moved = before
            .renamed(Named::Strand, "piece", "hill")
            .expect("free");
        assert!(moved.strand("hill").is_some());
        assert!(moved.to_json().contains("\"strand\": \"hill\""));
    }

    #[test]
    fn a_name_that_is_taken_is_refused() {
        assert!(recipe().renamed(Named::Mask, "rock", "foot").is_err());
        assert!(recipe().renamed(Named::Strand, "piece", "land").is_err());
        assert!(recipe().renamed(Named::Strand, "land", "country").is_err());
    }
}
