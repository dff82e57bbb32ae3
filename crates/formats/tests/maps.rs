//! Maps out and in again: every format brings back what it was given, at the precision that
//! it has, and damaged files are refused without a panic.

use std::io::Cursor;

use formats::model::{Laid, Model, write_glb, write_obj, write_ply, write_stl};
use formats::{
    Band, ExrFloats, Limits, ReadError, TiffLayout, TiffRows, Units, raw16_as_png,
    read_heightfield, read_heights, read_picture, read_raw16, write_ascii_grid, write_exr,
    write_exr_colour, write_geotiff, write_geotiff_bands, write_grey16, write_raw16,
};
use half::f16;
use proptest::prelude::*;
use terrain::ground::Colour;
use terrain::mesh::Mesh;
use terrain::{Extent, Frame, Grid};

const CELL_M: f64 = 12.5;

fn made<T: Copy + Default + Send + Sync>(
    cols: usize,
    rows: usize,
    of: impl Fn(usize, usize) -> T + Sync,
) -> Grid<T> {
    Grid::by_rows(cols, rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = of(c, r);
        }
    })
}

fn frame(grid: &Grid) -> Frame {
    let extent = Extent {
        width_m: CELL_M * grid.cols() as f64,
        depth_m: CELL_M * grid.rows() as f64,
    };
    Frame::covering(extent, CELL_M)
}

fn layouts() -> impl Iterator<Item = TiffLayout> {
    (0..8).map(|bits| TiffLayout {
        packed: bits & 1 != 0,
        tiled: bits & 2 != 0,
        big: bits & 4 != 0,
    })
}

fn tiff(grid: &Grid, layout: TiffLayout) -> Vec<u8> {
    let mut out = Cursor::new(Vec::new());
    write_geotiff(&mut out, grid, &frame(grid), None, layout).expect("fits");
    out.into_inner()
}

fn exr(grid: &Grid, floats: ExrFloats) -> Vec<u8> {
    let mut out = Cursor::new(Vec::new());
    write_exr(&mut out, grid, CELL_M, floats).expect("fits");
    out.into_inner()
}

fn ascii(grid: &Grid) -> Vec<u8> {
    let mut out = Vec::new();
    write_ascii_grid(&mut out, grid, &frame(grid)).expect("fits");
    out
}

fn grids() -> impl Strategy<Value = Grid> {
    // Across the border of a tile now and then.
    (2..40_usize, prop_oneof![2..40_usize, 250..270_usize]).prop_flat_map(|(rows, cols)| {
        prop::collection::vec(-9000.0..9000.0_f32, rows * cols)
            .prop_map(move |values| Grid::from_vec(cols, rows, values).expect("fits"))
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn geotiffs_of_every_layout_come_back_bit_for_bit(grid in grids()) {
        for layout in layouts() {
            let back = read_heightfield(&tiff(&grid, layout), Limits::default());
            let back = back.expect("our own file");
            prop_assert_eq!(&back.values, &grid, "{:?}", layout);
            prop_assert_eq!(back.cell_m, Some((CELL_M, CELL_M)));
        }
    }

    #[test]
    fn floats_come_back_as_they_are_and_halves_rounded(grid in grids()) {
        let whole = read_heightfield(&exr(&grid, ExrFloats::Whole), Limits::default());
        let whole = whole.expect("our own file");
        prop_assert_eq!(&whole.values, &grid);
        prop_assert_eq!(whole.cell_m, Some((CELL_M, CELL_M)));
        let half = read_heightfield(&exr(&grid, ExrFloats::Half), Limits::default());
        let rounded = grid.map(|value| f16::from_f32(value).to_f32());
        prop_assert_eq!(half.expect("our own file").values, rounded);
    }

    #[test]
    fn text_brings_the_very_values_back(grid in grids()) {
        let back = read_heightfield(&ascii(&grid), Limits::default()).expect("our own file");
        prop_assert_eq!(back.values, grid);
        prop_assert_eq!(back.cell_m, Some((CELL_M, CELL_M)));
    }

    #[test]
    fn raw_steps_come_back(
        (cols, rows) in (2..30_usize, 2..30_usize),
        steps in prop::collection::vec(any::<u16>(), 900),
    ) {
        let steps = Grid::from_vec(cols, rows, steps[..cols * rows].to_vec()).expect("fits");
        let mut bytes = Vec::new();
        write_raw16(&mut bytes, &steps).expect("fits");
        prop_assert_eq!(&bytes[..2], &steps.at(0, 0).to_le_bytes());
        let back = read_raw16(&bytes, (cols, rows), Limits::default()).expect("our own file");
        prop_assert_eq!(&back.values, &steps.map(f32::from));
        let refused = read_raw16(&bytes, (cols + 1, rows), Limits::default());
        prop_assert!(refused.expect_err("another size").to_string().contains("bytes"));
        let png = raw16_as_png(&bytes, Some(cols), Limits::default()).expect("whole rows");
        let as_png = read_heightfield(&png, Limits::default()).expect("a PNG");
        prop_assert_eq!((as_png.values, as_png.units), (back.values, Units::Steps { white: 65_535 }));
        // Without a word on their rows they are a square, or refused.
        let square = raw16_as_png(&bytes, None, Limits::default());
        prop_assert_eq!(square.is_ok(), (cols * rows).isqrt().pow(2) == cols * rows);
        for wrong in [0, cols * rows + 1, usize::MAX] {
            let refused = raw16_as_png(&bytes, Some(wrong), Limits::default());
            prop_assert!(refused.expect_err("no rows").to_string().contains("in a row"));
        }
    }
}

/// A map of each format, none of them a kilobyte long.
fn small_maps() -> Vec<Vec<u8>> {
    let grid = made(9, 7, |c, r| (c * r) as f32 - 3.5);
    let mut png = Vec::new();
    write_grey16(&mut png, &grid.map(|v| (v + 10.0) as u16)).expect("fits");
    let mut maps: Vec<_> = layouts()
        .filter(|layout| !layout.tiled || layout.packed)
        .map(|layout| tiff(&grid, layout))
        .collect();
    maps.extend([
        png,
        ascii(&grid),
        exr(&grid, ExrFloats::Half),
        exr(&grid, ExrFloats::Whole),
    ]);
    maps
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(500))]

    /// Bytes changed, cut, doubled: what comes is a map of a size that is allowed, or a
    /// refusal in words.
    #[test]
    fn mutated_maps_are_refused_well(
        which in 0..64_usize,
        hits in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12),
        cut in prop::option::of(any::<prop::sample::Index>()),
    ) {
        let limits = Limits { cells: 10_000 };
        let maps = small_maps();
        let mut bytes = maps[which % maps.len()].clone();
        for (at, value) in &hits {
            let at = at.index(bytes.len());
            bytes[at] = *value;
        }
        if let Some(cut) = cut {
            bytes.truncate(cut.index(bytes.len()));
        }
        match read_heights(&bytes, limits) {
            Ok(heights) => {
                for channel in heights.channels {
                    prop_assert!(channel.values().len() <= 10_000);
                    prop_assert!(channel.check_finite().is_ok());
                }
            }
            Err(refused) => prop_assert!(!refused.to_string().is_empty()),
        }
        if let Ok(Some(rows)) = in_rows(&bytes, limits) {
            prop_assert!(rows.len() <= 10_000 && rows.iter().all(|value| value.is_finite()));
        }
    }
}

