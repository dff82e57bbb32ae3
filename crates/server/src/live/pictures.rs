//! Pictures as binary messages.
//!
//! A message is the length of its header (u32, little endian), the header as
//! JSON, zeros up to a multiple of four, and then the planes, whose places the
//! header gives, counted from the end of those zeros.

use bytemuck::cast_slice;
use recipe::grow::CacheUse;
use recipe::view::{BLOCK, Difference, Picture};
use serde::Serialize;
use utoipa::ToSchema;

/// Which moment a picture shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(crate) enum Moment {
    /// The head, or an unfinished edit of it.
    Now,
    /// Before the last edit.
    Before,
    /// The revision that the head is compared with.
    Against,
}

/// What a picture is of.
#[derive(Clone, Debug)]
pub(crate) struct Caption {
    /// A step that is shown as it was before the strokes that are sketched.
    pub(crate) waits: Option<String>,
    pub(crate) revision: i64,
    pub(crate) preview: bool,
    pub(crate) moment: Moment,
    pub(crate) complete: bool,
    pub(crate) watched: Option<String>,
    pub(crate) sea_level_m: f64,
    pub(crate) took_ms: f64,
    pub(crate) cache: CacheUse,
}

/// The header of a picture.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct PictureHeader {
    /// The revision shown, or the one that the unfinished edit changes.
    pub(crate) revision: i64,
    /// Whether it shows an unfinished edit.
    pub(crate) preview: bool,
    /// Which moment it shows.
    pub(crate) moment: Moment,
    /// Whether it has all the cells asked for.
    pub(crate) complete: bool,
    /// The cells that the planes have, when they are a part of the last whole picture that
    /// has as many columns and rows as this one; all others stay as they are.
    pub(crate) part: Option<PartHeader>,
    /// A step that is shown as it was: it follows when the hand rests.
    pub(crate) waits: Option<String>,
    /// Columns.
    pub(crate) cols: usize,
    /// Rows.
    pub(crate) rows: usize,
    /// Side of a cell, metres.
    pub(crate) cell_m: f64,
    /// North edge, metres north of the origin.
    pub(crate) north_m: f64,
    /// Height of the sea, metres.
    pub(crate) sea_level_m: f64,
    /// Lowest height, metres.
    pub(crate) low_m: f32,
    /// Highest height, metres.
    pub(crate) high_m: f32,
    /// Mean height, metres.
    pub(crate) mean_m: f64,
    /// Cells along each side of a block of the plane `bounds`.
    pub(crate) block: usize,
    /// Milliseconds from the wish to this picture.
    pub(crate) took_ms: f64,
    /// Covers that are on, bottom first; `ground` counts them from 0.
    pub(crate) covers: Vec<Share>,
    /// Ledgers of the steps that move ground.
    pub(crate) ledgers: Vec<LedgerLine>,
    /// The step or cover whose mask the plane `mask` is.
    pub(crate) watched: Option<String>,
    /// How often heights occur, from the lowest to the highest.
    pub(crate) height_counts: Vec<u32>,
    /// How often slopes occur, from 0° to 90°.
    pub(crate) slope_counts: Vec<u32>,
    /// How the land has changed since the revision shown, if that is one that
    /// the head is compared with.
    pub(crate) difference: Option<DifferenceHeader>,
    /// Bytes of results that are kept.
    pub(crate) cache_bytes: usize,
    /// Most bytes that may be kept.
    pub(crate) cache_budget: usize,
    /// Where the planes are.
    pub(crate) planes: Vec<Plane>,
}

/// A part of a picture: whole blocks.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct PartHeader {
    /// First column.
    pub(crate) col: usize,
    /// First row.
    pub(crate) row: usize,
    /// Columns.
    pub(crate) cols: usize,
    /// Rows.
    pub(crate) rows: usize,
}

/// How the land has changed.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct DifferenceHeader {
    /// Root mean square of the change, metres.
    pub(crate) rms_m: f64,
    /// The change farthest from zero, metres.
    pub(crate) most_m: f32,
    /// The change that has the full colour, metres.
    pub(crate) scale_m: f32,
}

/// One cover's share of the land.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Share {
    /// The cover's id.
    pub(crate) id: String,
    /// 0 to 1.
    pub(crate) share: f64,
    /// The mean colour of the ground where there is most of it: red, green and
    /// blue in linear light, without light on it.
    pub(crate) colour: [f32; 3],
}

/// Where the ground of one step has gone.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct LedgerLine {
    /// The step's id.
    pub(crate) step: String,
    /// Ground that was raised from below.
    pub(crate) risen_m3: f64,
    /// Worn away, m³.
    pub(crate) worn_m3: f64,
    /// Brought in from outside, m³.
    pub(crate) added_m3: f64,
    /// Laid down, m³.
    pub(crate) dropped_m3: f64,
    /// Carried over the border, m³.
    pub(crate) carried_off_m3: f64,
    /// Added or taken away beside the process, with the reason.
    pub(crate) adjusted: Vec<AdjustedLine>,
    /// By how much the heights have changed, measured, m³.
    pub(crate) gained_m3: f64,
    /// By how much the account misses that, as a share of what was moved.
    pub(crate) error: f64,
}

