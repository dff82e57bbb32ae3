//! The kinds of step, one file each.
//!
//! A file holds the parameters (their labels, units, ranges and hints come
//! from the struct and its comments) and the call into `terrain`. The list at
//! the end of this file names them all.

mod aged;
mod ages;
mod bias_gain;
mod blur;
mod clip;
mod crumble;
mod curve;
mod cut;
mod displace;
mod drift;
mod ease_foot;
mod example;
mod fall_off;
mod flatten;
mod ground_at_zero;
mod heightfield;
mod invert;
mod moves;
mod noise;
mod outcrop;
mod pattern;
mod primitive;
mod products;
mod pull;
mod rescale;
mod river_beds;
mod rivers;
mod settle;
mod sharpen;
mod snow;
mod strew;
mod swirl;
mod take_in;
mod terraces;
mod tiles;
mod twirl;
mod warp;
mod water;

use std::collections::BTreeSet;
use std::sync::LazyLock;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{Ledger, Level};
use terrain::{Extent, Grid};

pub use self::noise::{Noise, NoiseBasis};
pub use ages::Ages;
pub use bias_gain::BiasGain;
pub use blur::Blur;
pub use clip::Clip;
pub use crumble::{Crumble, CrumbleMaterial};
pub use curve::{Curve, CurvePoint};
pub use cut::{Cut, OutlinePoint};
pub use displace::{Displace, DisplaceDirection, DisplaceTexture};
pub use drift::Drift;
pub use ease_foot::EaseFoot;
pub use example::example;
pub use fall_off::FallOff;
pub use flatten::Flatten;
pub use ground_at_zero::GroundAtZero;
pub use heightfield::{Heightfield, HeightfieldBeyond, HeightfieldFit};
pub use invert::Invert;
pub use outcrop::Outcrop;
pub use pattern::ImageSource;
pub use primitive::{Primitive, PrimitiveForm};
pub use products::{DEPOSIT, WEAR};
pub(crate) use products::{DEPTH, LAID, RIVERS, WORN};
pub use pull::Pull;
pub use rescale::Rescale;
pub use river_beds::RiverBeds;
pub(crate) use river_beds::ranked;
pub use rivers::Rivers;
pub use settle::Settle;
pub use sharpen::Sharpen;
pub use snow::Snow;
pub use strew::{Strew, StrewLayout, StrewStamp};
pub use swirl::Swirl;
pub use take_in::{TakeIn, TakeInField};
pub use terraces::{Terraces, TerracesBy};
pub use tiles::Tiles;
pub use twirl::Twirl;
pub use warp::Warp;
pub use water::Water;

use crate::document::{Combine, Mask, Product};
use crate::grow::{GrowError, Products, Site, Size};

/// What a step made on the cells that were asked for.
pub struct Made {
    /// Metres, or a factor when the step multiplies.
    pub heights: Grid,
    /// What else it leaves, as it was declared.
    pub products: Products,
    /// Where the ground went, for steps that move it.
    pub ledger: Option<Ledger>,
}

impl From<Grid> for Made {
    fn from(heights: Grid) -> Self {
        Self {
            heights,
            products: Products::default(),
            ledger: None,
        }
    }
}

