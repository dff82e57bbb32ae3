//! Files in and out: what is read is what was written, and bad files are
//! refused with a message that says why.

use std::io::Cursor;

use formats::{
    Limits, PixelKind, PngRows, ReadError, TiffLayout, Units, read_heightfield, read_picture,
    write_geotiff, write_grey16,
};
use proptest::prelude::*;
use terrain::{Extent, Frame, Grid};

fn read(bytes: &[u8]) -> Result<formats::Heightfield, ReadError> {
    read_heightfield(bytes, Limits::default())
}

fn message(bytes: &[u8]) -> String {
    read(bytes).expect_err("the file is bad").to_string()
}

fn geotiff(heights: &Grid) -> Vec<u8> {
    let extent = Extent {
        width_m: 25.0 * heights.cols() as f64,
        depth_m: 25.0 * heights.rows() as f64,
    };
    let mut out = Cursor::new(Vec::new());
    write_geotiff(
        &mut out,
        heights,
        &Frame::covering(extent, 25.0),
        None,
        TiffLayout::default(),
    )
    .expect("fits");
    out.into_inner()
}

proptest! {
    #[test]
    fn a_geotiff_comes_back_bit_for_bit(
        (cols, rows) in (2..40_usize, 2..40_usize),
        values in prop::collection::vec(-9000.0..9000.0_f32, 1600),
    ) {
        let heights = Grid::from_vec(cols, rows, values[..cols * rows].to_vec()).expect("fits");
        let back = read(&geotiff(&heights)).expect("our own file");
        prop_assert_eq!(back.values, heights);
        prop_assert_eq!(back.cell_m, Some((25.0, 25.0)));
    }

    #[test]
    fn sixteen_bit_pictures_keep_their_values(values in prop::collection::vec(any::<u16>(), 12)) {
        let steps = Grid::from_vec(4, 3, values).expect("twelve");
        let mut png = Vec::new();
        write_grey16(&mut png, &steps).expect("fits");
        let back = read(&png).expect("our own file");
        prop_assert_eq!(back.units, Units::Steps { white: 65_535 });
        prop_assert_eq!(back.values, steps.map(f32::from));
    }

    #[test]
    fn a_file_cut_short_or_garbled_never_panics(cut in 0..3000_usize, flip in 0..3000_usize) {
        let whole = geotiff(&Grid::filled(20, 20, 5.0));
        let mut bytes = whole[..cut.min(whole.len())].to_vec();
        if let Some(byte) = bytes.get_mut(flip) {
            *byte ^= 0x55;
        }
        // Whatever it says, it says it without a panic.
        let _ = read(&bytes);
    }
}

#[test]
fn the_real_elevation_model_is_read_as_it_is() {
    let dem = read(include_bytes!("data/jacksboro.tif")).expect("a sound file");
    assert_eq!((dem.values.cols(), dem.values.rows()), (403, 344));
    assert_eq!(dem.values.range(), (236.0, 1076.0));
    // 3 arc seconds at 36.6° north: 74 m by 93 m.
    let (x, y) = dem.cell_m.expect("it says");
    assert!(
        (x - 74.35).abs() < 0.2 && (y - 92.6).abs() < 0.2,
        "{x} by {y}"
    );
}

#[test]
fn an_ascii_grid_is_read() {
    let text = "ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 12.5\nNODATA_value -9999\n\
                1 2 3\n4.5 -6 7e1\n";
    let grid = read(text.as_bytes()).expect("sound");
    assert_eq!(grid.values.values(), [1.0, 2.0, 3.0, 4.5, -6.0, 70.0]);
    assert_eq!(grid.cell_m, Some((12.5, 12.5)));
}

#[test]
fn bad_files_say_what_is_wrong_with_them() {
    let whole = geotiff(&Grid::filled(64, 64, 5.0));
    assert!(message(&whole[..whole.len() / 2]).contains("cut short"));
    assert!(message(b"%PDF-1.7").contains("expected GeoTIFF, OpenEXR, PNG or an ESRI ASCII grid"));

    let mut values = vec![7.0; 16];
    values[5] = f32::NAN;
    let gaps = geotiff(&Grid::from_vec(4, 4, values).expect("fits"));
    let nan = message(&gaps);
    assert!(
        nan.contains("1 of 16") && nan.contains("column 1, row 1"),
        "{nan}"
    );

    let no_data = "ncols 2\nnrows 2\ncellsize 1\nNODATA_value -9999\n1 2 3 -9999\n";
    assert!(message(no_data.as_bytes()).contains("1 cells have no data (value -9999)"));
    let short = "ncols 2\nnrows 2\ncellsize 1\n1 2 3\n";
    assert!(message(short.as_bytes()).contains("needs 4 values, got 3"));
    let word = "ncols 2\nnrows 2\ncellsize 1\n1 2 x 4\n";
    assert!(message(word.as_bytes()).contains("‘x’ is not a number"));
}

