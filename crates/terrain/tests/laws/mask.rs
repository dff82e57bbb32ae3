//! Masks stay between 0 and 1 and mean what they say.

use proptest::prelude::*;
use terrain::mask::{Combine, Range};

const ALL: [Combine; 6] = [
    Combine::Multiply,
    Combine::Add,
    Combine::Subtract,
    Combine::Highest,
    Combine::Lowest,
    Combine::Screen,
];

proptest! {
    #[test]
    fn masks_stay_between_zero_and_one(a in 0.0..=1.0_f32, b in 0.0..=1.0_f32) {
        for combine in ALL {
            let value = combine.apply(a, b);
            prop_assert!((0.0..=1.0).contains(&value), "{:?} gives {}", combine, value);
        }
    }

    #[test]
    fn inverting_swaps_highest_and_lowest(a in 0.0..=1.0_f32, b in 0.0..=1.0_f32) {
        let not_highest = 1.0 - Combine::Highest.apply(a, b);
        prop_assert_eq!(not_highest, Combine::Lowest.apply(1.0 - a, 1.0 - b));
    }

    #[test]
    fn ends_rise_and_fall_without_turning(
        from in -100.0..100.0_f32, width in 0.0..100.0_f32,
        soft_from in 0.0..50.0_f32, soft_to in 0.0..50.0_f32,
    ) {
        let to = from + width;
        let range = Range { from: Some(from), to: Some(to), soft_from, soft_to };
        let steps = |a: f32, b: f32| (0..=50).map(move |i| a + (b - a) * i as f32 / 50.0);
        let rising: Vec<f32> = steps(from - 60.0, from).map(|v| range.at(v)).collect();
        let falling: Vec<f32> = steps(to, to + 60.0).map(|v| range.at(v)).collect();
        prop_assert!(rising.windows(2).all(|p| p[0] <= p[1]), "{:?}", rising);
        prop_assert!(falling.windows(2).all(|p| p[0] >= p[1]), "{:?}", falling);
        prop_assert_eq!(range.at(from + 0.5 * width), 1.0);
    }
}

#[test]
fn an_open_range_holds_everywhere() {
    let open = Range {
        from: None,
        to: None,
        soft_from: 1.0,
        soft_to: 1.0,
    };
    assert_eq!(open.at(-1e9), 1.0);
    let hard = Range {
        from: Some(5.0),
        to: None,
        soft_from: 0.0,
        soft_to: 0.0,
    };
    assert_eq!((hard.at(4.999), hard.at(5.0)), (0.0, 1.0));
    let soft = Range {
        from: Some(25.0),
        to: None,
        soft_from: 5.0,
        soft_to: 0.0,
    };
    assert_eq!(
        (soft.at(20.0), soft.at(22.5), soft.at(25.0)),
        (0.0, 0.5, 1.0)
    );
}
