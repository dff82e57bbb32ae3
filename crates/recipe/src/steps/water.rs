//! Erosion by running water.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{
    Adjustment, AgeLaw, Aging, Country, FIRM, FlowDirections, Ground as AgedGround, Level, Outlets,
    Schedule, Storm, Washed, Water as Flood, keep_means, levees, opened, reopened, round_bottoms,
};
use terrain::mask::Combine;
use terrain::shape::mean_around;
use terrain::{Extent, Frame, Grid, Run};

use super::aged::{FIELDS, bedding_below};
use super::products::{DEPOSIT, DEPTH, WATER_BLUE, WEAR};
use super::{Kind, StepOutput};
use crate::document::{Declared, Form, Mask, Measure, Product};
use crate::grow::{Books, GrowError, ProcessOutput, Products, Site, Stage};

/// Rain gathers into runoff, cuts gullies and valleys, and carries the sediment into fans and
/// flats. Coarse grids come first, finer ones add detail: a preview and a final share their
/// valleys and their height.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Water {
    /// Size of the widest valleys: the cell size of the coarsest grid.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [20.0, 400.0], "x-scale" = "log"))]
    pub scale_m: f64,
    /// How long it rains: time steps on the coarsest grid; finer ones take fewer.
    #[schemars(range(min = 1, max = 5000), extend("x-slider" = [20, 600]))]
    pub duration: u32,
    /// How hard it rains.
    #[schemars(range(min = 0, max = 100_000), extend("x-unit" = "mm/h", "x-slider" = [10.0, 600.0]))]
    pub rain_mm_h: f64,
    /// How much the water can carry: higher cuts deeper.
    #[schemars(range(min = 0, max = 100), extend("x-slider" = [0.0, 4.0]))]
    pub strength: f64,
    /// How hard the ground is: 0 loose soil, 1 rock that does not give.
    #[schemars(range(min = 0, max = 1))]
    pub hardness: f64,
    /// How readily the water lets go of what it carries.
    #[schemars(range(min = 0, max = 1))]
    pub dropping: f64,
    /// How deep rills that run together cut their gullies; 0 leaves the flood alone to cut.
    #[schemars(range(min = 0, max = 10), extend("x-slider" = [0.0, 2.0], "x-more" = true))]
    pub gullies: f64,
    /// Share of what is worn that is too coarse to float: it rolls along the
    /// bed and comes to rest first, as fans at the foot of slopes.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub coarse: f64,
    /// How much harder every other bed of rock is: ledges and benches.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub strata: f64,
    /// Thickness of a soft and a hard bed together.
    #[schemars(range(min = 0.1, max = 20_000), extend("x-unit" = "m", "x-slider" = [10.0, 400.0], "x-more" = true))]
    pub strata_m: f64,
    /// How much harder the hard beds of rock are that ages have left below, at whatever
    /// depth they are cut; 0 takes no notice of them.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub beds: f64,
    /// What happens to depressions that water cannot leave.
    #[schemars(extend("x-more" = true))]
    pub hollows: WaterHollows,
    /// Water works as if the ground were at least this steep.
    #[schemars(range(min = 0, max = 45), extend("x-unit" = "°", "x-slider" = [0.0, 5.0], "x-more" = true))]
    pub least_slope_deg: f64,
    /// Where it rains; everywhere when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub rain: Option<Mask>,
    /// Where the ground is hard: no wear where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub hard: Option<Mask>,
}

impl Default for Water {
    fn default() -> Self {
        Self {
            scale_m: 90.0,
            duration: 160,
            rain_mm_h: 150.0,
            strength: 1.0,
            hardness: 0.4,
            dropping: 0.3,
            gullies: 1.0,
            coarse: 0.25,
            strata: 0.0,
            strata_m: 100.0,
            beds: 0.8,
            hollows: WaterHollows::Both,
            least_slope_deg: 0.0,
            rain: None,
            hard: None,
        }
    }
}

/// What happens to depressions that water cannot leave.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum WaterHollows {
    /// They are filled a little, and their rims cut through down to that.
    #[default]
    Both,
    /// Their rims are cut through to the bottom: gorges.
    Cut,
    /// They are filled to the brim: level floors.
    Fill,
    /// They stay as lakes: only the flood works, and no gullies are cut through to them.
    Keep,
}

