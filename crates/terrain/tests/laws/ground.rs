//! Weights sum to one, in numbers and in bytes.

use proptest::prelude::*;
use terrain::Grid;
use terrain::ground::{Colour, Weights, albedo};

fn any_masks() -> impl Strategy<Value = Vec<Grid>> {
    let value = prop_oneof![Just(0.0_f32), Just(1.0), 0.0..=1.0_f32, -0.5..1.5_f32];
    (1..7_usize).prop_flat_map(move |layers| {
        let values = prop::collection::vec(value.clone(), 24);
        prop::collection::vec(
            values.prop_map(|v| Grid::from_vec(6, 4, v).expect("24 values")),
            layers,
        )
    })
}

proptest! {
    #[test]
    fn weights_sum_to_one(masks in any_masks()) {
        let weights = Weights::stacked(&masks);
        prop_assert_eq!(weights.check(), Ok(()));
        let shares: f64 = weights.shares().iter().sum();
        prop_assert!((shares - 1.0).abs() < 1e-6);
    }

    #[test]
    fn bytes_sum_to_255_and_are_near_the_weights(masks in any_masks()) {
        let weights = Weights::stacked(&masks);
        let bytes = weights.quantised();
        for cell in 0..24 {
            let sum: u32 = bytes.iter().map(|b| u32::from(b.values()[cell])).sum();
            prop_assert_eq!(sum, 255);
            for (byte, layer) in bytes.iter().zip(weights.layers()) {
                let exact = layer.values()[cell] * 255.0;
                prop_assert!((f32::from(byte.values()[cell]) - exact).abs() <= 1.001);
            }
        }
    }
}

#[test]
fn the_top_layer_covers_what_is_below() {
    let half = Grid::filled(1, 1, 0.5_f32);
    let weights = Weights::stacked(&[half.clone(), half.clone(), half]);
    let at: Vec<f32> = weights.layers().iter().map(|l| l.at(0, 0)).collect();
    assert_eq!(at, [0.25, 0.25, 0.5]);
    assert_eq!(weights.dominant().at(0, 0), 2);
}

#[test]
fn colours_mix_in_linear_light() {
    let half = Grid::filled(1, 1, 0.5_f32);
    let weights = Weights::stacked(&[half.clone(), half]);
    let colours = [Colour::from_srgb8([0; 3]), Colour::from_srgb8([255; 3])];
    let mixed = albedo(&weights, &colours, &[None, None]).at(0, 0);
    // Half of the light of white is sRGB 188 (IEC 61966-2-1), not 128.
    assert_eq!(mixed.to_srgb8(), [188; 3]);
}