/// A parameter, its value, and what would be allowed.
pub(crate) type Unfit = (&'static str, String, String);

/// What every kind of step can do.
pub(crate) trait Kind {
    /// Cells of `cell_m` that it needs around the place that it makes.
    fn margin(&self, _cell_m: f64) -> usize {
        0
    }

    /// Makes its field on `site.frame()`.
    fn grow(&self, site: &Site) -> Result<Made, GrowError>;

    /// The grids of a process that needs the land as a whole, for a result on
    /// cells of `cell_m`; none for what looks at each place once.
    fn levels(&self, _cell_m: f64, _extent: Extent) -> Vec<Level> {
        Vec::new()
    }

    /// How far beyond the land such a process goes, metres: a whole number of cells of
    /// its coarsest grid.
    fn beyond_m(&self, _extent: Extent) -> f64 {
        0.0
    }

    /// When such a process takes away or covers the detail that its grids do not carry:
    /// how much ground must be moved for half of it to be gone, as a share of a cell.
    fn buries_m(&self) -> Option<f64> {
        None
    }

    /// Floats for each cell that it holds at once on the finest of its grids.
    fn fields(&self) -> f64 {
        8.0
    }

    /// The same when that has so many cells along its longer side.
    fn fields_on(&self, _longest: usize) -> f64 {
        self.fields()
    }

    /// Looks at each cell that one time step on a grid is worth.
    fn passes_in_step(&self) -> f64 {
        1.0
    }

    /// How often it goes over each cell of its result, beside its grids: once for
    /// each layer, look or copy.
    fn passes(&self, _size: Size, _extent: Extent) -> f64 {
        4.0 + self.octaves().map_or(0.0, |(_, octaves, _)| octaves)
    }

    /// By how much it blurs the land below it (a standard deviation, metres).
    fn blurs_m(&self) -> f64 {
        0.0
    }

    /// What it leaves beside its heights.
    fn products(&self) -> &'static [Product] {
        &[]
    }

    /// Whether it leaves one of them as it is set; else that is 0 everywhere.
    fn leaves(&self, _product: Product) -> bool {
        true
    }

    /// The strand that it takes in.
    fn takes_in(&self) -> Option<&str> {
        None
    }

    /// Cells along the longer side on which it takes that strand in, when they do
    /// not depend on its own.
    fn takes_in_on(&self) -> Option<usize> {
        None
    }

    /// The field of that strand that it takes in, when not its heights.
    fn takes_product(&self) -> Option<Product> {
        None
    }

    /// The asset that it reads.
    fn asset(&self) -> Option<&str> {
        None
    }

    /// The masks among its parameters.
    fn masks(&self) -> Vec<&Mask> {
        Vec::new()
    }

    /// Size of its largest forms in metres, its layers, and how many times
    /// finer each is, when it is made of layers.
    fn octaves(&self) -> Option<(f64, f64, f64)> {
        None
    }

    /// Whether it moves the surface, so that a hard-edged mask would show as
    /// blobs.
    fn displaces(&self) -> bool {
        false
    }

    /// Whether it makes or keeps hollows that water cannot leave, on purpose.
    fn means_hollows(&self) -> bool {
        false
    }

    /// Checks what types and ranges cannot.
    fn check(&self) -> Result<(), Unfit> {
        Ok(())
    }

    /// What it cannot begin without.
    fn needs(&self) -> Option<Needs> {
        None
    }

    /// These parameters, for a strand that is taken in.
    fn taking_in(self) -> Self
    where
        Self: Sized,
    {
        self
    }

    /// These parameters, made so that their effect is seen in a small picture; none
    /// when nothing can be shown of them alone.
    fn example(self) -> Option<Self>
    where
        Self: Sized,
    {
        Some(self)
    }

    /// Height of the sea in the example; far below the land where it says nothing.
    fn example_sea_m() -> f64
    where
        Self: Sized,
    {
        -10_000.0
    }

    /// Steps on the land of the example before it, by name.
    fn example_after() -> &'static [&'static str]
    where
        Self: Sized,
    {
        &[]
    }
}

/// What a kind of step cannot begin without.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Needs {
    /// An imported file.
    File,
    /// Another strand.
    Strand,
    /// Another strand, or an imported file.
    StrandOrFile,
}

/// What kinds of step are for, in the order of work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Group {
    /// Making shape.
    Make,
    /// Detail on what is there.
    Detail,
    /// Borders of the land.
    Bound,
    /// Pushing places about.
    Move,
    /// Bending heights.
    Values,
    /// Wearing the land down.
    Erode,
}

impl Group {
    /// Its name in requests.
    pub fn name(self) -> &'static str {
        match self {
            Group::Make => "make",
            Group::Detail => "detail",
            Group::Bound => "bound",
            Group::Move => "move",
            Group::Values => "values",
            Group::Erode => "erode",
        }
    }

    /// All groups.
    pub const ALL: [Self; 6] = [
        Self::Make,
        Self::Detail,
        Self::Bound,
        Self::Move,
        Self::Values,
        Self::Erode,
    ];

    /// Its name on screen.
    pub fn title(self) -> &'static str {
        match self {
            Group::Make => "Make shape",
            Group::Detail => "Detail",
            Group::Bound => "Borders",
            Group::Move => "Push about",
            Group::Values => "Bend heights",
            Group::Erode => "Wear down",
        }
    }
}