impl WaterHollows {
    /// How far they are filled; `None` when they stay.
    fn fill(self) -> Option<f32> {
        match self {
            WaterHollows::Both => Some(0.12),
            WaterHollows::Cut => Some(0.0),
            WaterHollows::Fill => Some(1.0),
            WaterHollows::Keep => None,
        }
    }
}

/// What water has done to the ground of one grid up to now.
struct Ground<'a> {
    /// The land before any of it.
    heights: &'a Grid,
    wear: Grid,
    deposit: Grid,
    hardness: Option<&'a Grid>,
    rain: Option<&'a Grid>,
    books: Books,
}

impl Ground<'_> {
    /// The ground as it is now.
    fn now(&self) -> Grid {
        moved(self.heights, &self.wear, &self.deposit)
    }

    /// Books what has become of the ground as it was `before`.
    fn book(&mut self, before: &Grid, after: &Grid) {
        let gained = after.zip_map(before, |after, before| after - before);
        self.wear
            .zip_in_place(&gained, |worn, gained| worn - gained.min(0.0));
        self.deposit
            .zip_in_place(&gained, |laid, gained| laid + gained.max(0.0));
    }

    /// Takes off by how much the ground has strayed from where this grid `begun` over more than
    /// the cells of the coarser one: time is shared over the grids, and a finer one adds
    /// detail. Streams keep their beds: raised with the slopes beside them they would be dammed.
    /// What was booked as worn or laid down goes back first.
    fn keep_height(&mut self, begun: &Grid, flow: &Grid, cell_m: f64) {
        /// A stream of so much discharge is raised by half of what slopes are, m²/s.
        const HALF: f32 = 0.2;
        let before = self.now();
        let erodibility = match self.hardness {
            Some(hardness) => hardness.map(|hard| 1.0 - hard),
            None => Grid::filled(begun.cols(), begun.rows(), 1.0),
        };
        let mut after = before.clone();
        keep_means(&mut after, begun, &erodibility, cell_m);
        let mut gained = after;
        gained.zip_in_place(&before, |after, before| after - before);
        gained.zip_in_place(flow, |gained, flow| gained * HALF / (flow + HALF));
        let after = before.zip_map(&gained, |before, gained| before + gained);
        self.books.adjusted(Adjustment::KeptHeight, &after);
        let back = |booked: &mut Grid, sign: f32| {
            let before = booked.clone();
            booked.zip_in_place(&gained, |booked, gained| {
                (booked - (sign * gained).max(0.0)).max(0.0)
            });
            before.zip_map(booked, |before, booked| before - booked)
        };
        let (unworn, unlaid) = (back(&mut self.wear, 1.0), back(&mut self.deposit, -1.0));
        let rest = gained.zip_map(&unworn, |gained, unworn| gained - unworn);
        let rest = rest.zip_map(&unlaid, |rest, unlaid| rest + unlaid);
        self.wear
            .zip_in_place(&rest, |worn, rest| worn - rest.min(0.0));
        self.deposit
            .zip_in_place(&rest, |laid, rest| laid + rest.max(0.0));
    }

    /// Rills run together into gullies, and lay down at their foot what they cut: the
    /// network that a flood of a few hundred steps would not find by itself.
    fn gully(
        &mut self,
        water: &Water,
        share: f64,
        frame: &Frame,
        sea: f64,
        run: Run,
    ) -> Result<(), GrowError> {
        let even = |value: f32| Grid::filled(frame.cols, frame.rows, value);
        let take = (1.0 - water.hardness) as f32;
        let erodibility = match self.hardness {
            Some(hardness) => hardness.map(|hard| take * (1.0 - hard)),
            None => even(take),
        };
        let erodibility = match self.rain {
            Some(rain) => erodibility.zip_map(rain, |erodibility, rain| erodibility * rain),
            None => erodibility,
        };
        let (uplift, critical_slope) =
            (even(0.0), even(Water::GULLY_DEG.to_radians().tan() as f32));
        let ground = AgedGround {
            uplift: &uplift,
            erodibility: &erodibility,
            critical_slope: &critical_slope,
        };
        let time = share * f64::from(water.duration) / Water::FLOOD_STEPS;
        let law = AgeLaw {
            erodibility: Water::GULLIES * water.gullies * water.strength,
            area_exponent: 0.45,
            slope_exponent: 1.0,
            debris_m2: 0.0,
            directions: FlowDirections::Steepest,
            deposition: 2.0 * water.dropping,
            floors_m: 0.0,
            fill_m: 0.0,
            terraces: 0.0,
            sea_takes: 0.1,
            // Without any, gullies would be dotted lines of single cells.
            diffusivity: Water::GULLY_CREEP * frame.cell_area_m2() / time,
            sea_level_m: sea,
        };
        let before = self.now();
        // As for the flood, and for what opens hollows: held back at a high border, gullies
        // would fill the land there.
        let outlets = Outlets::whole_border(frame.cols, frame.rows);
        let mut aging = Aging::on(before.clone(), frame, outlets).without_books();
        // In one step, which leaves streams graded: the fall of each goes as 1 / (1 + K·t·Aᵐ).
        // In many, with nothing that rises, all but the smallest would end level.
        aging.step(ground, law, time, run)?;
        self.books.moved(&aging.heights, aging.carried_off_m3);
        lower_border(&mut aging.heights, &before, &erodibility);
        self.books.adjusted(Adjustment::Border, &aging.heights);
        round_bottoms(&mut aging.heights, &erodibility, sea as f32);
        self.books.adjusted(Adjustment::Smoothed, &aging.heights);
        self.book(&before, &aging.heights);
        Ok(())
    }

    /// Evens out the beds of streams: pools and bars that are no longer than a stream is
    /// wide do not last, and a grid makes them of every step of a stream one cell wide.
    fn even_beds(&mut self, flow: &Grid) {
        const PASSES: usize = 5;
        self.even_out(PASSES, flow);
    }

    /// Opens the hollows that are left and evens out what that cuts, by turns: a slot one cell
    /// wide, of which a grid makes a stair.
    fn settle_channels(
        &mut self,
        (flow, cell_m): (&Grid, f64),
        hollows: WaterHollows,
        sea_level_m: f64,
        run: Run,
    ) -> Result<(), GrowError> {
        /// So far banks slump, metres; in no more passes than these.
        const REACH_M: f64 = 14.0;
        const MOST_PASSES: f64 = 3.0;
        self.open(hollows, sea_level_m, run)?;
        // A pass reaches a cell, four of them two. On large cells no bank is seen.
        let passes = (REACH_M / cell_m).powi(2).round().min(MOST_PASSES) as usize;
        if passes == 0 {
            return Ok(());
        }
        self.slump_banks(flow, cell_m, passes);
        self.reopen(hollows, sea_level_m, run)?;
        self.even_beds(flow);
        self.reopen(hollows, sea_level_m, run)?;
        self.slump_banks(flow, cell_m, passes);
        self.reopen(hollows, sea_level_m, run)
    }

    /// Floods that leave their beds build up the banks, with what floated in the `water` when
    /// it stopped; takes that from where it would lie.
    fn build_levees(&mut self, water: &mut Grid, flow: &Grid, cell_m: f64, sea_level_m: f64) {
        let gained = levees(&self.now(), flow, cell_m, sea_level_m as f32);
        let gained = self.but_hard(gained);
        let (wanted, there) = (gained.sum(), water.sum());
        if wanted <= 0.0 || there <= 0.0 {
            return;
        }
        let used = wanted.min(there);
        let (built, taken) = ((used / wanted) as f32, (used / there) as f32);
        let mut moved = gained;
        moved.zip_in_place(water, |gained, floats| built * gained - taken * floats);
        self.deposit
            .zip_in_place(&moved, |laid, moved| laid + moved);
        water.for_each_row(|_, row| row.iter_mut().for_each(|floats| *floats *= 1.0 - taken));
        let now = self.now();
        self.books.moved(&now, 0.0);
    }

    /// Lets banks slump that streams have cut under, and beds rise by it.
    fn slump_banks(&mut self, flow: &Grid, cell_m: f64, passes: usize) {
        let beside = between_banks(flow, &self.now(), cell_m);
        self.even_out(passes, &beside);
    }

    /// Evens ground out the more, the more water there is on it or beside it, m²/s.
    fn even_out(&mut self, passes: usize, flow: &Grid) {
        /// Of ground with so much discharge half is evened out in a pass, m²/s.
        const HALF: f32 = 0.2;
        let before = self.now();
        let mut after = before.clone();
        for _ in 0..passes {
            let around = mean_around(&after);
            after.for_each_row(|r, row| {
                for (c, height) in row.iter_mut().enumerate() {
                    let flow = flow.at(c, r);
                    let firm = self.hardness.map_or(0.0, |hard| hard.at(c, r));
                    let share = (1.0 - firm) * flow / (flow + HALF);
                    *height += share * (around.at(c, r) - *height);
                }
            });
        }
        self.books.adjusted(Adjustment::Smoothed, &after);
        self.book(&before, &after);
    }

    /// Opens its hollows; hard ground stays.
    fn open(&mut self, hollows: WaterHollows, sea_level_m: f64, run: Run) -> Result<(), GrowError> {
        let Some(fill) = hollows.fill() else {
            return Ok(());
        };
        let now = self.now();
        let open = opened(&now, fill, sea_level_m as f32, run)?;
        self.book_but_hard(now, open);
        Ok(())
    }

    /// Opens the small hollows that evening out has left in opened ground.
    fn reopen(
        &mut self,
        hollows: WaterHollows,
        sea_level_m: f64,
        run: Run,
    ) -> Result<(), GrowError> {
        // What is filled to its brim has no pits to start from.
        if hollows == WaterHollows::Fill {
            return self.open(hollows, sea_level_m, run);
        }
        let now = self.now();
        let open = reopened(now.clone(), sea_level_m as f32, run)?;
        self.book_but_hard(now, open);
        Ok(())
    }

    /// Books what has become of the ground as it was `before`, but for hard ground, which
    /// stays.
    fn book_but_hard(&mut self, before: Grid, after: Grid) {
        let mut gained = after;
        if self.hardness.is_some() {
            gained.zip_in_place(&before, |after, before| after - before);
            gained = self.but_hard(gained);
            gained.zip_in_place(&before, |gained, before| before + gained);
        }
        self.books.adjusted(Adjustment::Depressions, &gained);
        self.book(&before, &gained);
    }

    /// What ground gains, but nothing where it is hard.
    fn but_hard(&self, mut gained: Grid) -> Grid {
        if let Some(hardness) = self.hardness {
            gained.zip_in_place(hardness, |gained, hard| gained * (1.0 - hard));
        }
        gained
    }
}

