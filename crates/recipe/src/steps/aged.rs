//! What all steps share in which land ages: from coarse grids to fine, with the country
//! around, rock that differs, and an account of the ground.

use std::borrow::Cow;

use terrain::erosion::{
    Adjustment, AgeLaw, Aging, Beds, FIRM, Ground, Outlets, Side, keep_means, river_lines,
    round_bottoms,
};
use terrain::ground::Colour;
use terrain::line::Polyline;
use terrain::noise::{Basis, FractalNoise};
use terrain::shape::blurred_to_the_edge;
use terrain::{Extent, Frame, Grid, Run};

use super::products::{DEPOSIT, DRAINAGE, LAID, RIVERS, ROCK_BROWN, WEAR};
use crate::document::{Declared, Form, Mask, Measure, Product};
use crate::grow::{GridBelow, GrowError, ProcessOutput, Products, Site, Stage, Strata, balanced};

/// The country around the land, as a share of its longer side.
pub(super) const AROUND: f64 = 10.0 / 64.0;
/// Small valleys are about as many times as far apart as the length at which rivers
/// and creep are even, (D/K)^(1/(1+2m)) (Perron, Kirchner and Dietrich 2009, figure 3).
pub(super) const SPACINGS: f64 = 10.0;
/// Features of the noise by which uplift and rock differ, as shares of the longer side, and
/// how much they do.
pub(super) const UPLIFT: (f64, f32) = (0.4, 0.8);
pub(super) const ROCKS: (f64, f32) = (0.2, 0.8);

/// See [`Kind::buries_m`](super::Kind::buries_m).
pub(super) const BURIES_M: f64 = 0.05;
/// Looks at each cell that a step of time is worth: water is routed, and all that moves is
/// carried down.
pub(super) const PASSES_IN_STEP: f64 = 24.0;
/// Routing, nodes, rock, and what each has: some twenty-seven floats a cell, and what the largest
/// groves need meanwhile.
pub(super) const FIELDS: f64 = 31.0;

/// How hard the bed of rock is that lies at the surface.
pub const ROCK: Product = Product::of(&Declared {
    name: "rock",
    title: "Bed of rock",
    about: "How hard the bed of rock at the surface is: 0 soft, 1 hard.",
    form: Form::field(Measure::share(), ROCK_BROWN, 1.0).as_it_is(),
});

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

/// How deeply valleys are filled in the end: handed on to finer grids alone, which take it out.
const FILL: Product = Product::of(&Declared {
    name: "fill",
    title: "Fill",
    about: "How deeply valleys are filled, metres.",
    form: Form::field(Measure::amount("m", 5.0), LAID, 0.5),
});

/// Millimetres in a metre.
const MM: f32 = 1000.0;

/// Beds in which the rock lies.
pub(super) struct Bedding {
    pub(super) beds: Beds,
    /// By how much each place lies above its bed's own level, metres: dip and folds.
    pub(super) lies: Grid,
    /// How much beds differ, 0 to 1.
    pub(super) amount: f32,
}

/// The ground of one grid.
pub(super) struct Fields {
    /// Metres per year.
    pub(super) uplift: Grid,
    /// See [`Ground::erodibility`].
    pub(super) erodibility: Grid,
    /// The steepest slopes that stand, degrees.
    pub(super) critical_deg: Grid,
    pub(super) bedding: Option<Bedding>,
}

/// Years that go by on the first grid.
pub(super) struct Phase {
    pub(super) years: f64,
    pub(super) steps: usize,
    /// Whether the land rises meanwhile.
    pub(super) uplift: bool,
}

/// A step in which land ages, on one grid.
pub(super) struct Aged {
    pub(super) law: AgeLaw,
    pub(super) fields: Fields,
    pub(super) outlets: Outlets,
    /// What happens on the first grid.
    pub(super) phases: Vec<Phase>,
    /// How long each finer grid has, in which nothing rises but what the coarser one
    /// cuts: time is shared, and the land's height does not depend on the resolution.
    pub(super) finer_years: f64,
    /// Whether some ground must not change at all.
    pub(super) firm: bool,
    /// A river begins where so much land drains through, m².
    pub(super) source_m2: f64,
    /// Whether the drainage area is left too.
    pub(super) drains: bool,
}

