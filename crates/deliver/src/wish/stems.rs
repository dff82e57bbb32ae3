//! What the files of an order are called: no two the same.

use std::collections::HashSet;

use crate::Layer;
use crate::fields::FieldFormat;

/// Letters of a mask's name that its file has; the list of all files has the whole name.
const MOST_LETTERS: usize = 60;
/// What else an order may write, and what names that are counted begin with.
const OTHERS: [&str; 3] = ["land", "manifest", "tiles"];
const COUNTED: [&str; 4] = ["cover-", "land-", "mask-", "weights-"];

/// The names of the files of these layers, without ending, in their order. Masks whose names
/// come to the same are numbered.
pub(super) fn stems(layers: &[Layer], fields: FieldFormat) -> Vec<String> {
    // Both would say in `height.json` what their steps mean.
    let both_in_steps = fields == FieldFormat::Raw16 && layers.contains(&Layer::Height);
    let mut taken = HashSet::new();
    let stem = |layer: &Layer| match layer {
        Layer::Height16 if both_in_steps => layer.name().into_owned(),
        Layer::Mask(name) => {
            let plain = mask_stem(name);
            let numbered = (2..).map(|count| format!("{plain}-{count}"));
            std::iter::once(plain.clone())
                .chain(numbered)
                .find(|stem| taken.insert(stem.clone()))
                .expect("numbers do not end")
        }
        other => other.stem(),
    };
    layers.iter().map(stem).collect()
}

fn mask_stem(name: &str) -> String {
    let plain = name.chars().take(MOST_LETTERS);
    let plain = plain.map(|c| match c.is_ascii_alphanumeric() {
        true => c.to_ascii_lowercase(),
        false => '-',
    });
    format!("mask-{}", plain.collect::<String>())
}

/// Whether files of other layers may have this name, on systems too that know no capitals.
pub(super) fn is_taken(name: &str) -> bool {
    let name = name.to_ascii_lowercase();
    let layer = Layer::known().any(|layer| layer.stem() == name || *layer.name() == *name);
    layer || OTHERS.contains(&name.as_str()) || COUNTED.iter().any(|begin| name.starts_with(begin))
}

#[cfg(test)]
mod tests {
    use std::collections::HashSet;

    use proptest::prelude::*;

    use super::{is_taken, stems};
    use crate::{FieldFormat, Layer};

    proptest! {
        /// Whatever masks are called, their files differ, fit any file system, and leave
        /// other names alone.
        #[test]
        fn files_of_masks_differ(mut names in prop::collection::vec("[aA ö2-]{0,4}|.{0,90}", 1..20)) {
            names.sort();
            names.dedup();
            let masks: Vec<Layer> = names.into_iter().map(Layer::Mask).collect();
            let stems = stems(&masks, FieldFormat::Tif);
            let different: HashSet<_> = stems.iter().map(|stem| stem.to_ascii_lowercase()).collect();
            prop_assert_eq!(different.len(), masks.len());
            for stem in stems {
                prop_assert!(is_taken(&stem), "{} is free for packed pictures", stem);
                prop_assert!(stem.is_ascii() && stem.len() < 100, "{}", stem);
                prop_assert!(!stem.contains(['/', '\\', '.', ':']), "{}", stem);
            }
        }
    }

    /// No two layers write the same files, but for heights in steps, whose own rule tells
    /// them apart.
    #[test]
    fn files_of_layers_differ() {
        let all: Vec<Layer> = Layer::known().collect();
        for format in FieldFormat::ALL {
            let stems: HashSet<_> = stems(&all, format).into_iter().collect();
            let shared = usize::from(format != FieldFormat::Raw16);
            assert_eq!(stems.len(), all.len() - shared, "{format:?}");
        }
    }
}
