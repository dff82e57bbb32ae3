//! Pictures that hold a map in each channel.

use recipe::Recipe;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::Layer;

/// A picture that holds a map in each channel, in steps of eight bits.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Packed {
    /// The name of its file, without ending: letters, digits, - and _.
    pub name: String,
    /// What red, green, blue and, when there is a fourth, alpha hold: a layer of one number
    /// a cell (`occlusion`, `roughness`, `displacement`, `height`, `slope`, what steps
    /// leave), `mask:` and the name of a mask, or `cover:` and the name of a cover. Null is 0
    /// everywhere.
    pub channels: Vec<Option<String>>,
}

/// What one channel holds.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Channel {
    /// Nothing.
    Zero,
    /// A layer of one number a cell.
    Of(Layer),
    /// The weight of one of the covers that are on, counted from the bottom.
    Cover(usize),
}

/// Channels of a picture in colour, and with alpha.
const CHANNELS: [usize; 2] = [3, 4];
/// The longest name.
const MOST_LETTERS: usize = 60;

impl Packed {
    /// Its channels for this landscape.
    ///
    /// # Errors
    /// What of it cannot be.
    pub(crate) fn resolved(&self, recipe: &Recipe) -> Result<Vec<Channel>, String> {
        let plain = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '_');
        let name = &self.name;
        if name.is_empty() || name.len() > MOST_LETTERS || !name.chars().all(plain) {
            return Err(format!(
                "packed: ‘{name}’ is no name of a file; letters, digits, - and _ are, {MOST_LETTERS} at most"
            ));
        }
        if !CHANNELS.contains(&self.channels.len()) {
            let count = self.channels.len();
            return Err(format!(
                "packed: {name} has {count} channels, allowed are 3 or 4"
            ));
        }
        let channel = |channel: &Option<String>| match channel {
            None => Ok(Channel::Zero),
            Some(of) => Channel::named(of, recipe).map_err(|why| format!("packed: {name}: {why}")),
        };
        self.channels.iter().map(channel).collect()
    }
}

impl Channel {
    /// What a name means for this landscape.
    fn named(name: &str, recipe: &Recipe) -> Result<Self, String> {
        if let Some(cover) = name.strip_prefix("cover:") {
            let mut on = recipe.covers.iter().filter(|cover| cover.on);
            let place = on.position(|on| on.name == cover);
            return place
                .map(Self::Cover)
                .ok_or_else(|| format!("no cover that is on is called ‘{cover}’"));
        }
        let layer =
            Layer::named(name).ok_or_else(|| format!("there is no layer called ‘{name}’"))?;
        match layer.is_one_number() {
            true => Ok(Self::Of(layer)),
            false => Err(format!("{name} is not one number a cell")),
        }
    }

    /// Whether this landscape has it.
    ///
    /// # Errors
    /// That it has not, in words.
    pub(super) fn check(&self, recipe: &Recipe) -> Result<(), String> {
        match self {
            Self::Zero => Ok(()),
            Self::Of(layer) => layer.check(recipe),
            Self::Cover(place) => match recipe.covers.iter().filter(|cover| cover.on).count() {
                on if *place < on => Ok(()),
                on => Err(format!("there is no cover {}, but {on}", place + 1)),
            },
        }
    }
}
