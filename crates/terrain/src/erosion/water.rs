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

use super::{Country, Ledger, Storm};
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
    /// Sediment per metre of water, so that what leaves one cell and what
    /// arrives in the next is the same product.
    load: Vec<f32>,
    wear: Vec<f32>,
    deposit: Vec<f32>,
    flow: Vec<f32>,
    /// Depth of water moved per step, towards west, east, north, south.
    pipes: [Vec<f32>; 4],
    /// How readily each cell gives, and a factor on its rain; no ghosts.
    take: Grid,
    rain: Grid,
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
    drop: f32,
    least_sine: f32,
    strata: f32,
    strata_per_m: f32,
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
        country: Country,
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
            load: zero.clone(),
            wear: zero.clone(),
            deposit: zero.clone(),
            flow,
            next_flow: zero.clone(),
            pipes: std::array::from_fn(|_| zero.clone()),
            next_depth: zero.clone(),
            next_sediment: zero,
            take: match country.hardness {
                Some(hardness) => {
                    let take = storm.take as f32;
                    hardness.map(|hard| take * (1.0 - hard.clamp(0.0, 1.0)))
                }
                None => Grid::filled(cols, rows, storm.take as f32),
            },
            rain: match country.rain {
                Some(rain) => rain.map(|rain| rain.max(0.0)),
                None => Grid::filled(cols, rows, 1.0),
            },
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
            least_sine: self.storm.least_slope.atan().sin() as f32,
            strata: self.storm.strata as f32,
            strata_per_m: (1.0 / self.storm.strata_m) as f32,
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
        let (bed, depth, sediment) = (&self.bed, &self.depth, &self.sediment);
        let [west, east, north, south] = &mut self.pipes;
        let inner = wide..wide * (self.rows + 1);
        west[inner.clone()]
            .par_chunks_mut(wide)
            .zip(east[inner.clone()].par_chunks_mut(wide))
            .zip(north[inner.clone()].par_chunks_mut(wide))
            .zip(south[inner.clone()].par_chunks_mut(wide))
            .zip(self.load[inner].par_chunks_mut(wide))
            .enumerate()
            .for_each(|(r, ((((west, east), north), south), load))| {
                let around = |field| Around::of(field, r + 1, wide);
                let n = wide - 2;
                open_pipes_row(
                    around(bed),
                    around(depth),
                    around(sediment).here,
                    &mut west[1..=n],
                    &mut east[1..=n],
                    &mut north[1..=n],
                    &mut south[1..=n],
                    &mut load[1..=n],
                );
            });
    }

    /// Sediment leaving over the border in this step, metres summed over
    /// cells, in a fixed order.
    fn carry_off(&self) -> f64 {
        let leaving = |r: usize, c: usize, side: usize| {
            let i = (r + 1) * self.wide + c + 1;
            f64::from(self.load[i] * self.pipes[side][i])
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
        let (take, rain) = (&self.take, &self.rain);
        let (bed, depth, sediment) = (&self.bed, &self.depth, &self.sediment);
        let load = &self.load;
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
                        take: take.row(r),
                        rain: rain.row(r),
                        bed: around(bed),
                        depth: around(depth).here,
                        sediment: around(sediment).here,
                        load: around(load),
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

    /// Sediment in the water of each cell, metres of ground.
    pub(super) fn suspended(&self) -> Grid {
        self.without_ghosts(&self.sediment)
    }

    /// Where all the ground has gone.
    pub(super) fn ledger(&self) -> Ledger {
        let area_m2 = self.cell_m * self.cell_m;
        Ledger {
            worn_m3: self.wear().sum() * area_m2,
            dropped_m3: self.deposit().sum() * area_m2,
            added_m3: 0.0,
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

    /// The part of the row from `start` to before `end`.
    #[inline(always)]
    fn part(self, start: usize, end: usize) -> Self {
        Self {
            here: &self.here[start..end],
            west: &self.west[start..end],
            east: &self.east[start..end],
            north: &self.north[start..end],
            south: &self.south[start..end],
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

/// First half of a step for one row. The slices are arguments of their own
/// and not fields of a struct: the compiler then knows that they do not
/// overlap, and uses SIMD lanes.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
fn open_pipes_row(
    bed: Around,
    depth: Around,
    sediment: &[f32],
    west: &mut [f32],
    east: &mut [f32],
    north: &mut [f32],
    south: &mut [f32],
    load: &mut [f32],
) {
    let n = bed.here.len();
    let (bed, depth, sediment) = (bed.of_length(n), depth.of_length(n), &sediment[..n]);
    let (west, east) = (&mut west[..n], &mut east[..n]);
    let (north, south) = (&mut north[..n], &mut south[..n]);
    let load = &mut load[..n];
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
        load[i] = sediment[i] / here.max(TINY_M);
    }
}

/// The fields before the second half of a step.
struct Old<'a> {
    base: &'a [f32],
    take: &'a [f32],
    rain: &'a [f32],
    bed: Around<'a>,
    depth: &'a [f32],
    sediment: &'a [f32],
    load: Around<'a>,
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

/// Cells of a row handled together: what passes between the loops below stays
/// in the nearest cache.
const CHUNK: usize = 128;

fn move_and_wear_row(rates: StepRates, old: Old, new: New) {
    let n = old.base.len();
    let (mut water, mut carried) = ([0.0; CHUNK], [0.0; CHUNK]);
    let (mut worn, mut dropped) = ([0.0; CHUNK], [0.0; CHUNK]);
    for start in (0..n).step_by(CHUNK) {
        let end = (start + CHUNK).min(n);
        let part = start..end;
        let m = end - start;
        let (water, carried) = (&mut water[..m], &mut carried[..m]);
        let (worn, dropped) = (&mut worn[..m], &mut dropped[..m]);
        let flow = old.flow.map(|row| &row[start..end + 2]);
        move_water(
            rates,
            &old.depth[part.clone()],
            &old.sediment[part.clone()],
            old.load.part(start, end),
            old.pipes.map(|pipe| pipe.part(start, end)),
            flow[1],
            water,
            carried,
            &mut new.flow[part.clone()],
        );
        wear_ground(
            rates,
            old.bed.part(start, end),
            &old.take[part.clone()],
            flow,
            carried,
            worn,
            dropped,
        );
        let (wear, deposit) = (&mut new.wear[part.clone()], &mut new.deposit[part.clone()]);
        let (base, rain) = (&old.base[part.clone()], &old.rain[part.clone()]);
        let bed = &mut new.bed[part.clone()];
        keep(worn, dropped, base, wear, deposit, bed);
        let (depth, sediment) = (&mut new.depth[part.clone()], &mut new.sediment[part]);
        fill(
            rates, rain, water, carried, worn, dropped, bed, depth, sediment,
        );
    }
}

/// Water and sediment arrive and leave; the mean discharge follows.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
fn move_water(
    rates: StepRates,
    depth: &[f32],
    sediment: &[f32],
    load: Around,
    pipes: [Around; 4],
    flow_here: &[f32],
    water: &mut [f32],
    carried: &mut [f32],
    flow: &mut [f32],
) {
    let n = depth.len();
    let (sediment, load) = (&sediment[..n], load.of_length(n));
    let [west, east, north, south] = pipes;
    let (west, east) = (west.of_length(n), east.of_length(n));
    let (north, south) = (north.of_length(n), south.of_length(n));
    let flow_here = &flow_here[1..n + 1];
    let (water, carried, flow) = (&mut water[..n], &mut carried[..n], &mut flow[..n]);
    for i in 0..n {
        let out = west.here[i] + east.here[i] + north.here[i] + south.here[i];
        let from_west = east.west[i];
        let from_east = west.east[i];
        let from_north = south.north[i];
        let from_south = north.south[i];
        let inflow = from_west + from_east + from_north + from_south;
        water[i] = (depth[i] + (inflow - out)).max(0.0);

        let leaving = load.here[i] * west.here[i]
            + load.here[i] * east.here[i]
            + load.here[i] * north.here[i]
            + load.here[i] * south.here[i];
        let arriving = load.west[i] * from_west
            + load.east[i] * from_east
            + load.north[i] * from_north
            + load.south[i] * from_south;
        carried[i] = (sediment[i] - leaving + arriving).max(0.0);

        let across = 0.5 * (from_west - west.here[i] + east.here[i] - from_east);
        let along = 0.5 * (from_north - north.here[i] + south.here[i] - from_south);
        let moved = (across * across + along * along).sqrt();
        flow[i] = flow_here[i] + FLOW_MEMORY * (moved * rates.discharge - flow_here[i]);
    }
}

/// How much the ground gives and takes, by discharge and slope.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
fn wear_ground(
    rates: StepRates,
    bed: Around,
    take: &[f32],
    flow: [&[f32]; 3],
    carried: &[f32],
    worn: &mut [f32],
    dropped: &mut [f32],
) {
    let n = carried.len();
    let (bed, take) = (bed.of_length(n), &take[..n]);
    let [north, here, south] = flow;
    let (n0, n1, n2) = (&north[..n], &north[1..n + 1], &north[2..n + 2]);
    let (h0, h1, h2) = (&here[..n], &here[1..n + 1], &here[2..n + 2]);
    let (s0, s1, s2) = (&south[..n], &south[1..n + 1], &south[2..n + 2]);
    let (worn, dropped) = (&mut worn[..n], &mut dropped[..n]);
    for i in 0..n {
        // A stream works on its banks as well as on its bed.
        let around = ((n0[i] + 2.0 * n1[i] + n2[i])
            + 2.0 * (h0[i] + 2.0 * h1[i] + h2[i])
            + (s0[i] + 2.0 * s1[i] + s2[i]))
            * (1.0 / 16.0);
        let discharge = around + BED_SHARE * (h1[i] - around);
        let dx = (bed.east[i] - bed.west[i]) * rates.slope;
        let dy = (bed.north[i] - bed.south[i]) * rates.slope;
        let tan2 = dx * dx + dy * dy;
        let sine = (tan2 / (1.0 + tan2)).sqrt().max(rates.least_sine);
        let ground = bed.here[i];
        // Beds in turn: soft in the middle of each, hard where two meet.
        let level = ground * rates.strata_per_m;
        let hard = (4.0 * (level - level.floor() - 0.5).abs() - 0.5).clamp(0.0, 1.0);
        let take = take[i] * (1.0 - rates.strata * hard);
        let lowest = bed.west[i]
            .min(bed.east[i])
            .min(bed.north[i].min(bed.south[i]));
        let highest = bed.west[i]
            .max(bed.east[i])
            .max(bed.north[i].max(bed.south[i]));
        let free = rates.capacity * (discharge * sine) - carried[i];
        let dry = if ground > rates.sea_level_m { 1.0 } else { 0.0 };
        let room_below = (GENTLY * (ground - lowest)).max(0.0) * dry;
        let room_above = (GENTLY * (highest - ground)).max(0.0);
        worn[i] = (take * free).max(0.0).min(room_below);
        dropped[i] = (-rates.drop * free)
            .max(0.0)
            .min(room_above)
            .min(carried[i]);
    }
}

/// Writes what was worn and dropped into the books, and the new bed.
#[multiversion::multiversion(targets = "simd")]
fn keep(
    worn: &[f32],
    dropped: &[f32],
    base: &[f32],
    wear: &mut [f32],
    deposit: &mut [f32],
    bed: &mut [f32],
) {
    let n = worn.len();
    let (dropped, base) = (&dropped[..n], &base[..n]);
    let (wear, deposit, bed) = (&mut wear[..n], &mut deposit[..n], &mut bed[..n]);
    for i in 0..n {
        wear[i] += worn[i];
        deposit[i] += dropped[i];
        bed[i] = base[i] + (deposit[i] - wear[i]);
    }
}

/// The new depth of water and the new sediment in it.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
fn fill(
    rates: StepRates,
    rain: &[f32],
    water: &[f32],
    carried: &[f32],
    worn: &[f32],
    dropped: &[f32],
    bed: &[f32],
    depth: &mut [f32],
    sediment: &mut [f32],
) {
    let n = water.len();
    let (carried, worn, dropped, bed) = (&carried[..n], &worn[..n], &dropped[..n], &bed[..n]);
    let rain = &rain[..n];
    let (depth, sediment) = (&mut depth[..n], &mut sediment[..n]);
    for i in 0..n {
        sediment[i] = carried[i] + worn[i] - dropped[i];
        let rained = (water[i] + rates.rain_m * rain[i]) * rates.kept;
        let sea = rates.sea_level_m - bed[i];
        depth[i] = if sea > 0.0 { sea } else { rained };
    }
}
