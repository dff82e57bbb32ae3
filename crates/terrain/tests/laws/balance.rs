//! Rivers and uplift in balance: the slopes, profiles and basins of theory.

use terrain::erosion::{AgeLaw, Aging, Beds, FlowDirections, Ground, Outlets, Side, geomorphology};
use terrain::{Extent, Frame, Grid, Run};

use crate::support::{frame, hills};

const RUN: Run = Run::to_the_end();
/// Nothing is laid down, nothing creeps, and there is no sea.
const LAW: AgeLaw = AgeLaw {
    erodibility: 2e-5,
    area_exponent: 0.5,
    slope_exponent: 1.0,
    debris_m2: 0.0,
    directions: FlowDirections::Steepest,
    deposition: 0.0,
    floors_m: 0.0,
    fill_m: 0.0,
    terraces: 0.0,
    sea_takes: 0.0,
    diffusivity: 0.0,
    sea_level_m: -1e4,
};
/// Slopes that nothing brings down.
const ANY: f32 = 1e6;

fn even(frame: &Frame, value: f32) -> Grid {
    Grid::filled(frame.cols, frame.rows, value)
}

/// Land that rises by `uplift` until nothing changes any more.
fn in_balance(start: Grid, frame: &Frame, law: AgeLaw, uplift: f32, steps: usize) -> Aging {
    let [rises, gives, stands] = [uplift, 1.0, ANY].map(|value| even(frame, value));
    let ground = Ground {
        uplift: &rises,
        erodibility: &gives,
        critical_slope: &stands,
    };
    let outlets = Outlets::low_border(&start, law.sea_level_m, Side::Anywhere);
    let mut aging = Aging::on(start, frame, outlets);
    for _ in 0..steps {
        aging.step(ground, law, 20_000.0, RUN).expect("runs");
    }
    aging
}

/// In balance, S = (U/K)^(1/n) · A^(−m/n) at every node (Whipple and Tucker 1999), with
/// the slope along the way to the next: the fitted exponent and factor within two per
/// cent.
#[test]
fn a_river_network_in_balance_has_the_slopes_of_theory() {
    for (m, n) in [(0.5, 1.0), (0.4, 1.0), (0.6, 1.3)] {
        let frame = frame(96);
        let uplift = 1e-3_f32;
        let law = AgeLaw {
            area_exponent: m,
            slope_exponent: n,
            ..LAW
        };
        let aging = in_balance(hills(&frame, 20.0, 5), &frame, law, uplift, 400);
        let (drainage, area) = aging.drainage.as_ref().expect("some steps");
        let cell_m2 = frame.cell_area_m2();
        let mut points = Vec::new();
        for (i, &receiver) in drainage.receivers.iter().enumerate() {
            let receiver = receiver as usize;
            if receiver == i {
                continue;
            }
            // Where nothing stands in a hollow, this is the height of the node.
            let heights = drainage.filled.values();
            let fall = f64::from(heights[i] - heights[receiver]);
            let slope = fall / aging.reach_m(i, receiver);
            points.push(((f64::from(area[i]) * cell_m2).ln(), slope.ln()));
        }
        let count = points.len() as f64;
        let (mx, my) = (
            points.iter().map(|p| p.0).sum::<f64>() / count,
            points.iter().map(|p| p.1).sum::<f64>() / count,
        );
        let exponent = points.iter().map(|p| (p.0 - mx) * (p.1 - my)).sum::<f64>()
            / points.iter().map(|p| (p.0 - mx).powi(2)).sum::<f64>();
        let factor = (my - exponent * mx).exp();
        let theory = (f64::from(uplift) / law.erodibility).powf(1.0 / n);
        assert!(
            (exponent / (-m / n) - 1.0).abs() < 0.02,
            "m {m}, n {n}: exponent {exponent}"
        );
        assert!(
            (factor / theory - 1.0).abs() < 0.02,
            "m {m}, n {n}: {factor}, theory {theory}"
        );
    }
}

/// A single river, one cell wide, with A = the cells above it: its profile in balance is
/// the sum of (U/K)·A^(−m) along its way.
#[test]
fn a_single_river_has_the_profile_of_theory() {
    const CELLS: usize = 120;
    let frame = Frame::with_cells(
        terrain::Extent {
            width_m: 100.0 * CELLS as f64,
            depth_m: 100.0,
        },
        CELLS,
    );
    let start = Grid::by_rows(CELLS, 1, |_, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = c as f32 * 0.01;
        }
    });
    let uplift = 5e-4_f32;
    let [rises, gives, stands] = [uplift, 1.0, ANY].map(|value| even(&frame, value));
    let ground = Ground {
        uplift: &rises,
        erodibility: &gives,
        critical_slope: &stands,
    };
    let mouth = (0..CELLS).map(|c| c == 0).collect();
    let mut aging = Aging::on(start, &frame, Outlets::at(mouth));
    for _ in 0..600 {
        aging.step(ground, LAW, 20_000.0, RUN).expect("runs");
    }
    let (drainage, _) = aging.drainage.as_ref().expect("some steps");
    let heights = drainage.filled.values();
    let mut expected = f64::from(heights[0]);
    for (c, &got) in heights.iter().enumerate().skip(1) {
        let area = (CELLS - c) as f64 * frame.cell_area_m2();
        let slope = f64::from(uplift) / LAW.erodibility * area.powf(-LAW.area_exponent);
        expected += aging.reach_m(c, c - 1) * slope;
        let got = f64::from(got);
        assert!(
            (got - expected).abs() < 0.02 * expected + 0.05,
            "cell {c}: {got}, theory {expected}"
        );
    }
}

