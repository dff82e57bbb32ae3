//! The kinds of step, one file each.
//!
//! A file holds the parameters (their labels, units, ranges and hints come
//! from the struct and its comments) and the call into `terrain`. The list at
//! the end of this file names them all; what it names is found in the file of that name.

mod aged;
mod also_called;
mod example;
mod kind;
mod moves;
mod operation;
mod pattern;
mod products;
mod sheet;

use std::collections::BTreeSet;
use std::sync::LazyLock;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

pub(crate) use aged::ROCK;
pub use example::example;
pub use kind::StepOutput;
pub(crate) use kind::{Kind, Unfit};
pub use products::{DEPOSIT, WEAR};
pub(crate) use products::{DEPTH, LAID, RIVERS, WORN};
pub(crate) use river_beds::ranked;
pub use sheet::{Group, KindSheet, Needs};

use crate::document::{Combine, Product, labelled};
use also_called::also_called;

fn plain(parameters: &impl Serialize) -> serde_json::Value {
    serde_json::to_value(parameters).expect("parameters are plain data")
}

macro_rules! kinds {
    ($($module:ident::$name:ident, $title:literal, $group:ident, $combine:ident;)*) => {
        $(mod $module;
        pub use $module::$name;)*

        /// A kind of step with its parameters.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
        #[serde(rename_all = "snake_case")]
        pub enum Operation {
            $(#[doc = $title] $name($name),)*
        }

        impl Operation {
            fn kind(&self) -> &dyn Kind {
                match self { $(Operation::$name(params) => params,)* }
            }

            /// Its name in a recipe.
            pub fn key(&self) -> &'static str {
                match self { $(Operation::$name(_) => stringify!($module),)* }
            }

            /// What the kind is for.
            pub fn group(&self) -> Group {
                match self { $(Operation::$name(_) => Group::$group,)* }
            }

            /// What the kind is called on screen.
            pub fn title(&self) -> &'static str {
                match self { $(Operation::$name(_) => $title,)* }
            }
        }

        /// Everything that some kind of step leaves beside its heights.
        pub fn products() -> &'static [Product] {
            static ALL: LazyLock<Vec<Product>> = LazyLock::new(|| {
                let all = [$(<$name>::default().products(),)*].concat();
                // Of what several leave the first: in the order of kinds.
                let mut seen = BTreeSet::new();
                all.into_iter().filter(|&product| seen.insert(product)).collect()
            });
            &ALL
        }

        /// All kinds, in the order in which they are offered.
        pub fn kind_sheets() -> Vec<KindSheet> {
            vec![$(KindSheet {
                kind: stringify!($module),
                title: $title,
                also_called: also_called(stringify!($module)),
                group: Group::$group,
                products: <$name>::default().products(),
                combine: Combine::$combine,
                defaults: plain(&<$name>::default()),
                needs: <$name>::default().needs(),
                on_strand: plain(&<$name>::default().taking_in()),
                example: <$name>::default().example().map(|shown| plain(&shown)),
                example_sea_m: <$name>::example_sea_m(),
                example_after: <$name>::example_after(),
                schema: labelled(schemars::schema_for!($name).to_value()),
            },)*]
        }
    };
}

kinds! {
    noise::Noise, "Layered noise", Make, Add;
    primitive::Primitive, "Primitive", Make, Add;
    heightfield::Heightfield, "Heightfield", Make, Replace;
    tiles::Tiles, "Tiles", Make, Add;
    take_in::TakeIn, "Take in a strand", Make, Add;
    strew::Strew, "Scattered copies", Detail, Replace;
    displace::Displace, "Displacement", Detail, Replace;
    outcrop::Outcrop, "Rock outcrops", Detail, Replace;
    course::Course, "Drawn course", Hand, Replace;
    hand_work::HandWork, "Hand work", Hand, Replace;
    fall_off::FallOff, "Edge fall-off", Bound, Replace;
    cut::Cut, "Cut to an outline", Bound, Replace;
    warp::Warp, "Warp", Move, Replace;
    swirl::Swirl, "Swirl", Move, Replace;
    drift::Drift, "Drift", Move, Replace;
    pull::Pull, "Pull to a point", Move, Replace;
    twirl::Twirl, "Twirl", Move, Replace;
    rescale::Rescale, "Rescale", Values, Replace;
    clip::Clip, "Clip", Values, Replace;
    ground_at_zero::GroundAtZero, "Set the lowest point", Values, Replace;
    invert::Invert, "Invert", Values, Replace;
    curve::Curve, "Response curve", Values, Replace;
    bias_gain::BiasGain, "Bias and gain", Values, Replace;
    terraces::Terraces, "Terraces", Values, Replace;
    ease_foot::EaseFoot, "Soften the base", Values, Replace;
    blur::Blur, "Blur", Values, Replace;
    sharpen::Sharpen, "Sharpen", Values, Replace;
    ages::Ages, "Long-term erosion", Erode, Replace;
    water::Water, "Hydraulic erosion", Erode, Replace;
    rivers::Rivers, "Fluvial incision", Erode, Replace;
    river_beds::RiverBeds, "River beds", Erode, Replace;
    crumble::Crumble, "Thermal erosion", Erode, Replace;
    settle::Settle, "Sediment infill", Erode, Replace;
    flatten::Flatten, "Flatten gentle slopes", Erode, Replace;
    snow::Snow, "Snow", Erode, Replace;
}
