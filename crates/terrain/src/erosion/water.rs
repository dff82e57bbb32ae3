//! Shallow water in virtual pipes between cells, on one grid.
//!
//! After Mei, Decaudin and Hu, "Fast Hydraulic Erosion Simulation and
//! Visualization on GPU" (2007), sections 3.1 to 3.3. We deviate in these:
//!
//! * Sediment moves with the water from cell to cell (donor cell) and is not
//!   traced back along the velocity, because that would not conserve it.
//! * A pipe is as thick as the water in it, up to `DEEPEST_M`, so that thin
//!   sheets run slower than floods.
//! * The capacity follows unit stream power, speed times slope (Yang 1972),
//!   which needs no division by the depth of thin films.
//! * The discharge that wears the ground is the mean of late over three by
//!   three cells. That of one cell and moment would cut slots one cell wide,
//!   along the axes of the grid.
//! * A cell is never worn below its lowest neighbour nor built above its
//!   highest, so that erosion makes no pits and no spikes.
//!
//! Conserves sediment to [`Ledger::TOLERANCE`](super::Ledger::TOLERANCE).
//! Does not conserve momentum at the border, where water falls off freely.
//! Each step gathers from neighbours only, so that any number of threads
//! gives the same bits.

use rayon::prelude::*;

use super::{Ledger, Storm};
use crate::{Cancelled, Grid, Run};

/// Gravity, m/s².
const GRAVITY_M_S2: f64 = 9.81;
/// Water deeper than this moves as if it were this deep, metres: it bounds
/// the wave speed, and so the time step.
const DEEPEST_M: f32 = 2.0;
/// g·depth·(step/cell)²: the scheme is stable up to ¼ with four pipes a cell
/// (the Courant limit); a fifth leaves some air.
const COURANT: f32 = 0.2;
/// Share of the flow that friction leaves from one step to the next.
const FRICTION_LEAVES: f32 = 0.9;
/// A step moves the ground by at most this share of the difference to the
/// lowest or highest neighbour. All four may move towards it at once.
const GENTLY: f32 = 0.2;
/// How much of the work on the ground is done by the cell's own discharge; the
/// rest is the mean around it, with binomial weights.
const BED_SHARE: f32 = 0.45;
/// Weight of the newest step in the running mean of the discharge.
const FLOW_MEMORY: f32 = 0.06;
/// Stands in for depths and sums that may be zero in a division, metres.
const TINY_M: f32 = 1e-9;

/// The fields of one grid, each with one ghost cell on every side.
pub(super) struct Water {
    cols: usize,
    rows: usize,
    wide: usize,
    cell_m: f64,
    step_s: f64,
    storm: Storm,
    base: Vec<f32>,
    bed: Vec<f32>,
    depth: Vec<f32>,
    sediment: Vec<f32>,
    wear: Vec<f32>,
    deposit: Vec<f32>,
    flow: Vec<f32>,
    /// Depth of water moved per step, towards west, east, north, south.
    pipes: [Vec<f32>; 4],
    next_bed: Vec<f32>,
    next_depth: Vec<f32>,
    next_sediment: Vec<f32>,
    next_flow: Vec<f32>,
    carried_off_m: f64,
}

const WEST: usize = 0;
const EAST: usize = 1;
const NORTH: usize = 2;
const SOUTH: usize = 3;

/// What is the same for every cell in one step.
#[derive(Clone, Copy)]
struct StepRates {
    rain_m: f32,
    kept: f32,
    sea_level_m: f32,
    /// Sediment held per unit of discharge and slope.
    capacity: f32,
    take: f32,
    drop: f32,
    /// From metres of water moved per step to discharge, m²/s.
    discharge: f32,
    /// From a height difference over two cells to a slope.
    slope: f32,
}

impl Water {
    /// Dry land of `heights`, or with water of some depth and discharge on it.
    pub(super) fn on(
        heights: &Grid,
        water: Option<(&Grid, &Grid)>,
        cell_m: f64,
        storm: Storm,
    ) -> Self {
        let (cols, rows) = (heights.cols(), heights.rows());
        let wide = cols + 2;
        let base = with_ghosts(heights);
        let zero = vec![0.0; base.len()];
        let (mut depth, mut flow) = (zero.clone(), zero.clone());
        let sea_level_m = storm.sea_level_m as f32;
        for r in 0..rows {
            for c in 0..cols {
                let i = (r + 1) * wide + c + 1;
                let at = |grid: &Grid| grid.at(c, r).max(0.0);
                let standing = water.map_or(0.0, |(depth, _)| at(depth));
                depth[i] = standing.max(sea_level_m - base[i]);
                flow[i] = water.map_or(0.0, |(_, flow)| at(flow));
            }
        }
        let wave_m_s = (GRAVITY_M_S2 * f64::from(DEEPEST_M)).sqrt();
        Self {
            cols,
            rows,
            wide,
            cell_m,
            step_s: cell_m * f64::from(COURANT).sqrt() / wave_m_s,
            storm,
            bed: base.clone(),
            next_bed: base.clone(),
            base,
            depth,
            sediment: zero.clone(),
            wear: zero.clone(),
            deposit: zero.clone(),
            flow,
            next_flow: zero.clone(),
            pipes: std::array::from_fn(|_| zero.clone()),
            next_depth: zero.clone(),
            next_sediment: zero,
            carried_off_m: 0.0,
        }
    }

