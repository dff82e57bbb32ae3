//! Second half of a step: water and what it carries move; the ground gives
//! and takes.

use super::ghosts::Around;
use super::{BED_PACE, BED_SHARE, FLOW_MEMORY, GENTLY, TINY_M};

/// What is the same for every cell in one step.
#[derive(Clone, Copy)]
pub(super) struct StepRates {
    pub(super) rain_m: f32,
    pub(super) kept: f32,
    pub(super) sea_level_m: f32,
    /// How readily loose ground gives.
    pub(super) take: f32,
    /// Sediment held per unit of discharge and slope.
    pub(super) capacity: f32,
    /// Share of what is worn, and of the capacity, that rolls along the bed.
    pub(super) coarse: f32,
    pub(super) drop: f32,
    pub(super) drop_coarse: f32,
    pub(super) least_sine: f32,
    pub(super) strata: f32,
    pub(super) strata_per_m: f32,
    /// From metres of water moved per step to discharge, m²/s.
    pub(super) discharge: f32,
    /// From a height difference over two cells to a slope.
    pub(super) slope: f32,
}

/// A row of the fields that this half only reads.
pub(super) struct Old<'a> {
    pub(super) base: &'a [f32],
    pub(super) hardness: &'a [f32],
    pub(super) rain: &'a [f32],
    pub(super) bed: Around<'a>,
    /// Suspended load and bed load for each metre of water: what leaves one
    /// cell and what arrives in the next is the same product.
    pub(super) silt: Around<'a>,
    pub(super) gravel: Around<'a>,
    /// The rows to the north, here and to the south, ghosts included.
    pub(super) flow: [&'a [f32]; 3],
    pub(super) pipes: [Around<'a>; 4],
}

/// A row of the fields that this half writes. Each cell's depth is read before
/// it is written, and by no other cell.
pub(super) struct New<'a> {
    pub(super) bed: &'a mut [f32],
    pub(super) depth: &'a mut [f32],
    pub(super) silt: &'a mut [f32],
    pub(super) gravel: &'a mut [f32],
    pub(super) wear: &'a mut [f32],
    pub(super) deposit: &'a mut [f32],
    pub(super) flow: &'a mut [f32],
}

/// Cells of a row handled together: what passes between the loops below stays
/// in the nearest cache.
const CHUNK: usize = 128;

/// What has arrived and not left, and what the ground gives and takes.
struct Passing {
    water: [f32; CHUNK],
    silt: [f32; CHUNK],
    gravel: [f32; CHUNK],
    worn: [f32; CHUNK],
    dropped: [f32; CHUNK],
    set_down: [f32; CHUNK],
}

pub(super) fn move_and_wear_row(rates: StepRates, old: Old, new: New) {
    let n = old.base.len();
    let mut passing = Passing {
        water: [0.0; CHUNK],
        silt: [0.0; CHUNK],
        gravel: [0.0; CHUNK],
        worn: [0.0; CHUNK],
        dropped: [0.0; CHUNK],
        set_down: [0.0; CHUNK],
    };
    for start in (0..n).step_by(CHUNK) {
        let end = (start + CHUNK).min(n);
        let part = start..end;
        let m = end - start;
        let water = &mut passing.water[..m];
        let (silt, gravel) = (&mut passing.silt[..m], &mut passing.gravel[..m]);
        let (worn, dropped) = (&mut passing.worn[..m], &mut passing.dropped[..m]);
        let set_down = &mut passing.set_down[..m];
        let flow = old.flow.map(|row| &row[start..end + 2]);
        let pipes = old.pipes.map(|pipe| pipe.part(start, end));
        move_water(
            rates,
            &new.depth[part.clone()],
            pipes,
            flow[1],
            water,
            &mut new.flow[part.clone()],
        );
        let depth = &new.depth[part.clone()];
        carry(depth, old.silt.part(start, end), pipes, 1.0, silt);
        carry(depth, old.gravel.part(start, end), pipes, BED_PACE, gravel);
        wear_ground(
            rates,
            old.bed.part(start, end),
            &old.hardness[part.clone()],
            flow,
            silt,
            gravel,
            worn,
            dropped,
            set_down,
        );
        keep(
            worn,
            dropped,
            set_down,
            &old.base[part.clone()],
            &mut new.wear[part.clone()],
            &mut new.deposit[part.clone()],
            &mut new.bed[part.clone()],
        );
        fill(
            rates,
            &old.rain[part.clone()],
            water,
            &new.bed[part.clone()],
            &mut new.depth[part.clone()],
        );
        hold(
            rates.coarse,
            &new.depth[part.clone()],
            worn,
            (&*silt, &*dropped),
            (&*gravel, &*set_down),
            &mut new.silt[part.clone()],
            &mut new.gravel[part],
        );
    }
}

