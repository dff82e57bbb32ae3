//! A picture in one file, or in tiles that meet exactly.

use formats::{PixelKind, Placed};
use recipe::Recipe;
use terrain::Frame;

use crate::DeliverError;
use crate::folder::{Folder, OpenPng};
use crate::manifest::Facts;

/// How a map is cut.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Tiling {
    /// Cells of the whole.
    pub(crate) cols: usize,
    pub(crate) rows: usize,
    /// Cells along each side of a tile; those at the east and south edges may be
    /// smaller. One file when absent.
    pub(crate) side: Option<usize>,
    /// Where the whole lies.
    pub(crate) placed: Placed,
}

impl Tiling {
    pub(crate) fn of(recipe: &Recipe, frame: &Frame, side: Option<usize>) -> Self {
        let extent = recipe.extent.into();
        let on_earth = recipe.georeference.as_ref().map(|at| (at, extent));
        Self {
            placed: Placed::of(frame, on_earth),
            cols: frame.cols,
            rows: frame.rows,
            // One tile is no tiling.
            side: side.filter(|side| *side < frame.cols.max(frame.rows)),
        }
    }

    fn across(&self) -> Vec<(usize, usize)> {
        spans(self.cols, self.side)
    }

    fn down(&self) -> Vec<(usize, usize)> {
        spans(self.rows, self.side)
    }

    /// The name of the file of one tile: columns count from the west, rows from
    /// the north.
    pub(crate) fn name(&self, stem: &str, ending: &str, tile: (usize, usize)) -> String {
        match self.side {
            None => format!("{stem}.{ending}"),
            Some(_) => format!("{stem}-x{}-y{}.{ending}", tile.0, tile.1),
        }
    }

    /// Every tile: its place among the others, and its first cell and size.
    pub(crate) fn tiles(&self) -> Vec<Tile> {
        let (across, down) = (self.across(), self.down());
        let rows = down.iter().enumerate();
        rows.flat_map(|(y, &(row, rows))| {
            let columns = across.iter().enumerate();
            columns.map(move |(x, &(col, cols))| Tile {
                at: (x, y),
                col,
                row,
                cols,
                rows,
            })
        })
        .collect()
    }
}

/// One tile of a map.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Tile {
    pub(crate) at: (usize, usize),
    pub(crate) col: usize,
    pub(crate) row: usize,
    pub(crate) cols: usize,
    pub(crate) rows: usize,
}

/// First cell and length of each part of `count` cells.
fn spans(count: usize, side: Option<usize>) -> Vec<(usize, usize)> {
    let side = side.unwrap_or(count).max(1);
    (0..count)
        .step_by(side)
        .map(|first| (first, side.min(count - first)))
        .collect()
}

/// A map that is written from its first row on, whole or in tiles.
pub(crate) struct TiledPng {
    stem: String,
    kind: PixelKind,
    tiling: Tiling,
    /// What is known of every tile, but for its size.
    facts: Facts,
    /// The tiles of the row of tiles that is being written.
    open: Vec<OpenPng>,
    row: usize,
}

impl TiledPng {
    pub(crate) fn new(stem: String, kind: PixelKind, tiling: Tiling, facts: Facts) -> Self {
        Self {
            stem,
            kind,
            tiling,
            facts,
            open: Vec::new(),
            row: 0,
        }
    }

    /// Writes the bytes of the next rows, each one over all tiles.
    pub(crate) fn push(&mut self, folder: &mut Folder, bytes: &[u8]) -> Result<(), DeliverError> {
        let (across, down) = (self.tiling.across(), self.tiling.down());
        let pixel = self.kind.bytes();
        for row in bytes.chunks_exact(self.tiling.cols * pixel) {
            let at = |&(first, rows): &(usize, usize)| (first..first + rows).contains(&self.row);
            let y = down.iter().position(at).expect("a row of the map");
            let (first, rows) = down[y];
            if self.row == first {
                for (x, &(_, cols)) in across.iter().enumerate() {
                    let world = self.tiling.name(&self.stem, "pgw", (x, y));
                    let placed = self.tiling.placed.from(across[x].0, first);
                    folder.write_text(&world, &placed.world_file())?;
                    let name = self.tiling.name(&self.stem, "png", (x, y));
                    folder.note(&name, self.facts.clone().of_size((cols, rows)));
                    self.open
                        .push(folder.begin_png(name, self.kind, cols, rows)?);
                }
            }
            for (png, &(col, cols)) in self.open.iter_mut().zip(&across) {
                folder.push(png, &row[col * pixel..(col + cols) * pixel])?;
            }
            self.row += 1;
            if self.row == first + rows {
                for png in self.open.drain(..) {
                    folder.finish_png(png)?;
                }
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use formats::Placed;

    use super::Tiling;

    #[test]
    fn tiles_cover_the_map_once() {
        for (cols, rows, side) in [
            (10, 7, Some(4)),
            (8, 8, Some(4)),
            (5, 3, None),
            (5, 9, Some(9)),
        ] {
            let placed = Placed {
                west: 0.0,
                north: 0.0,
                cell: [1.0; 2],
            };
            let tiling = Tiling {
                cols,
                rows,
                side,
                placed,
            };
            let mut times = vec![0; cols * rows];
            for tile in tiling.tiles() {
                for r in tile.row..tile.row + tile.rows {
                    for c in tile.col..tile.col + tile.cols {
                        times[r * cols + c] += 1;
                    }
                }
            }
            assert!(times.iter().all(|&n| n == 1), "{cols} × {rows}, {side:?}");
        }
    }
}
