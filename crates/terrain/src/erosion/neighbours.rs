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

/// The neighbours of cell `i` that a grid of (columns, rows) has, by place in it, and their
/// distances in cells.
#[inline(always)]
pub(super) fn around(i: usize, (cols, rows): (usize, usize)) -> impl Iterator<Item = (usize, f32)> {
    let (c, r) = ((i % cols) as i64, (i / cols) as i64);
    NEIGHBOURS
        .into_iter()
        .filter_map(move |(dc, dr, distance)| {
            let (c, r) = (c + dc, r + dr);
            let inside = (0..cols as i64).contains(&c) && (0..rows as i64).contains(&r);
            inside.then(|| (r as usize * cols + c as usize, distance))
        })
}

/// `n` values of a row three times, each time from one further on.
#[inline(always)]
pub(super) fn shifted(row: &[f32], n: usize) -> [&[f32]; 3] {
    [&row[..n], &row[1..n + 1], &row[2..n + 2]]
}