/// Headers that promise far more than is there must be refused before memory
/// is taken for them.
#[test]
fn huge_dimensions_are_refused_at_the_door() {
    let ascii = "ncols 4000000000\nnrows 4000000000\ncellsize 1\n1 2\n";
    assert!(message(ascii.as_bytes()).contains("at most 67108864 cells"));

    let mut png = Vec::new();
    write_grey16(&mut png, &Grid::filled(2, 2, 1_u16)).expect("fits");
    png[16..24].copy_from_slice(&[0x00, 0x10, 0, 0, 0x00, 0x10, 0, 0]);
    // The checksum of the header is wrong now, or else the size is too large.
    assert!(read(&png).is_err());

    let mut tiff = geotiff(&Grid::filled(8, 8, 1.0));
    let tag = |bytes: &[u8], id: u16| {
        bytes
            .windows(2)
            .rposition(|pair| pair == id.to_le_bytes())
            .expect("the tag")
    };
    // ImageWidth (256) and ImageLength (257), as LONG.
    for id in [256, 257] {
        let at = tag(&tiff, id);
        tiff[at + 8..at + 12].copy_from_slice(&1_000_000_u32.to_le_bytes());
    }
    // The one strip that is there does not fit such a size.
    assert!(message(&tiff).contains("GeoTIFF file is damaged"));

    let small = geotiff(&Grid::filled(8, 8, 1.0));
    let refused = read_heightfield(&small, Limits { cells: 63 });
    assert!(matches!(
        refused,
        Err(ReadError::TooLarge {
            cols: 8,
            rows: 8,
            limit: 63
        })
    ));
}

#[test]
fn colour_pictures_are_not_taken_for_heights() {
    let mut png = Vec::new();
    formats::write_rgb8(&mut png, &Grid::filled(4, 4, [1, 2, 3])).expect("fits");
    let said = message(&png);
    assert!(
        said.contains("Rgb") && said.contains("grey values of 8 or 16 bits"),
        "{said}"
    );
}

/// A picture that is written row by row, however many rows at a time, is the one that is
/// written at once.
#[test]
fn pictures_row_by_row_are_pictures_at_once() {
    let (cols, rows) = (37, 23);
    for kind in [
        PixelKind::Grey8,
        PixelKind::Grey16,
        PixelKind::Rgb8,
        PixelKind::Rgba8,
    ] {
        let wide = cols * kind.bytes();
        let bytes: Vec<u8> = (0..wide * rows).map(|i| (i * 31 % 251) as u8).collect();
        let written = |at_once: usize| {
            let file = tempfile();
            let mut picture = PngRows::begin(file.clone(), kind, cols, rows).expect("begins");
            for part in bytes.chunks(at_once * wide) {
                picture.push(part).expect("takes rows");
            }
            picture.finish().expect("ends");
            let bytes = file.0.lock().expect("no panic").clone();
            read_picture(&bytes, Limits::default()).expect("a picture")
        };
        let whole = written(rows);
        assert_eq!(
            whole.channels.len(),
            if kind == PixelKind::Grey16 {
                1
            } else {
                kind.bytes()
            }
        );
        for at_once in [1, 4, 7] {
            assert_eq!(
                written(at_once),
                whole,
                "{kind:?}, {at_once} rows at a time"
            );
        }
        let first = match kind {
            PixelKind::Grey16 => f32::from(u16::from_be_bytes([bytes[0], bytes[1]])),
            _ => f32::from(bytes[0]),
        };
        assert_eq!(whole.channels[0].at(0, 0), first);
    }
}

/// A file in memory that can be looked at after it was given away.
#[derive(Clone, Default)]
struct Kept(std::sync::Arc<std::sync::Mutex<Vec<u8>>>);