/// `heights` after so much was worn away and laid down.
fn moved(heights: &Grid, wear: &Grid, deposit: &Grid) -> Grid {
    let mut now = deposit.zip_map(wear, |laid, worn| laid - worn);
    now.zip_in_place(heights, |change, height| height + change);
    now
}

/// Moves the cells of the border, which were outlets, as those beside them have been: the land
/// goes on there, and no rim stays.
fn lower_border(heights: &mut Grid, before: &Grid, erodibility: &Grid) {
    let (cols, rows) = (heights.cols(), heights.rows());
    let inside = |place: usize, count: usize| place.clamp(1, count.max(3) - 2).min(count - 1);
    let moved = |c: usize, r: usize, heights: &Grid| {
        let (inner_c, inner_r) = (inside(c, cols), inside(r, rows));
        let firmer = erodibility.at(c, r) / erodibility.at(inner_c, inner_r).max(FIRM);
        firmer.min(1.0) * (heights.at(inner_c, inner_r) - before.at(inner_c, inner_r))
    };
    let along = (0..cols).flat_map(|c| [(c, 0), (c, rows - 1)]);
    let down = (1..rows.max(2) - 1).flat_map(|r| [(0, r), (cols - 1, r)]);
    for (c, r) in along.chain(down) {
        let after = before.at(c, r) + moved(c, r, heights);
        heights.values_mut()[r * cols + c] = after;
    }
}