/// Nature's laws on land that rivers have brought into balance: Hack (1957),
/// Horton (1945), Tucker and Whipple (2002), each in the range of its source.
#[test]
fn land_in_balance_obeys_the_laws_of_drainage_basins() {
    let frame = frame(256);
    let law = AgeLaw {
        area_exponent: 0.45,
        erodibility: 5e-6,
        ..LAW
    };
    let aging = in_balance(hills(&frame, 60.0, 11), &frame, law, 5e-4, 240);
    let found = geomorphology(&aging.heights, frame.cell_m, -1e4, RUN).expect("nobody cancels");
    let within = |value: Option<f64>, low: f64, high: f64| {
        value.is_some_and(|value| (low..=high).contains(&value))
    };
    assert!(within(found.hack, 0.45, 0.65), "{found:?}");
    assert!(within(found.bifurcation, 3.0, 5.0), "{found:?}");
    assert!(within(found.length, 1.5, 3.5), "{found:?}");
    assert!(within(found.concavity, 0.35, 0.65), "{found:?}");
    assert!((0.2..0.7).contains(&found.hypsometric), "{found:?}");
}

/// Water leaves over the side that was chosen, where it is low, and over the sea.
#[test]
fn water_leaves_where_it_is_told_to() {
    let cells = 40;
    // High in the west, below the sea at the south-east corner.
    let land = Grid::by_rows(cells, cells, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            let corner = r + 4 >= cells && c + 4 >= cells;
            *height = if corner { -5.0 } else { (cells - c) as f32 };
        }
    });
    let leaves = |side: Side| {
        let outlets = Outlets::low_border(&land, 0.0, side);
        move |c: usize, r: usize| outlets.cells()[r * cells + c]
    };
    let (any, north, sea) = (
        leaves(Side::Anywhere),
        leaves(Side::North),
        leaves(Side::Sea),
    );
    assert!(any(cells - 1, 10) && !any(0, 10));
    assert!(north(cells - 1, 0) && !north(0, 0) && !north(cells - 1, 10));
    assert!(sea(cells - 1, cells - 1) && !sea(cells - 1, 10));
    assert!(!any(10, 10), "never inside the land");
    let dry = Outlets::low_border(&land, -100.0, Side::Sea);
    assert!(dry.cells().contains(&true), "without a sea it leaves too");
}

/// Beds are soft below and hard above in turn, as thick as they should be on the whole,
/// and change without a jump.
#[test]
fn beds_lie_one_on_the_other() {
    let beds = Beds {
        thickness_m: 50.0,
        seed: 3,
    };
    let levels = (0..40_000).map(|k| k as f32 * 0.1 - 2000.0);
    let hard: Vec<f32> = levels.map(|level| beds.hard_at(level)).collect();
    assert!(hard.iter().all(|hard| (0.0..=1.0).contains(hard)));
    let jump = hard.windows(2).map(|pair| (pair[1] - pair[0]).abs());
    assert!(jump.fold(0.0, f32::max) < 0.05);
    let tops = hard
        .windows(2)
        .filter(|pair| pair[0] > 0.0 && pair[1] == 0.0);
    assert!(
        (78..=80).contains(&tops.count()),
        "one hard bed in each pair"
    );
    let share = hard.iter().filter(|hard| **hard > 0.25).count() as f64 / hard.len() as f64;
    assert!((0.25..0.5).contains(&share), "{share} of the rock is hard");
}

/// Above the heads of rivers debris flows cut: in balance S = (U/K) / (A₀ᵐ + Aᵐ) at every
/// node, which bends from the slope of rivers to one that no longer grows towards the
/// crest (the form of Stock and Dietrich 2003, equation 1).
#[test]
fn slopes_bend_where_debris_flows_begin() {
    let frame = frame(96);
    let uplift = 1e-3_f32;
    let debris_m2 = 20.0 * frame.cell_area_m2();
    let law = AgeLaw { debris_m2, ..LAW };
    let aging = in_balance(hills(&frame, 20.0, 5), &frame, law, uplift, 400);
    let (drainage, area) = aging.drainage.as_ref().expect("some steps");
    let heights = drainage.filled.values();
    let (mut near, mut count) = (0, 0);
    let (mut small, mut large) = (0.0_f64, 0.0_f64);
    for (i, &receiver) in drainage.receivers.iter().enumerate() {
        let receiver = receiver as usize;
        if receiver == i {
            continue;
        }
        let slope = f64::from(heights[i] - heights[receiver]) / aging.reach_m(i, receiver);
        let area_m2 = f64::from(area[i]) * frame.cell_area_m2();
        let expected = f64::from(uplift)
            / law.erodibility
            / (debris_m2.powf(law.area_exponent) + area_m2.powf(law.area_exponent));
        near += usize::from((slope / expected - 1.0).abs() < 0.05);
        count += 1;
        let side = if area[i] < 2.0 {
            &mut small
        } else {
            &mut large
        };
        *side = side.max(slope);
    }
    let share = f64::from(near as u32) / f64::from(count as u32);
    assert!(
        share > 0.9,
        "{share} of the nodes have the slope of the law"
    );
    // Rivers alone would be √20 times as steep at the crest as where debris flows end.
    let river = f64::from(uplift) / law.erodibility / frame.cell_m;
    assert!(small < 0.25 * river, "{small}, rivers alone have {river}");
    assert!(large > 0.0);
}