impl std::io::Write for Kept {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0.lock().expect("no panic").write(bytes)
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

fn tempfile() -> Kept {
    Kept::default()
}

proptest! {
    /// An ASCII grid says where it stands in any order and any case, and its numbers may be
    /// laid out in any lines (Esri, "ESRI ASCII raster format").
    #[test]
    fn ascii_grids_are_read_however_they_are_laid_out(
        values in prop::collection::vec(-500.0..4000.0_f32, 20),
        per_line in 1..20_usize,
        upper in any::<bool>(),
        cell_m in 0.5..100.0_f64,
    ) {
        let mut head = format!("ncols 5\nnrows 4\nxllcorner 0\nyllcorner 10\ncellsize {cell_m}\n");
        if upper {
            head = head.to_uppercase();
        }
        let lines: Vec<String> = values
            .chunks(per_line)
            .map(|line| line.iter().map(f32::to_string).collect::<Vec<_>>().join(" "))
            .collect();
        let file = format!("{head}{}\n", lines.join("\n"));
        let back = read(file.as_bytes()).expect("a grid");
        prop_assert_eq!(back.values.values(), &values[..]);
        prop_assert_eq!((back.values.cols(), back.values.rows()), (5, 4));
        prop_assert_eq!(back.cell_m, Some((cell_m, cell_m)));
    }
}

/// The test's real elevation model, whose coordinates are degrees.
const DEM: &[u8] = include_bytes!("data/jacksboro.tif");

/// Where a model lies on earth is read, and written again: the same file is read from what is
/// written, in whole and of a window.
#[test]
fn a_place_on_earth_survives() {
    let model = read(DEM).expect("a model");
    let place = model.georeference.expect("it says where it lies");
    assert!(place.name().contains("EPSG:4326"), "{}", place.name());
    let (cols, rows) = (model.values.cols(), model.values.rows());
    let extent = Extent {
        width_m: 30.0 * cols as f64,
        depth_m: 30.0 * rows as f64,
    };
    let frame = Frame::covering(extent, 30.0);
    let written = |values: &Grid, frame: &Frame| {
        let mut out = Cursor::new(Vec::new());
        write_geotiff(
            &mut out,
            values,
            frame,
            Some((&place, extent)),
            TiffLayout::default(),
        )
        .expect("fits");
        read(&out.into_inner()).expect("our own file")
    };
    let near = |a: f64, b: f64| assert!((a - b).abs() < 1e-9, "{a} and {b}");
    let back = written(&model.values, &frame)
        .georeference
        .expect("a place");
    for (a, b) in [
        (back.west, place.west),
        (back.south, place.south),
        (back.east, place.east),
        (back.north, place.north),
    ] {
        near(a, b);
    }
    assert_eq!(
        (&back.directory, &back.doubles, &back.ascii),
        (&place.directory, &place.doubles, &place.ascii)
    );
    // The south-eastern quarter of it lies in the south-eastern quarter.
    let (col, row) = (cols / 2, rows / 2);
    let quarter = model.values.cropped(col, row, cols - col, rows - row);
    let window = frame.window(col, row, cols - col, rows - row);
    let part = written(&quarter, &window).georeference.expect("a place");
    near(part.east, place.east);
    near(part.south, place.south);
    near(
        part.west,
        place.west + (place.east - place.west) * col as f64 / cols as f64,
    );
    // Coordinates of a land's own are none of the earth.
    assert_eq!(
        read(&geotiff(&quarter)).expect("our own file").georeference,
        None
    );
}

/// Colours are heights by one channel, whatever the format; what is no picture is refused as
/// before.
#[test]
fn pictures_in_colour_are_read_as_heights() {
    let colours = Grid::by_rows(9, 5, |r, row| {
        for (c, colour) in row.iter_mut().enumerate() {
            *colour = [(20 * c) as u8, 7, (40 * r) as u8];
        }
    });
    let mut png = Vec::new();
    formats::write_rgb8(&mut png, &colours).expect("fits");
    let heights = formats::read_heights(&png, Limits::default()).expect("a picture");
    assert_eq!((heights.channels.len(), heights.format), (3, "PNG"));
    assert_eq!(heights.channels[2].at(3, 4), 160.0);
    assert_eq!(heights.units, Units::Steps { white: 255 });
    let model = formats::read_heights(DEM, Limits::default()).expect("a model");
    assert_eq!(model.channels.len(), 1);
    let refused = formats::read_heights(b"%PDF-1.7", Limits::default());
    assert!(matches!(refused, Err(ReadError::UnknownFormat)));
}