/// Water arrives and leaves; the mean discharge follows.
#[multiversion::multiversion(targets = "simd")]
fn move_water(
    rates: StepRates,
    depth: &[f32],
    pipes: [Around; 4],
    flow_here: &[f32],
    water: &mut [f32],
    flow: &mut [f32],
) {
    let n = depth.len();
    let [west, east, north, south] = pipes;
    let (west, east) = (west.of_length(n), east.of_length(n));
    let (north, south) = (north.of_length(n), south.of_length(n));
    let flow_here = &flow_here[1..n + 1];
    let (water, flow) = (&mut water[..n], &mut flow[..n]);
    for i in 0..n {
        let out = west.here[i] + east.here[i] + north.here[i] + south.here[i];
        let from_west = east.west[i];
        let from_east = west.east[i];
        let from_north = south.north[i];
        let from_south = north.south[i];
        let inflow = from_west + from_east + from_north + from_south;
        water[i] = (depth[i] + (inflow - out)).max(0.0);
        let across = 0.5 * (from_west - west.here[i] + east.here[i] - from_east);
        let along = 0.5 * (from_north - north.here[i] + south.here[i] - from_south);
        let moved = (across * across + along * along).sqrt();
        flow[i] = flow_here[i] + FLOW_MEMORY * (moved * rates.discharge - flow_here[i]);
    }
}

/// What the water takes along arrives and leaves, at `pace` of its speed.
/// `load` is for each metre of water, `after` for the whole depth.
#[multiversion::multiversion(targets = "simd")]
fn carry(depth: &[f32], load: Around, pipes: [Around; 4], pace: f32, after: &mut [f32]) {
    let n = after.len();
    let (depth, load) = (&depth[..n], load.of_length(n));
    let [west, east, north, south] = pipes;
    let (west, east) = (west.of_length(n), east.of_length(n));
    let (north, south) = (north.of_length(n), south.of_length(n));
    for i in 0..n {
        let out = west.here[i] + east.here[i] + north.here[i] + south.here[i];
        let stays = depth[i].max(TINY_M) - pace * out;
        let arriving = load.west[i] * east.west[i]
            + load.east[i] * west.east[i]
            + load.north[i] * south.north[i]
            + load.south[i] * north.south[i];
        after[i] = load.here[i] * stays.max(0.0) + pace * arriving;
    }
}