/// What a newcomer needs to know about a kind of step.
#[derive(Clone, Debug, Serialize)]
pub struct KindSheet {
    /// Its name in a recipe.
    pub kind: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it is for.
    pub group: Group,
    /// What it leaves beside its heights.
    pub products: &'static [Product],
    /// What it usually does with what is there already.
    pub combine: Combine,
    /// Parameters to begin with.
    pub defaults: serde_json::Value,
    /// What it cannot begin without.
    pub needs: Option<Needs>,
    /// Parameters to begin with when it takes in another strand.
    pub on_strand: serde_json::Value,
    /// Parameters whose effect is seen in a small picture; none when nothing can be
    /// shown of it alone.
    pub example: Option<serde_json::Value>,
    /// Height of the sea in the example, metres.
    pub example_sea_m: f64,
    /// Kinds of step on the land of the example before it.
    pub example_after: &'static [&'static str],
    /// JSON Schema of the parameters; its description says what the kind is for.
    pub schema: serde_json::Value,
}

fn plain(parameters: &impl Serialize) -> serde_json::Value {
    serde_json::to_value(parameters).expect("parameters are plain data")
}

macro_rules! kinds {
    ($($name:ident($params:ty), $key:literal, $title:literal, $group:ident, $combine:ident;)*) => {
        /// A kind of step with its parameters.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
        #[serde(rename_all = "snake_case")]
        pub enum Operation {
            $(#[doc = $title] $name($params),)*
        }

        impl Operation {
            fn kind(&self) -> &dyn Kind {
                match self { $(Operation::$name(params) => params,)* }
            }

            /// Its name in a recipe.
            pub fn key(&self) -> &'static str {
                match self { $(Operation::$name(_) => $key,)* }
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
                let all = [$(<$params>::default().products(),)*].concat();
                // Of what several leave the first: in the order of kinds.
                let mut seen = BTreeSet::new();
                all.into_iter().filter(|&product| seen.insert(product)).collect()
            });
            &ALL
        }

        /// All kinds, in the order in which they are offered.
        pub fn kind_sheets() -> Vec<KindSheet> {
            vec![$(KindSheet {
                kind: $key,
                title: $title,
                group: Group::$group,
                products: <$params>::default().products(),
                combine: Combine::$combine,
                defaults: plain(&<$params>::default()),
                needs: <$params>::default().needs(),
                on_strand: plain(&<$params>::default().taking_in()),
                example: <$params>::default().example().map(|shown| plain(&shown)),
                example_sea_m: <$params>::example_sea_m(),
                example_after: <$params>::example_after(),
                schema: schemars::schema_for!($params).to_value(),
            },)*]
        }
    };
}

impl Operation {
    pub(crate) fn margin(&self, cell_m: f64) -> usize {
        self.kind().margin(cell_m)
    }