impl Aged {
    pub(super) fn work(self, site: &Site, mut stage: Stage) -> Result<ProcessOutput, GrowError> {
        let first = stage.coarse.is_none();
        let (frame, law) = (stage.frame, self.law);
        let run = stage.run.quietly();
        run.check()?;
        let mut begun = stage.begin();
        let mut books = stage.open_books(&begun);
        let (worn, mut laid) = (stage.take(WEAR), stage.take(DEPOSIT));
        // Valleys are filled in the end: a finer grid cuts them before.
        if law.fill_m > 0.0 {
            let filled = stage.take(FILL);
            begun.zip_in_place(&filled, |height, filled| height - filled);
            laid.zip_in_place(&filled, |laid, filled| (laid - filled).max(0.0));
            books.adjusted(Adjustment::ValleyFill, &begun);
        }
        // What the coarser grid cuts rises, so that the land keeps its height while it
        // gets its small valleys.
        let balance = stage.take(LOWERING).map(|mm| mm / MM);
        let mut aging = Aging::on(begun.clone(), &frame, self.outlets);
        if !first {
            aging = aging.without_books();
        }
        let rising = aging.uplift(&self.fields.erodibility, law.sea_level_m);
        let raised = |rates: &Grid, years: f64| raised(rates, &rising, years);
        let risen_years = years_of_uplift(&self.phases);
        let risen = raised(&self.fields.uplift, risen_years);
        books.risen(&risen);
        let finer = [Phase {
            years: self.finer_years,
            steps: stage.level.iterations,
            uplift: true,
        }];
        let (phases, uplift) = match first {
            true => (&self.phases[..], &self.fields.uplift),
            false => (&finer[..], &balance),
        };
        if !first {
            books.raises(Adjustment::KeptHeight, &raised(&balance, self.finer_years));
        }
        self.fields
            .age(&mut aging, phases, uplift, law, stage.run)?;
        books.moved(&aging.heights, aging.carried_off_m3);
        let sea = law.sea_level_m as f32;
        round_bottoms(&mut aging.heights, &self.fields.erodibility, sea);
        books.adjusted(Adjustment::Smoothed, &aging.heights);
        if !first {
            run.check()?;
            keep_means(
                &mut aging.heights,
                &begun,
                &self.fields.erodibility,
                frame.cell_m,
            );
            books.adjusted(Adjustment::KeptHeight, &aging.heights);
            run.check()?;
        }
        let filled = match law.fill_m > 0.0 {
            true => Some(aging.fill_valleys(&self.fields.erodibility, law, run)?),
            false => None,
        };
        books.adjusted(Adjustment::ValleyFill, &aging.heights);
        // Hollows in ground that must not change stay too.
        if !self.firm {
            aging.fill_hollows(law, run)?;
            books.adjusted(Adjustment::Depressions, &aging.heights);
        }
        let change = aging
            .heights
            .zip_map(&stage.heights, |after, before| after - before);
        let (mut wear, mut deposit) = match first {
            true => (aging.wear, aging.deposit),
            false => (worn, laid),
        };
        balanced(&change, Some(&risen), &mut wear, &mut deposit);
        let (drainage, area) = aging.drainage.expect("at least one step");
        let lines = river_lines(&drainage, &area, &frame, self.source_m2);
        let lowering = match first {
            // Of late, in one place, is chance: rivers on a plain cut here and lay down
            // there in turn.
            true => blurred_to_the_edge(&aging.lowered, 2.0 * frame.cell_m, frame.cell_m)
                .map(|rate| rate.max(0.0)),
            false => balance,
        };
        let mut products = Products::default()
            .with(LOWERING, lowering.map(|per_year| per_year * MM))
            .with(RIVERS, within(lines, site.extent()));
        if let Some(filled) = filled {
            products = products.with(FILL, filled);
        }
        if self.drains {
            let area_m2 = frame.cell_area_m2();
            let area = area
                .iter()
                .map(|&cells| (f64::from(cells) * area_m2) as f32);
            let area = Grid::from_vec(frame.cols, frame.rows, area.collect());
            products = products.with(DRAINAGE, area.expect("one for each cell"));
        }
        let strata = match self.fields.bedding {
            Some(Bedding { beds, lies, .. }) => Some(Strata {
                beds,
                lies: lies.into(),
            }),
            // Who takes no notice of beds raises them all the same.
            None => (site.strata_below(&frame)?)
                .map(|strata| strata.raised(&self.fields.risen(risen_years))),
        };
        if let Some(strata) = strata {
            products = products.with_strata(strata);
        }
        let products = products.with(WEAR, wear).with(DEPOSIT, deposit);
        Ok(ProcessOutput {
            frame,
            account: books.close(&change),
            change,
            products,
        })
    }
}

/// How long the land rises in all.
fn years_of_uplift(phases: &[Phase]) -> f64 {
    let uplift = phases.iter().filter(|phase| phase.uplift);
    uplift.map(|phase| phase.years).sum()
}

/// By how much each cell that is `rising` has risen after so many years, metres.
fn raised(rates: &Grid, rising: &[bool], years: f64) -> Grid {
    let cols = rates.cols();
    Grid::by_rows(cols, rates.rows(), |r, row| {
        let rising = &rising[r * cols..(r + 1) * cols];
        for ((raised, rate), rising) in row.iter_mut().zip(rates.row(r)).zip(rising) {
            *raised = if *rising { rate * years as f32 } else { 0.0 };
        }
    })
}

