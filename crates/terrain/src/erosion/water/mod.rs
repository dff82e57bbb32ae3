//! Shallow water in virtual pipes between cells, on one grid.
//!
//! After Mei, Decaudin and Hu, "Fast Hydraulic Erosion Simulation and
//! Visualization on GPU" (2007), sections 3.1 to 3.3. We deviate in these:
//!
//! * Sediment moves with the water from cell to cell (donor cell) and is not
//!   traced back along the velocity, because that would not conserve it.
//! * What is worn is part fine, which floats at the water's speed, and part
//!   coarse, which rolls along the bed more slowly and comes to rest first:
//!   suspended load and bed load. When the water stops, both lie where they are.
//! * A pipe is as thick as the water in it, up to [`Storm::deepest_m`], so
//!   that thin sheets run slower than floods.
//! * The capacity follows unit stream power, speed times slope (Yang 1972),
//!   which needs no division by the depth of thin films.
//! * The discharge that wears the ground is the mean of late over three by
//!   three cells. That of one cell and moment would cut slots one cell wide,
//!   along the axes of the grid.
//! * A cell is never worn below its lowest neighbour nor built above its
//!   highest, so that erosion makes no pits and no spikes.
//!
//! Conserves sediment to [`Ledger::TOLERANCE`]. Does not carry momentum from
//! cell to cell: a flood's front is slower than that of the full shallow-water
//! equations. Water falls off freely at the border. Each step gathers from
//! neighbours only, so that any number of threads gives the same bits.

mod bands;
mod ghosts;
mod pipes;
mod transport;

use rayon::prelude::*;

use self::bands::{Beside, bands, rows_of_a_band};
use self::ghosts::{Around, put_inside, repeat_border, with_ghosts, without_ghosts};
use self::pipes::{PipeRates, open_pipes_row};
use self::transport::{New, Old, StepRates, move_and_wear_row};
use super::{Country, Ledger, Storm};
use crate::{Cancelled, Grid, Run};

/// Gravity, m/s².
const GRAVITY_M_S2: f64 = 9.81;
/// g·depth·(step/cell)²: the scheme is stable up to ¼ with four pipes a cell
/// (the Courant limit); a fifth leaves some air.
const COURANT: f32 = 0.2;
/// A step moves the ground by at most this share of the difference to the
/// lowest or highest neighbour. All four may move towards it at once.
const GENTLY: f32 = 0.2;
/// How much of the work on the ground is done by the cell's own discharge; the
/// rest is the mean around it, with binomial weights.
const BED_SHARE: f32 = 0.45;
/// Weight of the newest step in the running mean of the discharge.
const FLOW_MEMORY: f32 = 0.06;
/// Over this share of the last steps the rain dies away, so that the water drops what
/// it carries where it runs out of strength.
const DIES_AWAY: f64 = 0.3;
/// Stands in for depths and sums that may be zero in a division, metres.
const TINY_M: f32 = 1e-9;
/// Pace of the bed load as a share of the water's: gravel goes in jumps and
/// rests between them.
const BED_PACE: f32 = 0.25;
/// How much more readily the bed load comes to rest than what floats.
const COARSE_DROPS: f64 = 2.0;

/// What water left behind when it stopped, all runs up to then together.
#[derive(Clone, Debug, PartialEq)]
pub struct Washed {
    /// Ground worn, metres.
    pub wear: Grid,
    /// Ground laid down, metres.
    pub deposit: Grid,
    /// Mean discharge of late, m² per second (m³ per second and metre).
    pub flow: Grid,
    /// Water left standing, metres.
    pub depth: Grid,
    /// Sediment that was still in the water when it stopped, metres of ground; it lies
    /// there now.
    pub suspended: Grid,
    /// Where the ground of this run has gone. `gained_m3` is told by the fields, and
    /// `carried_off_m3` by the water as it left.
    pub ledger: Ledger,
}

impl Washed {
    /// Ground that no water has worked on, with water standing on it.
    pub fn still(depth: Grid) -> Self {
        let none = || Grid::filled(depth.cols(), depth.rows(), 0.0);
        Self {
            wear: none(),
            deposit: none(),
            flow: none(),
            suspended: none(),
            ledger: Ledger::default(),
            depth,
        }
    }
}

/// The fields of one grid, each with one ghost cell on every side.
pub struct Water<'a> {
    cols: usize,
    rows: usize,
    wide: usize,
    cell_m: f64,
    step_s: f64,
    storm: Storm,
    /// The land before any erosion; no ghosts.
    base: &'a Grid,
    bed: Vec<f32>,
    depth: Vec<f32>,
    /// Suspended load and bed load, metres of ground for each metre of water.
    silt: Vec<f32>,
    gravel: Vec<f32>,
    wear: Vec<f32>,
    deposit: Vec<f32>,
    flow: Vec<f32>,
    /// Depth of water moved per step, towards west, east, north, south.
    pipes: [Vec<f32>; 4],
    /// How hard each cell is, and a factor on its rain; no ghosts.
    hardness: Everywhere<'a>,
    rain: Everywhere<'a>,
    carried_off_m: f64,
    /// What was worn and dropped before, metres summed over cells.
    before: (f64, f64),
}

