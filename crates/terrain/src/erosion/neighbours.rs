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

/// On which sides of a grid of so many cells a place of it lies, row by row: west, east,
/// north, south.
pub(super) fn sides(place: usize, (cols, rows): (usize, usize)) -> [bool; 4] {
    let (c, r) = (place % cols, place / cols);
    [c == 0, c + 1 == cols, r == 0, r + 1 == rows]
}

/// Whether a place of a grid of so many cells lies on its border.
pub(super) fn on_border(place: usize, size: (usize, usize)) -> bool {
    sides(place, size).contains(&true)
}