    fn rates(&self) -> StepRates {
        let discharge = self.cell_m / self.step_s;
        StepRates {
            rain_m: (self.storm.rain_m_s * self.step_s) as f32,
            kept: (1.0 - self.storm.evaporation_s * self.step_s).max(0.0) as f32,
            sea_level_m: self.storm.sea_level_m as f32,
            capacity: self.storm.capacity as f32,
            take: self.storm.take as f32,
            drop: self.storm.drop as f32,
            discharge: discharge as f32,
            slope: (0.5 / self.cell_m) as f32,
        }
    }

    /// Runs `iterations` steps.
    pub(super) fn run(&mut self, iterations: usize, run: Run) -> Result<(), Cancelled> {
        let rates = self.rates();
        for i in 0..iterations {
            run.check()?;
            self.open_pipes();
            self.carried_off_m += self.carry_off();
            self.move_and_wear(rates);
            run.report((i + 1) as f32 / iterations as f32);
        }
        Ok(())
    }

    /// First half of a step: how much water goes through each pipe.
    fn open_pipes(&mut self) {
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
                let around = |field| Around::of(field, r + 1, wide);
                open_pipes_row(
                    around(bed),
                    around(depth),
                    [
                        &mut west[1..=wide - 2],
                        &mut east[1..=wide - 2],
                        &mut north[1..=wide - 2],
                        &mut south[1..=wide - 2],
                    ],
                );
            });
    }

    /// Sediment leaving over the border in this step, metres summed over
    /// cells, in a fixed order.
    fn carry_off(&self) -> f64 {
        let leaving = |r: usize, c: usize, side: usize| {
            let i = (r + 1) * self.wide + c + 1;
            f64::from(share_moved(
                self.sediment[i],
                self.pipes[side][i],
                self.depth[i],
            ))
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

    /// Second half: water and sediment move; the ground gives and takes.
    fn move_and_wear(&mut self, rates: StepRates) {
        let wide = self.wide;
        let inner = wide..wide * (self.rows + 1);
        let (pipes, base) = (&self.pipes, &self.base);
        let (bed, depth, sediment) = (&self.bed, &self.depth, &self.sediment);
        let flow_before = &self.flow;
        self.next_bed[inner.clone()]
            .par_chunks_mut(wide)
            .zip(self.next_depth[inner.clone()].par_chunks_mut(wide))
            .zip(self.next_sediment[inner.clone()].par_chunks_mut(wide))
            .zip(self.wear[inner.clone()].par_chunks_mut(wide))
            .zip(self.deposit[inner.clone()].par_chunks_mut(wide))
            .zip(self.next_flow[inner].par_chunks_mut(wide))
            .enumerate()
            .for_each(
                |(r, (((((bed1, depth1), sediment1), wear), deposit), flow))| {
                    let around = |field| Around::of(field, r + 1, wide);
                    let old = Old {
                        base: around(base).here,
                        bed: around(bed),
                        depth: around(depth),
                        sediment: around(sediment),
                        flow: [r, r + 1, r + 2]
                            .map(|row| &flow_before[row * wide..(row + 1) * wide]),
                        pipes: [0, 1, 2, 3].map(|side| around(&pipes[side])),
                    };
                    let n = wide - 2;
                    move_and_wear_row(
                        rates,
                        old,
                        New {
                            bed: &mut bed1[1..=n],
                            depth: &mut depth1[1..=n],
                            sediment: &mut sediment1[1..=n],
                            wear: &mut wear[1..=n],
                            deposit: &mut deposit[1..=n],
                            flow: &mut flow[1..=n],
                        },
                    );
                },
            );
        std::mem::swap(&mut self.bed, &mut self.next_bed);
        std::mem::swap(&mut self.depth, &mut self.next_depth);
        std::mem::swap(&mut self.sediment, &mut self.next_sediment);
        std::mem::swap(&mut self.flow, &mut self.next_flow);
    }

    fn without_ghosts(&self, field: &[f32]) -> Grid {
        Grid::by_rows(self.cols, self.rows, |r, out| {
            let start = (r + 1) * self.wide + 1;
            out.copy_from_slice(&field[start..start + self.cols]);
        })
    }

    /// Ground worn in each cell, metres.
    pub(super) fn wear(&self) -> Grid {
        self.without_ghosts(&self.wear)
    }

    /// Ground laid down in each cell, metres.
    pub(super) fn deposit(&self) -> Grid {
        self.without_ghosts(&self.deposit)
    }

    /// Mean discharge of late, m² per second (m³ per second and metre).
    pub(super) fn flow(&self) -> Grid {
        self.without_ghosts(&self.flow)
    }

    /// Water standing in each cell, metres.
    pub(super) fn depth(&self) -> Grid {
        self.without_ghosts(&self.depth)
    }

    /// Where all the ground has gone.
    pub(super) fn ledger(&self) -> Ledger {
        let area_m2 = self.cell_m * self.cell_m;
        Ledger {
            worn_m3: self.wear().sum() * area_m2,
            dropped_m3: self.deposit().sum() * area_m2,
            carried_off_m3: self.carried_off_m * area_m2,
            suspended_m3: self.without_ghosts(&self.sediment).sum() * area_m2,
        }
    }
}

/// Heights with one ghost cell on every side that repeats its neighbour:
/// water falls off the edge as over a weir of the edge's own height.
fn with_ghosts(heights: &Grid) -> Vec<f32> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let mut out = Vec::with_capacity((cols + 2) * (rows + 2));
    for r in 0..rows + 2 {
        let row = heights.row(r.clamp(1, rows) - 1);
        out.push(row[0]);
        out.extend_from_slice(row);
        out.push(row[cols - 1]);
    }
    out
}

