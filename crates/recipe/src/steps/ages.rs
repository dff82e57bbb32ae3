//! Ages: rivers, slopes and sediment together.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{AgeLaw, Aging, FIRM, Ground, Ledger, Level, Outlets, river_lines};
use terrain::grid::resample;
use terrain::ground::Colour;
use terrain::line::Polyline;
use terrain::noise::{Basis, FractalNoise};
use terrain::shape::blurred_to_the_edge;
use terrain::{Extent, Frame, Grid, Run};

use super::products::{DEPOSIT, RIVERS, WEAR};
use super::{Kind, Made};
use crate::document::{Declared, Form, Mask, Measure, Product};
use crate::grow::{GrowError, Products, Site, Stage, Worked};

/// Ages go by: high ground rises, rivers cut it, slopes give way, and what was cut
/// is laid down in valleys, fans and the sea. One step makes ranges, basins and all
/// their valleys of whatever lies below it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Ages {
    /// How far the land has aged: 0.3 is young, 1 mature, where rivers and uplift are
    /// in balance; beyond, nothing rises any more, and 2 is old and worn down.
    #[schemars(range(min = 0.01, max = 5), extend("x-slider" = [0.05, 2.5]))]
    pub age: f64,
    /// From one small valley to the next: wide makes rounded hills, narrow makes
    /// gullied slopes.
    #[schemars(range(min = 1, max = 20_000), extend("x-unit" = "m", "x-slider" = [40.0, 1500.0], "x-scale" = "log"))]
    pub spacing_m: f64,
    /// From the valleys to the tops when mature; 0 keeps what the land has.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0]))]
    pub relief_m: f64,
    /// Hard rock stands steeply: 0 is clay, 1 sound granite.
    #[schemars(range(min = 0, max = 1))]
    pub hardness: f64,
    /// How readily rivers lay down what they carry: 0 leaves bare valleys, more makes
    /// fans and broad floors.
    #[schemars(range(min = 0, max = 5), extend("x-slider" = [0.0, 2.0]))]
    pub sediment: f64,
    /// How much rock and uplift differ from place to place.
    #[schemars(range(min = 0, max = 2), extend("x-slider" = [0.0, 1.5], "x-more" = true))]
    pub variety: f64,
    /// Which of the endless variants.
    #[schemars(extend("x-slider" = [0, 99], "x-more" = true))]
    pub seed: u32,
    /// A river begins where so much land drains through.
    #[schemars(range(min = 1, max = 1e12), extend("x-unit" = "m²", "x-slider" = [10_000.0, 4_000_000.0], "x-scale" = "log", "x-more" = true))]
    pub source_m2: f64,
    /// Where the land rises, instead of where it is high.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub rises: Option<Mask>,
    /// Where the ground is firm: it stays as it is where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub hard: Option<Mask>,
}

impl Default for Ages {
    fn default() -> Self {
        Self {
            age: 1.0,
            spacing_m: 250.0,
            relief_m: 0.0,
            hardness: 0.5,
            sediment: 0.7,
            variety: 1.0,
            seed: 1,
            source_m2: 250_000.0,
            rises: None,
            hard: None,
        }
    }
}

/// How fast the ground is being lowered: handed on to finer grids alone.
const LOWERING: Product = Product::of(&Declared {
    name: "lowering",
    title: "Lowering",
    about: "How fast the ground is being lowered, millimetres a year.",
    form: Form::field(
        Measure::amount("mm/yr", 0.5),
        Colour {
            r: 0.5,
            g: 0.16,
            b: 0.02,
        },
        0.5,
    ),
});