/// A hillslope in balance by non-linear creep: with q = D·S / (1 − (S/S꜀)²) and q = U·x from
/// the crest, S = S꜀·(√(1 + a²) − 1)/a with a = 2Ux/(D·S꜀) (Roering, Kirchner and Dietrich
/// 2001, equation 8): rounded at the crest, more and more in a straight line below.
#[test]
fn hillslopes_in_balance_are_those_of_nonlinear_creep() {
    let (cols, cell_m) = (43, 5.0);
    let extent = Extent {
        width_m: cols as f64 * cell_m,
        depth_m: 9.0 * cell_m,
    };
    let frame = Frame::covering(extent, cell_m);
    let (diffusivity, critical, uplift) = (0.01, 1.0_f32, 1.2e-4);
    let law = AgeLaw {
        erodibility: 0.0,
        diffusivity,
        ..LAW
    };
    let [rises, gives, stands] = [uplift as f32, 1.0, critical].map(|value| even(&frame, value));
    let ground = Ground {
        uplift: &rises,
        erodibility: &gives,
        critical_slope: &stands,
    };
    let start = Grid::filled(frame.cols, frame.rows, 0.0);
    let edges = (0..frame.cells()).map(|i| [0, cols - 1].contains(&(i % cols)));
    let mut aging = Aging::on(start, &frame, Outlets::at(edges.collect()));
    for _ in 0..6000 {
        aging.step(ground, law, 900.0, RUN).expect("runs");
    }
    let row = aging.heights.row(4);
    let middle = (cols - 1) as f64 / 2.0;
    for c in 23..36 {
        let x = (c as f64 + 0.5 - middle) * cell_m;
        let slope = f64::from(row[c] - row[c + 1]) / cell_m;
        let a = 2.0 * uplift * x / (diffusivity * f64::from(critical));
        let expected = f64::from(critical) * ((1.0 + a * a).sqrt() - 1.0) / a;
        // Creep no more than two and a half times as fast is told apart; and of the two
        // cells at the corners the slope seen is that of the way to them.
        if expected > 0.75 * f64::from(critical) {
            continue;
        }
        assert!(
            (slope / expected - 1.0).abs() < 0.05,
            "slope {slope} at {x} m from the crest, expected {expected}"
        );
    }
}

/// A drawn course takes the water of all sides but the sea's; where neither is, it leaves
/// over the low parts of the border as ever.
#[test]
fn a_drawn_course_is_where_water_leaves() {
    let frame = frame(64);
    let land = hills(&frame, 500.0, 3);
    let cells = frame.cells();
    let course: Vec<bool> = (0..cells).map(|i| i / frame.cols == 30).collect();
    let into = |sea_level_m, course: Vec<bool>| Outlets::into(&land, sea_level_m, course);
    assert_eq!(into(-1e4, course.clone()).cells(), &course[..]);
    let low = land.range().0 + 0.3 * (land.range().1 - land.range().0);
    let with_sea = into(f64::from(low), course.clone());
    for (i, &leaves) in with_sea.cells().iter().enumerate() {
        let (c, r) = (i % frame.cols, i / frame.cols);
        let border = c == 0 || c + 1 == frame.cols || r == 0 || r + 1 == frame.rows;
        let sea = border && land.values()[i] < low;
        assert_eq!(leaves, course[i] || sea, "column {c}, row {r}");
    }
    let nowhere = into(-1e4, vec![false; cells]);
    let border = Outlets::low_border(&land, -1e4, Side::Anywhere);
    assert_eq!(nowhere.cells(), border.cells());
    // All that drains at all ends in the course.
    let [rises, gives, stands] = [1e-3, 1.0, ANY].map(|value| even(&frame, value));
    let ground = Ground {
        uplift: &rises,
        erodibility: &gives,
        critical_slope: &stands,
    };
    let mut aging = Aging::on(land.clone(), &frame, into(-1e4, course));
    for _ in 0..20 {
        aging.step(ground, LAW, 20_000.0, RUN).expect("runs");
    }
    let (drainage, area) = aging.drainage.as_ref().expect("some steps");
    let ends = (0..cells).filter(|&i| drainage.receivers[i] as usize == i);
    let drained: f32 = ends
        .inspect(|&i| assert_eq!(i / frame.cols, 30))
        .map(|i| area[i])
        .sum();
    assert_eq!(drained as usize, cells);
}
