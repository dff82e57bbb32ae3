//! A reading that looks at neighbours alone, taken while the file is still being read and
//! written already: a band of rows at a time, each of the three on a thread of its own.

use std::fs::File;
use std::path::Path;
use std::sync::mpsc::{Receiver, SyncSender, sync_channel};
use std::thread;

use formats::{Band, Limits, ReadError, TiffRows, write_geotiff_bands};
use terrain::grid::ApronBands;
use terrain::{Extent, Frame, Grid};

use super::output::write_file;

/// Bands that wait between two of the threads.
const WAITING: usize = 4;

/// Rows of a file, and whether they are the last.
type Rows = Result<(Vec<f32>, bool), ReadError>;

/// Opens a file for [`streamed`]; nothing when it is of another kind, or damaged: who reads it
/// as a whole can say what is wrong.
pub fn rows_of(file: &Path, limits: Limits) -> Option<TiffRows<File>> {
    TiffRows::open(File::open(file).ok()?, limits)
        .ok()
        .flatten()
}

/// Writes what `of` makes of each band of a file, which has one more cell on every side.
/// Whether it was done; if not, nothing is written, and who reads the file as a whole can say
/// what is wrong with it.
pub fn streamed(
    mut rows: TiffRows<File>,
    (output, cell_m): (&Path, f64),
    of: impl Fn(&Grid) -> Band + Send,
) -> anyhow::Result<bool> {
    let (cols, count) = rows.size();
    let extent = Extent {
        width_m: cols as f64 * cell_m,
        depth_m: count as f64 * cell_m,
    };
    let frame = Frame::covering(extent, cell_m);
    let georeference = rows.georeference.take();
    let on_earth = georeference.as_ref().map(|at| (at, extent));
    let (read_sender, read) = sync_channel(WAITING);
    let (made_sender, made) = sync_channel(WAITING);
    thread::scope(|scope| {
        scope.spawn(move || send_rows(&mut rows, &read_sender));
        let making = scope.spawn(move || make(cols, &read, &made_sender, of));
        let written = write_file(output, |out| {
            write_geotiff_bands(out, &frame, on_earth, made)
        });
        match making.join().expect("it does not panic") {
            Ok(()) => written.map(|()| true),
            Err(_) => Ok(false),
        }
    })
}

fn send_rows(rows: &mut TiffRows<File>, sender: &SyncSender<Rows>) {
    while let Some(next) = rows.next_rows().transpose() {
        let ended = next.is_err();
        // Nobody listens any more when something went wrong there.
        if sender.send(next).is_err() || ended {
            return;
        }
    }
}

/// Makes bands of what comes, all of the height of the first rows that come.
fn make(
    cols: usize,
    read: &Receiver<Rows>,
    sender: &SyncSender<Band>,
    of: impl Fn(&Grid) -> Band,
) -> Result<(), ReadError> {
    let mut bands = ApronBands::of(cols);
    let mut pending: Option<Band> = None;
    let mut height = None;
    for rows in read {
        let (rows, last) = rows?;
        let height = *height.get_or_insert(rows.len());
        let Some(wide) = bands.take(&rows, last) else {
            continue;
        };
        let mut made = match (pending.take(), of(&wide)) {
            (Some(Band::Floats(mut before)), Band::Floats(now)) => {
                before.extend(now);
                Band::Floats(before)
            }
            (Some(Band::Bytes(mut before)), Band::Bytes(now)) => {
                before.extend(now);
                Band::Bytes(before)
            }
            (_, now) => now,
        };
        while let Some(rest) = split(&mut made, height) {
            if sender.send(made).is_err() {
                return Ok(());
            }
            made = rest;
        }
        match last {
            true => drop(sender.send(made)),
            false => pending = Some(made),
        }
    }
    Ok(())
}

/// Keeps so many values of a band, and gives the rest; nothing when there are not more.
fn split(band: &mut Band, values: usize) -> Option<Band> {
    match band {
        Band::Floats(all) if all.len() > values => Some(Band::Floats(all.split_off(values))),
        Band::Bytes(all) if all.len() > values => Some(Band::Bytes(all.split_off(values))),
        _ => None,
    }
}