const WEST: usize = 0;
const EAST: usize = 1;
const NORTH: usize = 2;
const SOUTH: usize = 3;

/// A value for each cell, or one row that stands for all.
enum Everywhere<'a> {
    Same(Vec<f32>),
    Each(&'a Grid),
}

impl<'a> Everywhere<'a> {
    fn of(field: Option<&'a Grid>, otherwise: f32, cols: usize) -> Self {
        match field {
            Some(field) => Self::Each(field),
            None => Self::Same(vec![otherwise; cols]),
        }
    }

    fn row(&self, r: usize) -> &[f32] {
        match self {
            Everywhere::Same(row) => row,
            Everywhere::Each(grid) => grid.row(r),
        }
    }
}

impl<'a> Water<'a> {
    /// Land of `heights` on cells of `cell_m`: dry, or going on from what
    /// water left `before`, which is on the same cells. `heights` is the land
    /// before any erosion.
    pub fn on(
        heights: &'a Grid,
        before: Option<Washed>,
        cell_m: f64,
        storm: Storm,
        country: Country<'a>,
    ) -> Self {
        let (cols, rows) = (heights.cols(), heights.rows());
        let wide = cols + 2;
        let mut bed = with_ghosts(heights);
        let ghosted = bed.len();
        let zero = || vec![0.0; ghosted];
        let (mut wear, mut deposit) = (zero(), zero());
        let (mut depth, mut flow) = (zero(), zero());
        let mut sums = (0.0, 0.0);
        if let Some(before) = before {
            sums = (before.wear.sum(), before.deposit.sum());
            let fields = [
                (&mut wear, before.wear),
                (&mut deposit, before.deposit),
                (&mut depth, before.depth),
                (&mut flow, before.flow),
            ];
            for (field, grid) in fields {
                put_inside(&grid, field);
            }
        }
        for r in 1..=rows {
            for i in r * wide + 1..=r * wide + cols {
                bed[i] += deposit[i] - wear[i];
                depth[i] = depth[i].max(0.0).max(storm.sea_level_m as f32 - bed[i]);
            }
        }
        repeat_border(&mut bed, cols, rows);
        let wave_m_s = (GRAVITY_M_S2 * storm.deepest_m).sqrt();
        Self {
            cols,
            rows,
            wide,
            cell_m,
            step_s: cell_m * f64::from(COURANT).sqrt() / wave_m_s,
            storm,
            bed,
            depth,
            silt: zero(),
            gravel: zero(),
            wear,
            deposit,
            flow,
            pipes: std::array::from_fn(|_| zero()),
            hardness: Everywhere::of(country.hardness, 0.0, cols),
            rain: Everywhere::of(country.rain, 1.0, cols),
            carried_off_m: 0.0,
            before: sums,
            base: heights,
        }
    }

    /// Time that one step stands for, seconds: from the Courant condition.
    pub fn step_s(&self) -> f64 {
        self.step_s
    }

    fn pipe_rates(&self) -> PipeRates {
        PipeRates {
            friction_leaves: 1.0 - self.storm.friction as f32,
            deepest_m: self.storm.deepest_m as f32,
        }
    }

    fn rates(&self) -> StepRates {
        let discharge = self.cell_m / self.step_s;
        StepRates {
            rain_m: (self.storm.rain_m_s * self.step_s) as f32,
            kept: (1.0 - self.storm.evaporation_s * self.step_s).max(0.0) as f32,
            sea_level_m: self.storm.sea_level_m as f32,
            take: self.storm.take as f32,
            capacity: self.storm.capacity as f32,
            coarse: self.storm.coarse as f32,
            least_sine: self.storm.least_slope.atan().sin() as f32,
            strata: self.storm.strata as f32,
            strata_per_m: (1.0 / self.storm.strata_m) as f32,
            drop: self.storm.drop as f32,
            drop_coarse: (COARSE_DROPS * self.storm.drop).min(1.0) as f32,
            discharge: discharge as f32,
            slope: (0.5 / self.cell_m) as f32,
        }
    }

