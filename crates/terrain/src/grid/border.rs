//! The border of a grid.

/// On which sides of a grid of so many cells a place of it lies, row by row: west, east,
/// north, south.
pub(crate) fn sides(place: usize, (cols, rows): (usize, usize)) -> [bool; 4] {
    let (c, r) = (place % cols, place / cols);
    [c == 0, c + 1 == cols, r == 0, r + 1 == rows]
}

/// Whether a place of a grid of so many cells lies on its border.
pub(crate) fn on_border(place: usize, size: (usize, usize)) -> bool {
    sides(place, size).contains(&true)
}