/// The discharge in the narrows of streams and on the banks beside them; 0 where the ground
/// is level.
fn between_banks(flow: &Grid, heights: &Grid, cell_m: f64) -> Grid {
    /// Banks that rise less than this stand, all of those that rise more slump; loose ground
    /// stands at about 30° (common practice).
    const STANDS: [f32; 2] = [0.12, 0.5];
    let across_m = 2.0 * cell_m as f32;
    let (cols, rows) = (flow.cols(), flow.rows());
    Grid::by_rows(cols, rows, |r, row| {
        let near = r.saturating_sub(1)..=(r + 1).min(rows - 1);
        for (c, between) in row.iter_mut().enumerate() {
            let across = c.saturating_sub(1)..=(c + 1).min(cols - 1);
            let (mut most, mut low, mut high) = (0.0_f32, f32::INFINITY, f32::NEG_INFINITY);
            for r in near.clone() {
                for c in across.clone() {
                    let height = heights.at(c, r);
                    (low, high) = (low.min(height), high.max(height));
                    most = most.max(flow.at(c, r));
                }
            }
            let [critical_slope, slumps] = STANDS;
            let steep = ((high - low) / across_m - critical_slope) / (slumps - critical_slope);
            *between = most * steep.clamp(0.0, 1.0);
        }
    })
}