/// How much the ground gives and takes, by discharge and slope.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
fn wear_ground(
    rates: StepRates,
    bed: Around,
    hardness: &[f32],
    flow: [&[f32]; 3],
    silt: &[f32],
    gravel: &[f32],
    worn: &mut [f32],
    dropped: &mut [f32],
    set_down: &mut [f32],
) {
    let n = silt.len();
    let (bed, hardness, gravel) = (bed.of_length(n), &hardness[..n], &gravel[..n]);
    let [north, here, south] = flow;
    let (n0, n1, n2) = (&north[..n], &north[1..n + 1], &north[2..n + 2]);
    let (h0, h1, h2) = (&here[..n], &here[1..n + 1], &here[2..n + 2]);
    let (s0, s1, s2) = (&south[..n], &south[1..n + 1], &south[2..n + 2]);
    let (worn, dropped) = (&mut worn[..n], &mut dropped[..n]);
    let set_down = &mut set_down[..n];
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
        let gives = rates.take * (1.0 - hardness[i].clamp(0.0, 1.0));
        let take = gives * (1.0 - rates.strata * hard);
        let lowest = bed.west[i]
            .min(bed.east[i])
            .min(bed.north[i].min(bed.south[i]));
        let highest = bed.west[i]
            .max(bed.east[i])
            .max(bed.north[i].max(bed.south[i]));
        let capacity = rates.capacity * (discharge * sine);
        let rolls = rates.coarse * capacity;
        let dry = if ground > rates.sea_level_m { 1.0 } else { 0.0 };
        let room_below = (GENTLY * (ground - lowest)).max(0.0) * dry;
        let room_above = (GENTLY * (highest - ground)).max(0.0);
        let free = capacity - silt[i] - gravel[i];
        worn[i] = (take * free).max(0.0).min(room_below);
        // What is coarse comes to rest first.
        set_down[i] = (rates.drop_coarse * (gravel[i] - rolls))
            .max(0.0)
            .min(room_above);
        dropped[i] = (rates.drop * (silt[i] - (capacity - rolls)))
            .max(0.0)
            .min(room_above - set_down[i]);
    }
}

/// Writes what was worn and dropped into the books, and the new bed.
#[multiversion::multiversion(targets = "simd")]
fn keep(
    worn: &[f32],
    dropped: &[f32],
    set_down: &[f32],
    base: &[f32],
    wear: &mut [f32],
    deposit: &mut [f32],
    bed: &mut [f32],
) {
    let n = worn.len();
    let (dropped, set_down, base) = (&dropped[..n], &set_down[..n], &base[..n]);
    let (wear, deposit, bed) = (&mut wear[..n], &mut deposit[..n], &mut bed[..n]);
    for i in 0..n {
        wear[i] += worn[i];
        deposit[i] += dropped[i] + set_down[i];
        bed[i] = base[i] + (deposit[i] - wear[i]);
    }
}

/// The new depth of water.
#[multiversion::multiversion(targets = "simd")]
fn fill(rates: StepRates, rain: &[f32], water: &[f32], bed: &[f32], depth: &mut [f32]) {
    let n = water.len();
    let (rain, bed, depth) = (&rain[..n], &bed[..n], &mut depth[..n]);
    for i in 0..n {
        let rained = (water[i] + rates.rain_m * rain[i].max(0.0)) * rates.kept;
        let sea = rates.sea_level_m - bed[i];
        depth[i] = if sea > 0.0 { sea } else { rained };
    }
}

/// What is in the water and on the bed after that, for each metre of water.
#[multiversion::multiversion(targets = "simd")]
fn hold(
    coarse: f32,
    depth: &[f32],
    worn: &[f32],
    (silt, dropped): (&[f32], &[f32]),
    (gravel, set_down): (&[f32], &[f32]),
    new_silt: &mut [f32],
    new_gravel: &mut [f32],
) {
    let n = worn.len();
    let (depth, silt, dropped) = (&depth[..n], &silt[..n], &dropped[..n]);
    let (gravel, set_down) = (&gravel[..n], &set_down[..n]);
    let (new_silt, new_gravel) = (&mut new_silt[..n], &mut new_gravel[..n]);
    for i in 0..n {
        let rolls = coarse * worn[i];
        let thinly = 1.0 / depth[i].max(TINY_M);
        new_silt[i] = (silt[i] + (worn[i] - rolls) - dropped[i]).max(0.0) * thinly;
        new_gravel[i] = (gravel[i] + rolls - set_down[i]).max(0.0) * thinly;
    }
}