/// What the rock of each cell is like, at the height that it has now.
struct Rock<'a> {
    erodibility: Cow<'a, Grid>,
    critical_slope: Grid,
}

impl Fields {
    /// Lets the `phases` go by, in which `rises` says how fast each cell does where it does.
    fn age(
        &self,
        aging: &mut Aging,
        phases: &[Phase],
        uplift: &Grid,
        law: AgeLaw,
        run: Run,
    ) -> Result<(), GrowError> {
        let still = Grid::filled(uplift.cols(), uplift.rows(), 0.0);
        let all: usize = phases.iter().map(|phase| phase.steps).sum();
        let (mut left_years, mut done) = (years_of_uplift(phases), 0);
        let mut rock = None;
        for phase in phases {
            let years = phase.years / phase.steps as f64;
            for _ in 0..phase.steps {
                // Only in beds does it differ from height to height.
                if self.bedding.is_some() {
                    rock = None;
                }
                let rock =
                    rock.get_or_insert_with(|| self.rock(&aging.heights, uplift, left_years));
                let ground = Ground {
                    uplift: if phase.uplift { uplift } else { &still },
                    erodibility: &rock.erodibility,
                    critical_slope: &rock.critical_slope,
                };
                aging.step(ground, law, years, run.quietly())?;
                if phase.uplift {
                    left_years -= years;
                }
                done += 1;
                run.report(done as f32 / all as f32);
            }
        }
        Ok(())
    }

    /// By how much firm and other ground has risen after so many years, metres.
    pub(super) fn risen(&self, years: f64) -> Grid {
        self.uplift.zip_map(&self.erodibility, |rate, erodibility| {
            if erodibility > FIRM {
                rate * years as f32
            } else {
                0.0
            }
        })
    }

    /// Beds lie where they are when all has risen, so that in the end they are level,
    /// or dip as they should, however fast the land rose here or there.
    fn rock(&self, heights: &Grid, uplift: &Grid, left_years: f64) -> Rock<'_> {
        let tangent = |degrees: f32| degrees.to_radians().tan();
        let Some(bedding) = &self.bedding else {
            return Rock {
                erodibility: Cow::Borrowed(&self.erodibility),
                critical_slope: self.critical_deg.map(tangent),
            };
        };
        let left = left_years as f32;
        let levels = heights.zip_map(uplift, |height, rate| height + rate * left);
        let hard = bedding.hard_at(&levels);
        let amount = bedding.amount;
        Rock {
            erodibility: Cow::Owned(self.erodibility.zip_map(&hard, |erodibility, hard| {
                erodibility * Bedding::erodibility(amount, hard)
            })),
            critical_slope: self.critical_deg.zip_map(&hard, |degrees, hard| {
                tangent(Bedding::critical_deg(amount, degrees, hard))
            }),
        }
    }
}

impl Bedding {
    /// The hardest bed gives so many times less than the softest.
    const CONTRAST: f32 = 12.0;
    /// Beds of this hardness give as rock without beds does.
    const COMMON: f32 = 0.35;
    /// The steepest wall of the hardest bed, degrees.
    const WALL_DEG: f32 = 64.0;
    /// Soft beds stand so much less steeply, as a share.
    const SOFT: f32 = 0.25;

    pub(super) fn hard_at(&self, heights: &Grid) -> Grid {
        self.beds.hard_on(heights, &self.lies)
    }

    /// How many times more than common rock a bed gives.
    pub(super) fn erodibility(amount: f32, hard: f32) -> f32 {
        Self::CONTRAST.powf(amount * (Self::COMMON - hard))
    }

    /// The steepest slope of a bed, where rock without beds stands at `degrees`.
    pub(super) fn critical_deg(amount: f32, degrees: f32, hard: f32) -> f32 {
        let wall = (Self::WALL_DEG - degrees).max(0.0) * hard;
        let soft = Self::SOFT * degrees * (1.0 - hard);
        degrees + amount * (wall - soft)
    }
}

/// Noise over a share of the land's longer side, by which something differs from place
/// to place.
pub(super) fn varied(
    site: &Site,
    frame: &Frame,
    (feature, amount): (f64, f32),
    seed: u32,
    run: Run,
) -> Result<Grid, GrowError> {
    let noise = FractalNoise {
        // Simplex noise has no axes that a range could follow.
        basis: Basis::Simplex,
        feature_m: feature * site.extent().longest_m(),
        octaves: 4.0,
        seed,
        ..FractalNoise::default()
    };
    Ok(noise.fill(frame, run)?.map(|v| amount * v))
}