impl Water {
    /// Capacity at strength 1, metres of sediment per metre of water and
    /// metre per second of stream power. Set by eye: far above nature's, since
    /// a few hundred steps stand in for ten thousand years.
    const CAPACITY: f64 = 30.0;
    /// What gullies cut at strength 1 on each grid: erodibility and time in one, m^0.1;
    /// a sixth of what ages take (see [`super::Ages`]), set by eye.
    const GULLIES: f64 = 1.0;
    /// Finer grids have this share of the time for their own gullies: crests between them would
    /// be sharper than nature's with all of it.
    const FINER_TIME: f64 = 0.8;
    /// Meanwhile slopes give way at this angle.
    const GULLY_DEG: f64 = 42.0;
    /// And soil creeps by this share of what a grid can show of it.
    const GULLY_CREEP: f64 = 0.08;
    /// On grids of so many cells at most: it takes twice the memory of a flood.
    const GULLY_CELLS: usize = 2048;
    /// Of a rain of so many steps.
    const FLOOD_STEPS: f64 = 160.0;
    /// Share of the standing water that dries up per second.
    const EVAPORATION_S: f64 = 1e-4;

    fn storm(&self, sea_level_m: f64) -> Storm {
        const MM_H_IN_M_S: f64 = 1e-3 / 3600.0;
        Storm {
            rain_m_s: self.rain_mm_h * MM_H_IN_M_S,
            evaporation_s: Self::EVAPORATION_S,
            capacity: self.strength * Self::CAPACITY,
            take: 1.0 - self.hardness,
            drop: self.dropping,
            coarse: self.coarse,
            least_slope: self.least_slope_deg.to_radians().tan(),
            strata: self.strata,
            strata_m: self.strata_m,
            sea_level_m,
            ..Storm::default()
        }
    }