/// A row of a field and its four neighbours, all of the same length.
#[derive(Clone, Copy)]
struct Around<'a> {
    here: &'a [f32],
    west: &'a [f32],
    east: &'a [f32],
    north: &'a [f32],
    south: &'a [f32],
}

impl<'a> Around<'a> {
    fn of(field: &'a [f32], row: usize, wide: usize) -> Self {
        let n = wide - 2;
        let at = |row: usize, shift: usize| &field[row * wide + shift..row * wide + shift + n];
        Self {
            here: at(row, 1),
            west: at(row, 0),
            east: at(row, 2),
            north: at(row - 1, 1),
            south: at(row + 1, 1),
        }
    }

    /// The same slices, known to be `n` long, so that indexing needs no check.
    #[inline(always)]
    fn of_length(self, n: usize) -> Self {
        Self {
            here: &self.here[..n],
            west: &self.west[..n],
            east: &self.east[..n],
            north: &self.north[..n],
            south: &self.south[..n],
        }
    }
}

#[multiversion::multiversion(targets = "simd")]
fn open_pipes_row(bed: Around, depth: Around, pipes: [&mut [f32]; 4]) {
    let n = bed.here.len();
    let (bed, depth) = (bed.of_length(n), depth.of_length(n));
    let [west, east, north, south] = pipes;
    let (west, east) = (&mut west[..n], &mut east[..n]);
    let (north, south) = (&mut north[..n], &mut south[..n]);
    for i in 0..n {
        let here = depth.here[i];
        let surface = bed.here[i] + here;
        let thickness = here.min(DEEPEST_M) * (1.0 / DEEPEST_M);
        let push = COURANT * thickness;
        let through =
            |pipe: f32, other: f32| (FRICTION_LEAVES * pipe + push * (surface - other)).max(0.0);
        let w = through(west[i], bed.west[i] + depth.west[i]);
        let e = through(east[i], bed.east[i] + depth.east[i]);
        let no = through(north[i], bed.north[i] + depth.north[i]);
        let s = through(south[i], bed.south[i] + depth.south[i]);
        // No more may leave than is there (Mei et al. 2007, eq. 4).
        let scale = (here / (w + e + no + s).max(TINY_M)).min(1.0);
        west[i] = w * scale;
        east[i] = e * scale;
        north[i] = no * scale;
        south[i] = s * scale;
    }
}