/// `rocks`, by how much each place gives more than the mean as powers of e, and patches
/// about as large as small valleys, `patches` of what they do at most.
pub(super) fn patched(
    rocks: Grid,
    frame: &Frame,
    spacing_m: f64,
    patches: f64,
    seed: u32,
    run: Run,
) -> Result<Grid, GrowError> {
    /// They are about so many spacings of small valleys wide, with smaller ones inside.
    const WIDE: f64 = 3.0;
    const OCTAVES: f64 = 3.0;
    const GAIN: f64 = 0.6;
    /// As for belts, some ten times as much as the hardest (Sklar and Dietrich 2001, from
    /// memory).
    const CONTRAST: f64 = 1.6;
    /// Rivers find what is soft: were all of it no harder by this, land would be lower than
    /// without patches. Set by its relief.
    const HARDER: f64 = 0.25;
    if patches == 0.0 {
        return Ok(rocks);
    }
    let noise = rough(WIDE * spacing_m, (OCTAVES, GAIN), seed);
    let [amount, harder] = [CONTRAST, HARDER].map(|of| (of * patches) as f32);
    let patches = noise.fill(frame, run)?;
    Ok(rocks.zip_map(&patches, |rock, v| rock + (amount * v - harder)))
}

/// By how much the steepest slope that stands differs with the joints of the rock, as a
/// share: chutes and spurs on faces that would be smooth cones otherwise.
pub(super) fn jointed(
    frame: &Frame,
    spacing_m: f64,
    variety: f32,
    seed: u32,
    run: Run,
) -> Result<Grid, GrowError> {
    /// They begin as wide as small valleys are apart, and are finer and finer.
    const OCTAVES: f64 = 5.0;
    const GAIN: f64 = 0.7;
    const AMOUNT: f32 = 0.4;
    let noise = rough(spacing_m, (OCTAVES, GAIN), seed);
    Ok(noise.fill(frame, run)?.map(|v| variety * AMOUNT * v))
}

/// Noise by which rock differs over short ways, without axes that anything could follow.
fn rough(feature_m: f64, (octaves, gain): (f64, f64), seed: u32) -> FractalNoise {
    FractalNoise {
        basis: Basis::Simplex,
        feature_m,
        octaves,
        gain,
        seed,
        ..FractalNoise::default()
    }
}

/// `gives`, but nothing where the ground is firm.
pub(super) fn but_firm(
    site: &Site,
    frame: &Frame,
    firm: Option<&Mask>,
    erodibility: Grid,
) -> Result<Grid, GrowError> {
    let Some(mask) = firm else {
        return Ok(erodibility);
    };
    let firm = site.mask_below(mask, frame)?;
    Ok(erodibility.zip_map(&firm, |erodibility, firm| erodibility * (1.0 - firm)))
}

/// Where water leaves: over the low parts of a side, or into a drawn course and the sea
/// alone, where one is given.
pub(super) fn outlets(
    site: &Site,
    grid: &GridBelow,
    sea_level_m: f64,
    side: Side,
    course: Option<&Mask>,
) -> Result<Outlets, GrowError> {
    /// A course is looked for on so many cells along the longer side at least: between the
    /// cells of a first grid it would be missed.
    const LOOKED_FOR_ON: usize = 512;
    let heights = &grid.heights;
    let Some(mask) = course else {
        return Ok(Outlets::low_border(heights, sea_level_m, side));
    };
    let frame = grid.frame;
    let mut finer = 1;
    while finer * frame.cols.max(frame.rows) < LOOKED_FOR_ON {
        finer *= 2;
    }
    let looked_for = Frame {
        cell_m: frame.cell_m / finer as f64,
        col0: frame.col0 * finer as i64,
        row0: frame.row0 * finer as i64,
        cols: frame.cols * finer,
        rows: frame.rows * finer,
        ..frame
    };
    let there = site.mask_below(mask, &looked_for)?;
    let there = there.ranges_of_blocks(finer);
    let into = there.values().iter().map(|&[_, most]| most > 0.5);
    Ok(Outlets::into(heights, sea_level_m, into.collect()))
}

/// The beds of rock that ages have left below, where there are any and `amount` takes notice
/// of them.
pub(super) fn bedding_below(
    site: &Site,
    frame: &Frame,
    amount: f64,
) -> Result<Option<Bedding>, GrowError> {
    if amount == 0.0 {
        return Ok(None);
    }
    let strata = site.strata_below(frame)?;
    Ok(strata.map(|strata| Bedding {
        beds: strata.beds,
        lies: strata.lies.into_grid(),
        amount: amount as f32,
    }))
}

/// How much of what rises does so by its height, 0 to 1: an arm of the sea between
/// mountains does not rise with them.
pub(super) fn ashore(height: f32, sea: f32) -> f32 {
    /// Over so many metres of height the shore stops rising.
    const SHORE_M: f32 = 30.0;
    ((height - sea) / SHORE_M).clamp(0.0, 1.0)
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