/// Erodibility K of common rock, m^0.1 per year (Stock and Montgomery 1999: a few
/// millionths for granitic and metamorphic rock, from memory).
const ERODIBILITY: f64 = 5e-6;
/// Exponent m of the drainage area: with the slope's 1, the concavity of rivers (Whipple
/// and Tucker 1999: 0.35 to 0.6).
const AREA_EXPONENT: f64 = 0.45;
/// ∫A^−m dx up a trunk stream of length L is this times L to the power [`CHI_EXPONENT`],
/// with Hack's (1957) law L = 1.4·A^0.6, in kilometres (Perron and Royden 2013).
const CHI: f64 = 1.87;
/// See [`CHI`]: 1 − 1.67·m.
const CHI_EXPONENT: f64 = 0.25;
/// A trunk stream takes this share of the land's longer side to fall to its outlet.
const TRUNK: f64 = 0.7;
/// Small valleys are about as many times as far apart as the length at which rivers
/// and creep are even, (D/K)^(1/(1+2m)) (Perron, Kirchner and Dietrich 2009, figure 3).
const SPACINGS: f64 = 10.0;
/// Mature is this many times what a wave of cutting takes from the outlets to the
/// divides.
const MATURE: f64 = 1.5;
/// The share of what such a wave takes that each finer grid gets, in which nothing rises but what
/// the coarser grid cuts: its own small valleys need no more.
const FINER_SHARE: f64 = 0.08;
/// Cells of the first grid along the longer side of the land, and around it: enough
/// for the trunk valleys and for the country that they come from.
const FIRST_CELLS: f64 = 64.0;
const AROUND_CELLS: f64 = 10.0;
/// Time steps on the first grid, and on the finer ones.
const STEPS: usize = 32;
const FINER_STEPS: usize = 4;
/// Time steps in which an old land is worn down.
const OLD_STEPS: usize = 16;
/// Cells of the finest grid along the longer side: finer land has its detail.
const FINEST_CELLS: f64 = 4096.0;
/// Slopes between small valleys are smooth on grids finer than this share of their
/// spacing: nothing is left for such a grid to cut.
const FINEST_SPACING: f64 = 24.0;
/// The share of what comes to a place on the sea floor in a step that stays there:
/// little, so that deltas have long fronts.
const SEA_TAKES: f64 = 0.1;
/// Stable slopes of the softest and the hardest rock, degrees.
const STANDS_DEG: (f64, f64) = (22.0, 46.0);

/// Millimetres in a metre.
const MM: f32 = 1000.0;

/// What holds for the whole land, told by its coarsest grid.
struct Land {
    /// Blurred heights on `frame`: what is high rises.
    soft: Grid,
    frame: Frame,
    low_m: f64,
    high_m: f64,
    /// Years that a wave of cutting takes from the outlets to the divides.
    span: f64,
    /// How fast the highest ground rises, metres per year.
    uplift: f64,
}

/// Fields of one grid.
struct Fields {
    rises: Grid,
    gives: Grid,
    stands: Grid,
}

impl Ages {
    fn first_cell_m(extent: Extent) -> f64 {
        extent.longest_m() / FIRST_CELLS
    }

    fn law(&self, site: &Site, first: bool) -> AgeLaw {
        let even_m = self.spacing_m / SPACINGS;
        AgeLaw {
            erodibility: ERODIBILITY,
            area_exponent: AREA_EXPONENT,
            deposition: self.sediment,
            // What the sea took on the first grid lies there already.
            sea_takes: if first { SEA_TAKES } else { 0.0 },
            diffusivity: ERODIBILITY * even_m.powf(1.0 + 2.0 * AREA_EXPONENT),
            sea_level_m: site.sea_level_m(),
        }
    }

