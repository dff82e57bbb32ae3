//! Levees: what floods lay down beside the streams that they leave.

use crate::Grid;

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
/// Looks at what lies around that are worth their time; beyond, levees are a foot high.
const MOST_PASSES: usize = 16;

/// By how much floods build up the ground beside streams of the discharge `flow`, m²/s:
/// metres, on cells of `cell_m`. A levee is as high as a full stream is deep, and its back
/// falls gently; only level ground has any, and only where that lies below (overbank
/// deposition that is nearest the stream: Howard 1992). None beside the sea.
pub fn levees(heights: &Grid, flow: &Grid, cell_m: f64, sea_level_m: f32) -> Grid {
    let (cols, rows) = (heights.cols(), heights.rows());
    let cell = cell_m as f32;
    let fall = Grid::by_rows(cols, rows, |r, row| {
        let near = [r.saturating_sub(1), r, (r + 1).min(rows - 1)];
        let [above, here, below] = near.map(|r| heights.row(r));
        for (c, fall) in row.iter_mut().enumerate() {
            let (w, e) = (c.saturating_sub(1), (c + 1).min(cols - 1));
            // One cell apart along the border, two elsewhere.
            let across = (e - w).max(1) as f32 * cell;
            let down = (near[2] - near[0]).max(1) as f32 * cell;
            let (east, south) = (here[e] - here[w], below[c] - above[c]);
            *fall = (east / across).hypot(south / down);
        }
    });
    let is_stream = |flow: f32, height: f32| flow >= STREAM_M2_S && height >= sea_level_m;
    let mut crest = Grid::by_rows(cols, rows, |r, row| {
        for (c, crest) in row.iter_mut().enumerate() {
            let (flow, height) = (flow.at(c, r), heights.at(c, r));
            *crest = match is_stream(flow, height) {
                true => height + full_depth_m(flow, fall.at(c, r)),
                false => f32::NEG_INFINITY,
            };
        }
    });
    let reach = (DEEPEST_M / (BACK * cell)).ceil() as usize;
    for _ in 0..reach.min(MOST_PASSES) {
        crest = spread(&crest, BACK * cell);
    }
    let [plain, steep] = PLAIN;
    Grid::by_rows(cols, rows, |r, row| {
        for (c, gain) in row.iter_mut().enumerate() {
            let height = heights.at(c, r);
            let room = (crest.at(c, r) - height).clamp(0.0, DEEPEST_M);
            let level = ((steep - fall.at(c, r)) / (steep - plain)).clamp(0.0, 1.0);
            *gain = match is_stream(flow.at(c, r), height) || height < sea_level_m {
                true => 0.0,
                false => level * room,
            };
        }
    })
}

/// How deep a stream of so much discharge runs in a bed that falls so much (Manning 1891).
fn full_depth_m(flow_m2_s: f32, fall: f32) -> f32 {
    let depth = (flow_m2_s * MANNING / fall.max(LEAST_FALL).sqrt()).powf(0.6);
    depth.min(DEEPEST_M)
}

/// Each value, or what is left of the highest beside it when it has fallen by `per_cell`.
fn spread(crest: &Grid, per_cell: f32) -> Grid {
    let (cols, rows) = (crest.cols(), crest.rows());
    let at_corners = per_cell * std::f32::consts::SQRT_2;
    Grid::by_rows(cols, rows, |r, row| {
        let near = [r.saturating_sub(1), r, (r + 1).min(rows - 1)];
        let [above, here, below] = near.map(|r| crest.row(r));
        for (c, most) in row.iter_mut().enumerate() {
            let (w, e) = (c.saturating_sub(1), (c + 1).min(cols - 1));
            let beside = here[w].max(here[e]).max(above[c]).max(below[c]);
            let corners = above[w].max(above[e]).max(below[w]).max(below[e]);
            *most = here[c].max(beside - per_cell).max(corners - at_corners);
        }
    })
}