#[test]
fn colour_is_kept_in_linear_light() {
    let colours = made(5, 4, |c, r| Colour {
        r: 0.25 * c as f32,
        g: 0.125 * r as f32,
        // Beyond white, as light may be.
        b: 3.0,
    });
    let mut out = Cursor::new(Vec::new());
    write_exr_colour(&mut out, &colours, CELL_M, ExrFloats::Half).expect("fits");
    let bytes = out.into_inner();
    let picture = read_picture(&bytes, Limits::default()).expect("our own file");
    let [r, g, b] = picture.channels.as_slice() else {
        panic!("{} channels", picture.channels.len());
    };
    assert_eq!(
        (r.at(4, 0), g.at(0, 3), b.at(2, 2)),
        (1.0, 0.375, 3.0),
        "these numbers have few digits: halves hold them"
    );
    let refused = read_heightfield(&bytes, Limits::default()).expect_err("a picture");
    assert!(refused.to_string().contains("B, G, R"), "{refused}");
}

#[test]
fn numbers_that_are_none_are_refused_in_every_format_of_floats() {
    let mut grid = Grid::filled(4, 4, 1.0);
    grid.values_mut()[5] = f32::NAN;
    for bytes in [
        tiff(&grid, TiffLayout::default()),
        exr(&grid, ExrFloats::Whole),
        exr(&grid, ExrFloats::Half),
        ascii(&grid),
    ] {
        let refused = read_heightfield(&bytes, Limits::default()).expect_err("no number");
        assert!(matches!(refused, ReadError::NotFinite(_)), "{refused}");
    }
}

#[test]
fn files_larger_than_allowed_are_refused_before_they_are_decoded() {
    let grid = Grid::filled(40, 30, 1.0);
    for bytes in [
        tiff(&grid, TiffLayout::default()),
        exr(&grid, ExrFloats::Half),
        ascii(&grid),
    ] {
        let refused = read_heightfield(&bytes, Limits { cells: 1_000 }).expect_err("too large");
        assert!(
            matches!(refused, ReadError::TooLarge { cols: 40, .. }),
            "{refused}"
        );
    }
}

#[test]
fn smooth_land_is_packed_well() {
    let hill = made(512, 512, |c, r| {
        let (x, y) = (c as f32 / 40.0, r as f32 / 55.0);
        500.0 + 300.0 * x.sin() * y.cos()
    });
    let plain = tiff(&hill, TiffLayout::default()).len();
    let packed = tiff(
        &hill,
        TiffLayout {
            packed: true,
            ..TiffLayout::default()
        },
    );
    assert!(
        2 * packed.len() < plain + plain / 2,
        "{} of {plain} bytes",
        packed.len()
    );
}