    fn land(&self, site: &Site) -> Result<Land, GrowError> {
        /// What is high is told of land blurred by this share of its longer side.
        const BLUR: f64 = 0.04;
        /// Shares of the land below what counts as low, and as high.
        const LOW: f64 = 0.05;
        const HIGH: f64 = 0.97;
        const TOP: f64 = 0.99;
        let (extent, cell_m) = (site.extent(), Self::first_cell_m(site.extent()));
        let frame = Frame::covering(extent, cell_m).grown(AROUND_CELLS as usize);
        let heights = site.below_on(&frame)?;
        let longest_m = extent.longest_m();
        let soft = blurred_to_the_edge(&heights, BLUR * longest_m, cell_m);
        let sea = site.sea_level_m();
        let low_m = share_below(&soft, LOW).max(sea);
        let own_m = share_below(&heights, TOP) - share_below(&heights, LOW).max(sea);
        let relief_m = match self.relief_m > 0.0 {
            true => self.relief_m,
            false => own_m.max(0.0),
        };
        let chi = CHI * (TRUNK * longest_m).powf(CHI_EXPONENT);
        Ok(Land {
            low_m,
            high_m: share_below(&soft, HIGH).max(low_m),
            soft,
            frame,
            span: chi / ERODIBILITY,
            uplift: relief_m / chi * ERODIBILITY,
        })
    }

    fn fields(
        &self,
        site: &Site,
        land: &Land,
        stage: &Stage,
        run: Run,
    ) -> Result<Fields, GrowError> {
        /// The least that rises, against the highest ground: a lowland is not a sink.
        const LEAST: f32 = 0.1;
        /// Land that is level rises as a block.
        const LEVEL_M: f64 = 1.0;
        /// Features of the noise by which uplift, rock and stable slopes differ, as
        /// shares of the longer side, and how much it does.
        const UPLIFT: (f64, f32) = (0.4, 0.8);
        const ROCK: (f64, f32) = (0.2, 0.8);
        const SLOPES: (f64, f32) = (0.1, 0.25);
        /// Over so many metres of height the shore stops rising.
        const SHORE_M: f32 = 30.0;
        let frame = &stage.frame;
        let longest_m = site.extent().longest_m();
        let variety = self.variety as f32;
        let vary = |(feature, amount): (f64, f32), salt: u32| -> Result<Grid, GrowError> {
            let noise = FractalNoise {
                // Simplex noise has no axes that a range could follow.
                basis: Basis::Simplex,
                feature_m: feature * longest_m,
                octaves: 4.0,
                seed: self.seed.wrapping_add(salt),
                ..FractalNoise::default()
            };
            let amount = amount * variety;
            Ok(noise.fill(frame, run)?.map(|v| amount * v))
        };
        let soft = resample(&land.soft, &land.frame, frame);
        let span_m = land.high_m - land.low_m;
        let (low, span) = (land.low_m as f32, span_m as f32);
        let pattern = match (&self.rises, span_m < LEVEL_M) {
            (Some(mask), _) => site.mask_below(mask, frame)?,
            (None, true) => Grid::filled(frame.cols, frame.rows, 1.0),
            (None, false) => soft.map(|h| ((h - low) / span).clamp(0.0, 1.3)),
        };
        let uplift = land.uplift as f32;
        let rises = pattern.zip_map(&vary(UPLIFT, 0x51)?, |high, v| {
            uplift * (LEAST + (1.0 - LEAST) * high) * (1.0 + v).max(LEAST)
        });
        let sea = site.sea_level_m() as f32;
        // An arm of the sea between mountains does not rise with them.
        let ashore = soft.zip_map(&stage.heights, |soft, near| {
            ((soft.min(near) - sea) / SHORE_M).clamp(0.0, 1.0)
        });
        let gives = vary(ROCK, 0x52)?.map(f32::exp);
        let (soft_deg, hard_deg) = STANDS_DEG;
        let angle = (soft_deg + (hard_deg - soft_deg) * self.hardness) as f32;
        let most = hard_deg as f32 + 10.0;
        Ok(Fields {
            rises: rises.zip_map(&ashore, |rises, ashore| rises * ashore),
            gives: match &self.hard {
                None => gives,
                Some(mask) => {
                    let firm = site.mask_below(mask, frame)?;
                    gives.zip_map(&firm, |gives, firm| gives * (1.0 - firm))
                }
            },
            stands: vary(SLOPES, 0x53)?
                .map(|v| (angle * (1.0 + v)).clamp(5.0, most).to_radians().tan()),
        })
    }

