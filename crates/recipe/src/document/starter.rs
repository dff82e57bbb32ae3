//! A recipe to begin with, around an imported heightfield.

use terrain::grid::Georeference;

use super::{Combine, Cover, LandExtent, Mask, Mottle, Reading, Recipe, Step, Term};
use crate::steps::{FallOff, Heightfield, Operation};

/// What is known of an imported heightfield.
#[derive(Clone, Debug)]
pub struct Starter<'a> {
    /// Name of the landscape.
    pub name: &'a str,
    /// Size of the land.
    pub extent: LandExtent,
    /// The imported file.
    pub asset: &'a str,
    /// Which channel of it, when it is a picture in colour.
    pub channel: u32,
    /// Metres for each unit in the file.
    pub scale: f64,
    /// Height of its zero, metres.
    pub lift_m: f64,
    /// Whether the land sinks into the sea towards its border.
    pub sinks: bool,
    /// Whether a first ground is laid.
    pub ground: bool,
    /// Where it lies on earth.
    pub georeference: Option<Georeference>,
    /// Lowest and highest value in the file.
    pub range: (f32, f32),
}

impl Starter<'_> {
    /// The heightfield as the land; when a ground is wanted, with rock on the steep, grass
    /// on the gentle and snow on the highest.
    pub fn recipe(&self) -> Recipe {
        let mut recipe = Recipe::flat(self.name, self.extent);
        recipe.strands[0].steps.push(Step::new(
            "import",
            "Imported heights",
            Combine::Replace,
            Operation::Heightfield(Heightfield {
                asset: self.asset.to_owned(),
                channel: self.channel,
                scale: self.scale,
                lift_m: self.lift_m,
                ..Heightfield::default()
            }),
        ));
        recipe.georeference.clone_from(&self.georeference);
        let in_metres = |value: f32| value * self.scale as f32 + self.lift_m as f32;
        let ends = [self.range.0, self.range.1].map(in_metres);
        let (low, high) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
        // Where nothing is known but the heights, a sea would be a guess.
        recipe.sea_level_m = f64::from(low).min(0.0);
        if self.sinks {
            let side_m = self.extent.width_m.min(self.extent.depth_m);
            recipe.sea_level_m = f64::from(low);
            let sunk = FallOff {
                width_m: 0.12 * side_m,
                ragged_m: 0.12 * side_m,
                ragged_feature_m: 0.2 * side_m,
                level_m: f64::from(low - 0.05 * (high - low)),
                ..FallOff::default()
            };
            let sunk = Operation::FallOff(sunk);
            let step = Step::new("edges", "Sunk edges", Combine::Replace, sunk);
            recipe.strands[0].steps.push(step);
        }
        if !self.ground {
            return recipe;
        }
        let at = |share: f32| (low + share * (high - low)).round();
        recipe.covers = vec![
            cover("rock", "Rock", "#7d766c", Vec::new()),
            cover(
                "grass",
                "Grass",
                "#66703f",
                vec![below(Reading::Slope, 24.0, 8.0)],
            ),
            cover(
                "snow",
                "Snow",
                "#eef1f4",
                vec![
                    above(Reading::Height, at(0.88), (0.1 * (high - low)).round()),
                    below(Reading::Slope, 38.0, 10.0),
                ],
            ),
        ];
        recipe
    }
}

fn cover(id: &str, name: &str, colour: &str, terms: Vec<Term>) -> Cover {
    Cover {
        colour: colour.to_owned(),
        mottle: Mottle::default(),
        mask: (!terms.is_empty()).then(|| Mask::of(terms)),
        ..Cover::bare(id, name)
    }
}

fn above(of: Reading, from: f32, soft_from: f32) -> Term {
    Term {
        from: Some(from),
        soft_from,
        ..Term::of(of)
    }
}

fn below(of: Reading, to: f32, soft_to: f32) -> Term {
    Term {
        to: Some(to),
        soft_to,
        ..Term::of(of)
    }
}