/// All rows of a file, a few at a time.
fn in_rows(bytes: &[u8], limits: Limits) -> Result<Option<Vec<f32>>, ReadError> {
    let Some(mut rows) = TiffRows::open(Cursor::new(bytes.to_vec()), limits)? else {
        return Ok(None);
    };
    let mut all = Vec::new();
    while let Some((some, last)) = rows.next_rows()? {
        all.extend(some);
        assert_eq!(last, all.len() == rows.size().0 * rows.size().1);
    }
    Ok(Some(all))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// A file that is read in rows is the file; those in tiles are left to who reads the whole.
    #[test]
    fn rows_are_those_of_the_whole(grid in grids(), cut in any::<prop::sample::Index>()) {
        for layout in layouts() {
            let bytes = tiff(&grid, layout);
            let rows = in_rows(&bytes, Limits::default()).expect("our own file");
            prop_assert_eq!(rows.is_none(), layout.tiled);
            if let Some(rows) = rows {
                prop_assert_eq!(&rows[..], grid.values());
            }
            // Cut short, it ends with an error or before it begins, and never in a panic.
            let short = &bytes[..cut.index(bytes.len())];
            if let Ok(Some(rows)) = in_rows(short, Limits::default()) {
                prop_assert_eq!(&rows[..], grid.values());
            }
        }
    }

    /// What is written in bands is what is written at once.
    #[test]
    fn bands_are_the_whole(grid in grids(), height in 1..50_usize) {
        let frame = frame(&grid);
        let bands = grid.values().chunks(height * grid.cols());
        let bands: Vec<Band> = bands.map(|band| Band::Floats(band.to_vec())).collect();
        let mut out = Cursor::new(Vec::new());
        write_geotiff_bands(&mut out, &frame, None, bands.clone()).expect("fits");
        let back = read_heightfield(out.get_ref(), Limits::default()).expect("our own file");
        prop_assert_eq!(&back.values, &grid);
        prop_assert_eq!(back.cell_m, Some((CELL_M, CELL_M)));
        // Fewer rows than there are, and bytes among floats, are refused.
        let short = bands[1..].to_vec();
        let mixed = [bands.clone(), vec![Band::Bytes(vec![0; grid.cols()])]].concat();
        for wrong in [short, mixed] {
            let mut out = Cursor::new(Vec::new());
            prop_assert!(write_geotiff_bands(&mut out, &frame, None, wrong).is_err());
        }
    }
}

#[test]
fn rows_with_gaps_or_without_numbers_are_refused() {
    let mut grid = made(40, 30, |c, r| (c + r) as f32);
    grid.values_mut()[700] = f32::INFINITY;
    let refused =
        in_rows(&tiff(&grid, TiffLayout::default()), Limits::default()).expect_err("no number");
    assert!(matches!(refused, ReadError::NotFinite(_)), "{refused}");
}

/// A pyramid as each format of meshes has it.
fn meshes() -> Vec<Vec<u8>> {
    let mesh = Mesh {
        vertices: vec![
            [0.0, 0.0, 0.0],
            [10.0, 0.0, 0.0],
            [10.0, 10.0, 0.0],
            [0.0, 10.0, 0.0],
            [5.0, 5.0, 7.0],
        ],
        triangles: vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]],
        of_land: 4,
        land_vertices: 5,
        ..Mesh::default()
    };
    let model = Model {
        name: "Pyramid",
        mesh: &mesh,
        smooth: true,
        laid: Laid {
            west_north: [0.0, 10.0],
            reach: [10.0, 10.0],
        },
        textures: None,
    };
    let mut files = vec![Vec::new(); 4];
    write_glb(&mut files[0], &model).expect("fits");
    write_obj(&mut files[1], &model, "pyramid.mtl").expect("fits");
    write_ply(&mut files[2], &model).expect("fits");
    write_stl(&mut files[3], &model).expect("fits");
    files
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(500))]

    /// A mesh is no heightfield: whole or mutated, it is refused in words.
    #[test]
    fn mutated_meshes_are_refused_well(
        which in 0..4_usize,
        hits in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 0..12),
        cut in prop::option::of(any::<prop::sample::Index>()),
    ) {
        let mut bytes = meshes()[which].clone();
        for (at, value) in &hits {
            let at = at.index(bytes.len());
            bytes[at] = *value;
        }
        if let Some(cut) = cut {
            bytes.truncate(cut.index(bytes.len()));
        }
        let limits = Limits { cells: 10_000 };
        let refused = read_heights(&bytes, limits).expect_err("it is a mesh").to_string();
        prop_assert!(refused.contains("heightfield") || refused.contains("damaged"), "{}", refused);
        prop_assert!(read_picture(&bytes, limits).is_err());
    }
}