    fn work(&self, site: &Site, mut stage: Stage) -> Result<Worked, GrowError> {
        let first = stage.coarse.is_none();
        let (frame, law) = (stage.frame, self.law(site, first));
        let land = self.land(site)?;
        let run = stage.run.quietly();
        run.check()?;
        let fields = self.fields(site, &land, &stage, run)?;
        run.check()?;
        let ground = |rises| Ground {
            rises,
            gives: &fields.gives,
            stands: &fields.stands,
        };
        let outlets = Outlets::low_border(&stage.heights, law.sea_level_m);
        let mature = MATURE * land.span * self.age.min(1.0);
        let begun = stage.begun();
        let mut aging = Aging::on(begun.clone(), &frame, outlets);
        let (mut wear, mut deposit) = (stage.take(WEAR), stage.take(DEPOSIT));
        // What the coarser grid cuts rises, so that the land keeps its height while it
        // gets its small valleys.
        let balance = stage.take(LOWERING).map(|mm| mm / MM);
        // What rises, for how many years, in how many steps.
        let phases = match first {
            true => {
                // `balance` of a first grid is 0 everywhere: nothing rises any more.
                let old = (&balance, (self.age - 1.0) * land.span, OLD_STEPS);
                let mut phases = vec![(&fields.rises, mature, STEPS)];
                phases.extend((self.age > 1.0).then_some(old));
                phases
            }
            false => {
                let years = FINER_SHARE * land.span * self.age.min(1.0);
                vec![(&balance, years, stage.level.iterations)]
            }
        };
        let all: usize = phases.iter().map(|(_, _, steps)| steps).sum();
        let mut done = 0;
        for (rises, years, steps) in phases {
            for _ in 0..steps {
                aging.step(ground(rises), law, years / steps as f64, run)?;
                done += 1;
                stage.run.report(done as f32 / all as f32);
            }
        }
        if !first {
            run.check()?;
            keep_means(&mut aging.heights, &begun, &fields.gives, frame.cell_m);
            run.check()?;
        }
        // Hollows in ground that must not change stay too.
        if self.hard.is_none() {
            aging.fill_hollows(law, run)?;
        }
        let risen = fields.rises.map(|rate| rate * mature as f32);
        let risen = risen.zip_map(
            &fields.gives,
            |risen, gives| if gives > FIRM { risen } else { 0.0 },
        );
        let change = aging
            .heights
            .zip_map(&stage.heights, |after, before| after - before);
        if first {
            (wear, deposit) = (aging.wear, aging.deposit);
        }
        balanced(&change, &risen, &mut wear, &mut deposit);
        let area_m2 = frame.cell_area_m2();
        let (drainage, area) = aging.drainage.expect("at least one step");
        let lines = river_lines(&drainage, &area, &frame, self.source_m2);
        let inside = Frame::covering(site.extent(), frame.cell_m);
        let (col, row) = frame
            .offset_of(&inside)
            .expect("the country has the land in it");
        let volume =
            |field: &Grid| field.cropped(col, row, inside.cols, inside.rows).sum() * area_m2;
        let (worn_m3, dropped_m3) = (volume(&wear), volume(&deposit));
        let lowering = match first {
            // Of late, in one place, is chance: rivers on a plain cut here and lay down
            // there in turn.
            true => blurred_to_the_edge(&aging.lowered, 2.0 * frame.cell_m, frame.cell_m)
                .map(|rate| rate.max(0.0)),
            false => balance,
        };
        Ok(Worked {
            frame,
            change,
            ledger: Ledger {
                risen_m3: volume(&risen),
                worn_m3,
                dropped_m3,
                // What the land around has brought in, or has taken.
                added_m3: (dropped_m3 - worn_m3).max(0.0),
                carried_off_m3: (worn_m3 - dropped_m3).max(0.0),
                ..Ledger::default()
            },
            products: Products::default()
                .with(WEAR, wear)
                .with(DEPOSIT, deposit)
                .with(LOWERING, lowering.map(|per_year| per_year * MM))
                .with(RIVERS, within(lines, site.extent())),
        })
    }
}