/// Ground that was added (above 0) or taken away beside a process.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct AdjustedLine {
    /// Why.
    pub(crate) reason: &'static str,
    /// How much, m³.
    pub(crate) volume_m3: f64,
}

/// Where one plane is in the message.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Plane {
    /// `heights` (f32, metres), `bounds` (2 × f32, metres: the lowest and the highest of
    /// each block of cells), `slope` (u8, half degrees), `ground` (u8,
    /// index of the strongest cover), `second` (u8, of the next), `second_share`
    /// (u8, what that one has of both, 255 is all), `colour` (3 × u8, sRGB), `sunlit` (u8, 255 is full
    /// sun straight on), `mask` (u8, 255 is 1),
    /// `difference` (3 × u8, sRGB).
    pub(crate) name: &'static str,
    /// First byte, counted from the end of the header.
    pub(crate) offset: usize,
    /// Number of bytes.
    pub(crate) bytes: usize,
}

/// Writes a picture as one message.
pub(crate) fn encode(
    picture: &Picture,
    difference: Option<&Difference>,
    caption: Caption,
) -> Vec<u8> {
    written(picture, picture, difference, caption)
}

/// Writes a part of a picture as one message, with the header of the `whole`.
pub(crate) fn encode_part(part: &Picture, whole: &Picture, caption: Caption) -> Vec<u8> {
    written(part, whole, None, caption)
}

fn written(
    shown: &Picture,
    picture: &Picture,
    difference: Option<&Difference>,
    caption: Caption,
) -> Vec<u8> {
    let mut planes: Vec<(&'static str, &[u8])> = vec![
        ("heights", cast_slice(shown.heights.values())),
        ("bounds", cast_slice(shown.bounds.values())),
        ("slope", shown.slope.values()),
        ("ground", shown.ground.values()),
        ("second", shown.second.values()),
        ("second_share", shown.second_share.values()),
        ("colour", shown.colour.values().as_flattened()),
        ("sunlit", shown.sunlit.values()),
    ];
    let place = picture.frame.offset_of(&shown.frame);
    let part = place.filter(|_| shown.frame != picture.frame);
    planes.extend(shown.mask.as_ref().map(|mask| ("mask", mask.values())));
    let changed = difference.map(|d| ("difference", d.colour.values().as_flattened()));
    planes.extend(changed);
    let mut offset = 0;
    let places = planes
        .iter()
        .map(|(name, bytes)| {
            let plane = Plane {
                name,
                offset,
                bytes: bytes.len(),
            };
            offset += bytes.len().next_multiple_of(4);
            plane
        })
        .collect();
    let (low_m, high_m) = picture.heights.range();
    let header = PictureHeader {
        revision: caption.revision,
        preview: caption.preview,
        moment: caption.moment,
        complete: caption.complete,
        part: part.map(|(col, row)| PartHeader {
            col,
            row,
            cols: shown.frame.cols,
            rows: shown.frame.rows,
        }),
        waits: caption.waits,
        cols: picture.frame.cols,
        rows: picture.frame.rows,
        cell_m: picture.frame.cell_m,
        north_m: picture.frame.north_m,
        sea_level_m: caption.sea_level_m,
        low_m,
        high_m,
        mean_m: picture.heights.sum() / picture.frame.cells() as f64,
        block: BLOCK,
        took_ms: caption.took_ms,
        covers: picture
            .covers
            .iter()
            .map(|cover| Share {
                id: cover.id.clone(),
                share: cover.share,
                colour: [cover.colour.r, cover.colour.g, cover.colour.b],
            })
            .collect(),
        ledgers: picture
            .ledgers
            .iter()
            .map(|(step, ledger)| LedgerLine {
                step: step.clone(),
                risen_m3: ledger.risen_m3,
                worn_m3: ledger.worn_m3,
                added_m3: ledger.added_m3,
                dropped_m3: ledger.dropped_m3,
                carried_off_m3: ledger.carried_off_m3,
                adjusted: (ledger.adjusted.lines())
                    .map(|(reason, volume_m3)| AdjustedLine {
                        reason: reason.title(),
                        volume_m3,
                    })
                    .collect(),
                gained_m3: ledger.gained_m3,
                error: ledger.relative_error(),
            })
            .collect(),
        watched: caption.watched,
        height_counts: picture.height_histogram.counts.clone(),
        slope_counts: picture.slope_histogram.counts.clone(),
        difference: difference.map(|difference| DifferenceHeader {
            rms_m: difference.rms_m,
            most_m: difference.most_m,
            scale_m: difference.scale_m,
        }),
        cache_bytes: caption.cache.bytes,
        cache_budget: caption.cache.budget,
        planes: places,
    };
    let header = serde_json::to_vec(&header).expect("plain data");
    let mut message = Vec::with_capacity(8 + header.len() + offset);
    message.extend_from_slice(&(header.len() as u32).to_le_bytes());
    message.extend_from_slice(&header);
    pad(&mut message);
    for (_, bytes) in planes {
        message.extend_from_slice(bytes);
        pad(&mut message);
    }
    message
}

fn pad(message: &mut Vec<u8>) {
    message.resize(message.len().next_multiple_of(4), 0);
}