/// The fields before the second half of a step.
struct Old<'a> {
    base: &'a [f32],
    bed: Around<'a>,
    depth: Around<'a>,
    sediment: Around<'a>,
    /// The rows to the north, here and to the south, ghosts included.
    flow: [&'a [f32]; 3],
    pipes: [Around<'a>; 4],
}

/// The fields that the second half of a step writes.
struct New<'a> {
    bed: &'a mut [f32],
    depth: &'a mut [f32],
    sediment: &'a mut [f32],
    wear: &'a mut [f32],
    deposit: &'a mut [f32],
    flow: &'a mut [f32],
}

/// The sediment that moves along with `moved` of `depth` metres of water.
#[inline(always)]
fn share_moved(sediment: f32, moved: f32, depth: f32) -> f32 {
    sediment * (moved / depth.max(TINY_M))
}

#[multiversion::multiversion(targets = "simd")]
fn move_and_wear_row(rates: StepRates, old: Old, new: New) {
    let n = old.base.len();
    let base = &old.base[..n];
    let bed = old.bed.of_length(n);
    let depth = old.depth.of_length(n);
    let sediment = old.sediment.of_length(n);
    let [flow_north, flow_here, flow_south] = old.flow.map(|row| &row[..n + 2]);
    let [west, east, north, south] = old.pipes;
    let (west, east) = (west.of_length(n), east.of_length(n));
    let (north, south) = (north.of_length(n), south.of_length(n));
    let (new_bed, new_depth) = (&mut new.bed[..n], &mut new.depth[..n]);
    let (new_sediment, flow) = (&mut new.sediment[..n], &mut new.flow[..n]);
    let (wear, deposit) = (&mut new.wear[..n], &mut new.deposit[..n]);
    for i in 0..n {
        let out = west.here[i] + east.here[i] + north.here[i] + south.here[i];
        let from_west = east.west[i];
        let from_east = west.east[i];
        let from_north = south.north[i];
        let from_south = north.south[i];
        let inflow = from_west + from_east + from_north + from_south;
        let water = (depth.here[i] + (inflow - out)).max(0.0);

        let leaving = share_moved(sediment.here[i], west.here[i], depth.here[i])
            + share_moved(sediment.here[i], east.here[i], depth.here[i])
            + share_moved(sediment.here[i], north.here[i], depth.here[i])
            + share_moved(sediment.here[i], south.here[i], depth.here[i]);
        let arriving = share_moved(sediment.west[i], from_west, depth.west[i])
            + share_moved(sediment.east[i], from_east, depth.east[i])
            + share_moved(sediment.north[i], from_north, depth.north[i])
            + share_moved(sediment.south[i], from_south, depth.south[i]);
        let carried = (sediment.here[i] - leaving + arriving).max(0.0);

        let across = 0.5 * (from_west - west.here[i] + east.here[i] - from_east);
        let along = 0.5 * (from_north - north.here[i] + south.here[i] - from_south);
        let moved = (across * across + along * along).sqrt();
        flow[i] = flow_here[i + 1] + FLOW_MEMORY * (moved * rates.discharge - flow_here[i + 1]);
        // A stream works on its banks as well as on its bed.
        let across_row = |row: &[f32]| row[i] + 2.0 * row[i + 1] + row[i + 2];
        let around =
            (across_row(flow_north) + 2.0 * across_row(flow_here) + across_row(flow_south))
                * (1.0 / 16.0);
        let discharge = around + BED_SHARE * (flow_here[i + 1] - around);

        let dx = (bed.east[i] - bed.west[i]) * rates.slope;
        let dy = (bed.north[i] - bed.south[i]) * rates.slope;
        let tan2 = dx * dx + dy * dy;
        let sine = (tan2 / (1.0 + tan2)).sqrt();
        let here = bed.here[i];
        let lowest = bed.west[i]
            .min(bed.east[i])
            .min(bed.north[i].min(bed.south[i]));
        let highest = bed.west[i]
            .max(bed.east[i])
            .max(bed.north[i].max(bed.south[i]));

        let free = rates.capacity * (discharge * sine) - carried;
        let dry = if here > rates.sea_level_m { 1.0 } else { 0.0 };
        let room_below = (GENTLY * (here - lowest)).max(0.0) * dry;
        let room_above = (GENTLY * (highest - here)).max(0.0);
        let worn = (rates.take * free).max(0.0).min(room_below);
        let dropped = (-rates.drop * free).max(0.0).min(room_above).min(carried);
        wear[i] += worn;
        deposit[i] += dropped;
        new_sediment[i] = carried + worn - dropped;
        let ground = base[i] + (deposit[i] - wear[i]);
        new_bed[i] = ground;
        let rained = (water + rates.rain_m) * rates.kept;
        let sea = rates.sea_level_m - ground;
        new_depth[i] = if sea > 0.0 { sea } else { rained };
    }
}