/// The height that `share` of the land is below.
fn share_below(heights: &Grid, share: f64) -> f64 {
    let mut values = heights.values().to_vec();
    let place = ((values.len() - 1) as f64 * share) as usize;
    f64::from(*values.select_nth_unstable_by(place, f32::total_cmp).1)
}

/// Makes deposit less wear what the land has gained beyond what has risen: what finer
/// grids shift about is booked where it went.
fn balanced(change: &Grid, risen: &Grid, wear: &mut Grid, deposit: &mut Grid) {
    let gained = change.zip_map(risen, |change, risen| change - risen);
    let booked = deposit.zip_map(wear, |laid, worn| laid - worn);
    let missing = gained.zip_map(&booked, |gained, booked| gained - booked);
    *deposit = deposit.zip_map(&missing, |laid, missing| laid + missing.max(0.0));
    *wear = wear.zip_map(&missing, |worn, missing| worn - missing.min(0.0));
}

/// Takes off by how much `heights` have strayed from where they `begun` over more than
/// the cells of the coarser grid: a finer grid adds detail, and moves no mountain.
fn keep_means(heights: &mut Grid, begun: &Grid, gives: &Grid, cell_m: f64) {
    /// Standard deviation of the blur that tells detail from the rest, in cells.
    const DETAIL_CELLS: f64 = 3.0;
    let strayed = heights.zip_map(begun, |after, before| after - before);
    let strayed = blurred_to_the_edge(&strayed, DETAIL_CELLS * cell_m, cell_m);
    let strayed = strayed.zip_map(
        gives,
        |strayed, gives| {
            if gives > FIRM { strayed } else { 0.0 }
        },
    );
    *heights = heights.zip_map(&strayed, |height, strayed| height - strayed);
}

/// The parts of `lines` that lie on the land.
fn within(lines: Vec<Polyline>, extent: Extent) -> Vec<Polyline> {
    let inside = |line: &Polyline, k: usize| {
        let at = line.points[k].at;
        (0.0..=extent.width_m).contains(&at.x) && (0.0..=extent.depth_m).contains(&at.y)
    };
    let mut parts = Vec::new();
    for line in lines {
        let mut first = 0;
        for k in 0..=line.points.len() {
            if k < line.points.len() && inside(&line, k) {
                continue;
            }
            if k - first > 1 {
                parts.push(Polyline {
                    rank: line.rank,
                    points: line.points[first..k].to_vec(),
                });
            }
            first = k + 1;
        }
    }
    parts
}

impl Kind for Ages {
    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        let first = Level {
            cell_m: Self::first_cell_m(extent),
            iterations: STEPS + if self.age > 1.0 { OLD_STEPS } else { 0 },
        };
        let finest_m = (extent.longest_m() / FINEST_CELLS)
            .max(self.spacing_m / FINEST_SPACING)
            .max(cell_m * Level::SLACK);
        let finer = (1..).map(|k| Level {
            cell_m: first.cell_m / f64::powi(2.0, k),
            iterations: FINER_STEPS,
        });
        let mut levels = vec![first];
        levels.extend(finer.take_while(|level| level.cell_m >= finest_m));
        levels
    }

    fn beyond_m(&self, extent: Extent) -> f64 {
        AROUND_CELLS * Self::first_cell_m(extent)
    }

    fn buries_m(&self) -> Option<f64> {
        Some(0.05)
    }

    /// Water is routed, and all that moves is carried down.
    fn passes_in_step(&self) -> f64 {
        24.0
    }

    /// Routing, nodes, and what each has: some forty floats.
    fn fields(&self) -> f64 {
        44.0
    }

    fn products(&self) -> &'static [Product] {
        &[WEAR, DEPOSIT, RIVERS]
    }

    fn masks(&self) -> Vec<&Mask> {
        self.rises.iter().chain(&self.hard).collect()
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
