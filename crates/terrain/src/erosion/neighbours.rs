//! The cells around a cell.

/// The eight neighbours: column, row, and distance in cells.
pub(super) const NEIGHBOURS: [(i64, i64, f32); 8] = [
    (1, 0, 1.0),
    (0, 1, 1.0),
    (-1, 0, 1.0),
    (0, -1, 1.0),
    (1, 1, std::f32::consts::SQRT_2),
    (-1, 1, std::f32::consts::SQRT_2),
    (-1, -1, std::f32::consts::SQRT_2),
    (1, -1, std::f32::consts::SQRT_2),
];

/// `n` values of a row three times, each time from one further on.
#[inline(always)]
pub(super) fn shifted(row: &[f32], n: usize) -> [&[f32]; 3] {
    [&row[..n], &row[1..n + 1], &row[2..n + 2]]
}