    /// Runs `iterations` steps, over the last of which the rain dies away.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn run(&mut self, iterations: usize, run: Run) -> Result<(), Cancelled> {
        let (pipe_rates, rates) = (self.pipe_rates(), self.rates());
        let dying = (DIES_AWAY * iterations as f64).max(1.0);
        for i in 0..iterations {
            run.check()?;
            self.open_pipes(pipe_rates);
            self.carried_off_m += self.carry_off();
            let still_rains = ((iterations - i) as f64 / dying).min(1.0) as f32;
            self.move_and_wear(StepRates {
                rain_m: still_rains * rates.rain_m,
                ..rates
            });
            run.report((i + 1) as f32 / iterations as f32);
        }
        Ok(())
    }

    fn open_pipes(&mut self, rates: PipeRates) {
        let wide = self.wide;
        let (bed, depth) = (&self.bed, &self.depth);
        let [west, east, north, south] = &mut self.pipes;
        let inner = wide..wide * (self.rows + 1);
        west[inner.clone()]
            .par_chunks_mut(wide)
            .zip(east[inner.clone()].par_chunks_mut(wide))
            .zip(north[inner.clone()].par_chunks_mut(wide))
            .zip(south[inner].par_chunks_mut(wide))
            .enumerate()
            .for_each(|(r, (((west, east), north), south))| {
                let n = wide - 2;
                open_pipes_row(
                    rates,
                    Around::of(bed, r + 1, wide),
                    Around::of(depth, r + 1, wide),
                    &mut west[1..=n],
                    &mut east[1..=n],
                    &mut north[1..=n],
                    &mut south[1..=n],
                );
            });
    }

    /// Sediment leaving over the border in this step, metres summed over
    /// cells, in a fixed order.
    fn carry_off(&self) -> f64 {
        let leaving = |r: usize, c: usize, side: usize| {
            let i = (r + 1) * self.wide + c + 1;
            let pipe = self.pipes[side][i];
            f64::from(self.silt[i] * pipe) + f64::from(self.gravel[i] * (BED_PACE * pipe))
        };
        let mut sum = 0.0;
        for c in 0..self.cols {
            sum += leaving(0, c, NORTH) + leaving(self.rows - 1, c, SOUTH);
        }
        for r in 0..self.rows {
            sum += leaving(r, 0, WEST) + leaving(r, self.cols - 1, EAST);
        }
        sum
    }

    fn move_and_wear(&mut self, rates: StepRates) {
        let wide = self.wide;
        let of_a_band = rows_of_a_band(self.rows);
        let (pipes, base) = (&self.pipes, self.base);
        let (hardness, rain) = (&self.hardness, &self.rain);
        let beside = |field: &[f32]| Beside::of(field, wide, of_a_band);
        let (beside_bed, beside_flow) = (beside(&self.bed), beside(&self.flow));
        let (beside_silt, beside_gravel) = (beside(&self.silt), beside(&self.gravel));
        beside_bed
            .bands(&mut self.bed)
            .zip(beside_flow.bands(&mut self.flow))
            .zip(beside_silt.bands(&mut self.silt))
            .zip(beside_gravel.bands(&mut self.gravel))
            .zip(bands(&mut self.depth, wide, of_a_band))
            .zip(bands(&mut self.wear, wide, of_a_band))
            .zip(bands(&mut self.deposit, wide, of_a_band))
            .enumerate()
            .for_each(|(band, fields)| {
                let ((((((mut bed, mut flow), mut silt), mut gravel), depth), wear), deposit) =
                    fields;
                for k in 0..bed.len() {
                    let r = band * of_a_band + k;
                    let inside = k * wide + 1..(k + 1) * wide - 1;
                    let (bed_before, bed) = bed.row(k);
                    let (flow_before, flow) = flow.row(k);
                    let (silt_before, silt) = silt.row(k);
                    let (gravel_before, gravel) = gravel.row(k);
                    let old = Old {
                        base: base.row(r),
                        hardness: hardness.row(r),
                        rain: rain.row(r),
                        bed: Around::between(bed_before),
                        silt: Around::between(silt_before),
                        gravel: Around::between(gravel_before),
                        flow: flow_before,
                        pipes: [0, 1, 2, 3].map(|side| Around::of(&pipes[side], r + 1, wide)),
                    };
                    let n = wide - 2;
                    let new = New {
                        bed: &mut bed[1..=n],
                        depth: &mut depth[inside.clone()],
                        silt: &mut silt[1..=n],
                        gravel: &mut gravel[1..=n],
                        wear: &mut wear[inside.clone()],
                        deposit: &mut deposit[inside],
                        flow: &mut flow[1..=n],
                    };
                    move_and_wear_row(rates, old, new);
                }
            });
    }

    /// The water stops, and what it carried lies where it is.
    pub fn stop(self) -> Washed {
        let Self {
            cols, rows, cell_m, ..
        } = self;
        // One field after the other, so that no two copies of all are held.
        let inside = |field: Vec<f32>| without_ghosts(field, cols, rows);
        drop((self.pipes, self.bed));
        let depth = inside(self.depth);
        let metres = |load: Vec<f32>| {
            let load = inside(load);
            load.zip_map(&depth, |load, depth| load * depth.max(TINY_M))
        };
        let suspended = metres(self.silt);
        let gravel = metres(self.gravel);
        let deposit = inside(self.deposit)
            .zip_map(&gravel, |laid, gravel| laid + gravel)
            .zip_map(&suspended, |laid, silt| laid + silt);
        drop(gravel);
        let wear = inside(self.wear);
        let area_m2 = cell_m * cell_m;
        let (worn_before, dropped_before) = self.before;
        let (worn, dropped) = (wear.sum() - worn_before, deposit.sum() - dropped_before);
        let ledger = Ledger {
            worn_m3: worn * area_m2,
            dropped_m3: dropped * area_m2,
            carried_off_m3: self.carried_off_m * area_m2,
            gained_m3: (dropped - worn) * area_m2,
            ..Ledger::default()
        };
        Washed {
            wear,
            deposit,
            flow: inside(self.flow),
            depth,
            suspended,
            ledger,
        }
    }
}
