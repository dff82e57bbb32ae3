//! Levees: what floods lay down beside the streams that they leave.

use crate::Grid;
use crate::grid::with_edge_repeated;
use crate::reading::for_each_gradient;

/// A stream is so much water at least, m²/s.
const STREAM_M2_S: f32 = 0.3;
/// Roughness of natural beds after Manning (Chow 1959, table 5-6: 0.03 to 0.04 for clean
/// streams, from memory).
const MANNING: f32 = 0.035;
/// Streams fall by this much at least, metres per metre: a flood has to leave.
const LEAST_FALL: f32 = 1e-3;
/// Floods stand no deeper than this in a stream, metres.
const DEEPEST_M: f32 = 3.0;
/// Backs of levees fall away from the stream by so much, metres per metre (common practice:
/// half a degree to two).
const BACK: f32 = 0.02;
/// Floods run out over ground that is no steeper than the first of these; none stays in bed
/// where it is as steep as the second. Metres per metre.
const PLAIN: [f32; 2] = [0.03, 0.08];

/// By how much floods build up the ground beside streams of the discharge `flow`, m²/s:
/// metres, on cells of `cell_m`. A levee is as high as a full stream is deep, and its back
/// falls gently; only level ground has any, and only where that lies below (overbank
/// deposition that is nearest the stream: Howard 1992). Floods do not go on beyond steep
/// ground: none of a stream on a rock lies at its foot. None beside the sea.
pub fn levees(heights: &Grid, flow: &Grid, cell_m: f64, sea_level_m: f32) -> Grid {
    let (cols, rows) = (heights.cols(), heights.rows());
    if cols.min(rows) < 3 {
        return Grid::filled(cols, rows, 0.0);
    }
    let inside = for_each_gradient(heights, cell_m, fall_row);
    let fall = with_edge_repeated(&inside, 1);
    let is_stream = |flow: f32, height: f32| flow >= STREAM_M2_S && height >= sea_level_m;
    let mut flood = Grid::by_rows(cols, rows, |r, row| {
        for (c, depth) in row.iter_mut().enumerate() {
            let (flow, height, fall) = (flow.at(c, r), heights.at(c, r), fall.at(c, r));
            *depth = match is_stream(flow, height) && fall < PLAIN[1] {
                true => full_depth_m(flow, fall),
                false => 0.0,
            };
        }
    });
    spread(&mut flood, heights, &fall, BACK * cell_m as f32);
    let [plain, steep] = PLAIN;
    Grid::by_rows(cols, rows, |r, row| {
        for (c, gain) in row.iter_mut().enumerate() {
            let height = heights.at(c, r);
            let level = ((steep - fall.at(c, r)) / (steep - plain)).clamp(0.0, 1.0);
            *gain = match is_stream(flow.at(c, r), height) || height < sea_level_m {
                true => 0.0,
                false => level * flood.at(c, r),
            };
        }
    })
}

fn fall_row(east: &[f32], north: &[f32], out: &mut [f32]) {
    for ((out, east), north) in out.iter_mut().zip(east).zip(north) {
        *out = east.hypot(*north);
    }
}

/// How deep a stream of so much discharge runs in a bed that falls so much (Manning 1891).
fn full_depth_m(flow_m2_s: f32, fall: f32) -> f32 {
    let depth = (flow_m2_s * MANNING / fall.max(LEAST_FALL).sqrt()).powf(0.6);
    depth.min(DEEPEST_M)
}

/// Spreads what lies in a `flood` over level ground: less by `per_cell` with each cell, and
/// no higher than where it came from. By two sweeps, as distances are found by chamfers
/// (Borgefors 1986).
fn spread(flood: &mut Grid, heights: &Grid, fall: &Grid, per_cell: f32) {
    let (cols, rows) = (flood.cols(), flood.rows());
    let at_corner = per_cell * std::f32::consts::SQRT_2;
    let mut go_on = |from: (usize, usize), to: (usize, usize), less: f32| {
        let at = |grid: &Grid, (c, r): (usize, usize)| grid.at(c, r);
        let there = at(flood, from);
        if there <= less || at(fall, to) >= PLAIN[1] {
            return;
        }
        let falls = at(heights, from) - at(heights, to);
        let deep = at(flood, to).max(there + falls.min(0.0) - less);
        flood.values_mut()[to.1 * cols + to.0] = deep;
    };
    let down = (0..rows).map(|r| (r, r.checked_sub(1)));
    let up = (0..rows)
        .rev()
        .map(|r| (r, (r + 1 < rows).then_some(r + 1)));
    for (r, before) in down.chain(up) {
        for c in 0..cols {
            let Some(before) = before else { break };
            for there in c.saturating_sub(1)..=(c + 1).min(cols - 1) {
                let less = if there == c { per_cell } else { at_corner };
                go_on((there, before), (c, r), less);
            }
        }
        (1..cols).for_each(|c| go_on((c - 1, r), (c, r), per_cell));
        (1..cols)
            .rev()
            .for_each(|c| go_on((c, r), (c - 1, r), per_cell));
    }
}