    pub(crate) fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        self.kind().grow(site)
    }

    pub(crate) fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        self.kind().levels(cell_m, extent)
    }

    pub(crate) fn beyond_m(&self, extent: Extent) -> f64 {
        self.kind().beyond_m(extent)
    }

    pub(crate) fn fields_on(&self, longest: usize) -> f64 {
        self.kind().fields_on(longest)
    }

    pub(crate) fn passes_in_step(&self) -> f64 {
        self.kind().passes_in_step()
    }

    pub(crate) fn passes(&self, size: Size, extent: Extent) -> f64 {
        self.kind().passes(size, extent)
    }

    pub(crate) fn blurs_m(&self) -> f64 {
        self.kind().blurs_m()
    }

    pub(crate) fn takes_in_on(&self) -> Option<usize> {
        self.kind().takes_in_on()
    }

    /// How long it takes beside others, about: processes that go over the land
    /// many times take far longer than one look at each place.
    pub(crate) fn effort(&self) -> f32 {
        const MANY_TIMES: f32 = 25.0;
        match self.group() {
            Group::Erode => MANY_TIMES,
            _ => 1.0,
        }
    }

    /// What it leaves beside its heights.
    pub fn products(&self) -> &'static [Product] {
        self.kind().products()
    }

    /// The fields that it leaves as it is set.
    pub(crate) fn fields_left(&self) -> impl Iterator<Item = Product> {
        let declared = self.products().iter().copied();
        declared.filter(|&product| product.field().is_some() && self.kind().leaves(product))
    }

    /// The strand that it takes in.
    pub fn takes_in(&self) -> Option<&str> {
        self.kind().takes_in()
    }

    /// The asset that it reads.
    pub fn asset(&self) -> Option<&str> {
        self.kind().asset()
    }

    pub(crate) fn masks(&self) -> Vec<&Mask> {
        self.kind().masks()
    }

    pub(crate) fn takes_product(&self) -> Option<Product> {
        self.kind().takes_product()
    }

    pub(crate) fn octaves(&self) -> Option<(f64, f64, f64)> {
        self.kind().octaves()
    }

    pub(crate) fn displaces(&self) -> bool {
        self.kind().displaces()
    }

    pub(crate) fn means_hollows(&self) -> bool {
        self.kind().means_hollows()
    }

    pub(crate) fn check(&self) -> Result<(), Unfit> {
        self.kind().check()
    }
}

kinds! {
    Noise(Noise), "noise", "Layered noise", Make, Add;
    Primitive(Primitive), "primitive", "Primitive", Make, Add;
    Heightfield(Heightfield), "heightfield", "Heightfield", Make, Replace;
    Tiles(Tiles), "tiles", "Tiles", Make, Add;
    TakeIn(TakeIn), "take_in", "Take in a strand", Make, Add;
    Strew(Strew), "strew", "Strewn copies", Detail, Replace;
    Displace(Displace), "displace", "Displacement", Detail, Replace;
    Outcrop(Outcrop), "outcrop", "Rock outcrops", Detail, Replace;
    FallOff(FallOff), "fall_off", "Edge fall-off", Bound, Replace;
    Cut(Cut), "cut", "Cut to an outline", Bound, Replace;
    Warp(Warp), "warp", "Warp", Move, Replace;
    Swirl(Swirl), "swirl", "Swirl", Move, Replace;
    Drift(Drift), "drift", "Drift", Move, Replace;
    Pull(Pull), "pull", "Pull to a point", Move, Replace;
    Twirl(Twirl), "twirl", "Twirl", Move, Replace;
    Rescale(Rescale), "rescale", "Rescale", Values, Replace;
    Clip(Clip), "clip", "Clip", Values, Replace;
    GroundAtZero(GroundAtZero), "ground_at_zero", "Lowest point to a level", Values, Replace;
    Invert(Invert), "invert", "Invert", Values, Replace;
    Curve(Curve), "curve", "Response curve", Values, Replace;
    BiasGain(BiasGain), "bias_gain", "Bias and gain", Values, Replace;
    Terraces(Terraces), "terraces", "Terraces", Values, Replace;
    EaseFoot(EaseFoot), "ease_foot", "Ease the foot", Values, Replace;
    Blur(Blur), "blur", "Blur", Values, Replace;
    Sharpen(Sharpen), "sharpen", "Sharpen", Values, Replace;
    Ages(Ages), "ages", "Ages", Erode, Replace;
    Water(Water), "water", "Running water", Erode, Replace;
    Rivers(Rivers), "rivers", "River network", Erode, Replace;
    RiverBeds(RiverBeds), "river_beds", "River beds", Erode, Replace;
    Crumble(Crumble), "crumble", "Crumbling", Erode, Replace;
    Settle(Settle), "settle", "Settling sediment", Erode, Replace;
    Flatten(Flatten), "flatten", "Flatten the gentle", Erode, Replace;
    Snow(Snow), "snow", "Snow", Erode, Replace;
}