    fn schedule(&self) -> Schedule {
        Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: self.duration as usize,
        }
    }

    fn work(&self, site: &Site, mut stage: Stage) -> Result<ProcessOutput, GrowError> {
        let frame = stage.frame;
        let taken = |mask: &Option<Mask>| match mask {
            Some(mask) => site.mask_below(mask, &frame).map(Some),
            None => Ok(None),
        };
        let (mut hardness, rain) = (taken(&self.hard)?, taken(&self.rain)?);
        if let Some(bedding) = bedding_below(site, &frame, self.beds)? {
            // Those that coarser grids have cut down to.
            let rock = bedding.hard_at(&stage.begin());
            let beds = bedding.amount;
            let hard = match hardness {
                Some(mask) => mask.zip_map(&rock, |a, b| Combine::Screen.apply(a, beds * b)),
                None => rock.map(|hard| beds * hard),
            };
            hardness = Some(hard);
        }
        let country = Country {
            hardness: hardness.as_ref(),
            rain: rain.as_ref(),
        };
        let sea_level_m = site.sea_level_m();
        let run = stage.run.quietly();
        // Kept on coarse cells while the flood needs the room.
        let coarse = (stage.left(WEAR), stage.left(DEPOSIT));
        let heights = stage.heights.clone();
        let (wear, deposit) = (stage.take(WEAR), stage.take(DEPOSIT));
        let (flow, depth) = (stage.take(FLOW), stage.take(DEPTH));
        let books = stage.open_books(&moved(&heights, &wear, &deposit));
        let mut ground = Ground {
            heights: &heights,
            wear,
            deposit,
            hardness: hardness.as_ref(),
            rain: rain.as_ref(),
            books,
        };
        stage.coarse = None;
        ground.open(self.hollows, sea_level_m, run)?;
        // On finer grids the flood alone works: gullies are there by then.
        let gullied = frame.cols.max(frame.rows) <= Self::GULLY_CELLS;
        if gullied && self.hollows != WaterHollows::Keep {
            let share = if coarse.0.is_some() {
                Self::FINER_TIME
            } else {
                1.0
            };
            ground.gully(self, share, &frame, sea_level_m, run)?;
            ground.open(self.hollows, sea_level_m, run)?;
        }
        let washed = Washed {
            wear: ground.wear,
            deposit: ground.deposit,
            flow,
            ..Washed::still(depth)
        };
        let storm = self.storm(sea_level_m);
        let mut flood = Flood::on(&heights, Some(washed), frame.cell_m, storm, country);
        flood.run(stage.level.iterations, stage.run)?;
        let left = flood.stop();
        let mut suspended = left.suspended;
        (ground.wear, ground.deposit) = (left.wear, left.deposit);
        ground
            .books
            .moved(&ground.now(), left.ledger.carried_off_m3);
        ground.even_beds(&left.flow);
        ground.build_levees(&mut suspended, &left.flow, frame.cell_m, sea_level_m);
        if let (Some(wear), Some(deposit)) = coarse {
            let begun = moved(&heights, &wear.into_grid(), &deposit.into_grid());
            ground.keep_height(&begun, &left.flow, frame.cell_m);
        }
        if self.hollows != WaterHollows::Keep {
            ground.settle_channels((&left.flow, frame.cell_m), self.hollows, sea_level_m, run)?;
        }
        let Ground {
            wear,
            deposit,
            books,
            ..
        } = ground;
        let change = deposit.zip_map(&wear, |laid, worn| laid - worn);
        Ok(ProcessOutput {
            frame,
            account: books.close(&change),
            change,
            products: Products::default()
                .with(WEAR, wear)
                .with(DEPOSIT, deposit)
                .with(FLOW, left.flow)
                .with(DEPTH, left.depth)
                .with(SUSPENDED, suspended),
        })
    }
}

/// Running water.
pub const FLOW: Product = Product::of(&Declared {
    name: "flow",
    title: "Flow",
    about: "Running water, m²/s.",
    form: Form::field(Measure::amount("m²/s", 5.0), WATER_BLUE, 0.35),
});

/// Sediment in the water.
pub const SUSPENDED: Product = Product::of(&Declared {
    name: "suspended",
    title: "Suspended load",
    about: "Sediment in the water, metres of ground.",
    form: Form::field(Measure::amount("m", 1.0), WATER_BLUE, 0.5),
});

impl Kind for Water {
    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        self.schedule().levels(cell_m, extent)
    }

    /// Floods move a little ground everywhere, and bury only where it is much.
    fn buries_m(&self) -> Option<f64> {
        Some(0.25)
    }

    /// Bed, depth, four pipes, wear, deposit, silt, gravel and discharge; how hard it is and
    /// where it rains; and as much while its channels settle.
    fn fields(&self) -> f64 {
        14.0
    }

    /// Where gullies are cut, what they take weighs more.
    fn fields_on(&self, longest: usize) -> f64 {
        match longest <= Self::GULLY_CELLS && self.hollows != WaterHollows::Keep {
            true => FIELDS,
            false => self.fields(),
        }
    }

    fn products(&self) -> &'static [Product] {
        &[WEAR, DEPOSIT, FLOW, DEPTH, SUSPENDED]
    }

    fn means_hollows(&self) -> bool {
        self.hollows == WaterHollows::Keep
    }

    fn masks(&self) -> Vec<&Mask> {
        self.rain.iter().chain(&self.hard).collect()
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
