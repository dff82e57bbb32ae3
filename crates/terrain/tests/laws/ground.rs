//! Weights sum to one, in numbers and in bytes.

use proptest::prelude::*;
use terrain::Grid;
use terrain::ground::{Blend, Colour, Laying, Material, MaterialKind, Spot, Weights, height_blend};

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
            let fine = weights.in_steps(u16::MAX);
            let sum: u32 = fine.iter().map(|b| u32::from(b.values()[cell])).sum();
            prop_assert_eq!(sum, 65_535);
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
    let [black, white] = [[0; 3], [255; 3]].map(Colour::from_srgb8);
    // Half of the light of white is sRGB 188 (IEC 61966-2-1), not 128.
    assert_eq!(Blend::Normal.over(black, white, 0.5).to_srgb8(), [188; 3]);
}

/// W3C Compositing and Blending Level 1, section 9.1, by its formulas, at
/// values computed by hand from them.
#[test]
fn blend_modes_are_those_of_the_standard() {
    for (blend, backdrop, source, expected) in [
        (Blend::Normal, 0.3, 0.7, 0.7),
        (Blend::Multiply, 0.5, 0.6, 0.3),
        (Blend::Screen, 0.5, 0.6, 0.8),
        // Hard light of (0.6, 0.25): 0.6 · 2 · 0.25; of (0.6, 0.75): screen of 0.6 and 0.5.
        (Blend::Overlay, 0.25, 0.6, 0.3),
        (Blend::Overlay, 0.75, 0.6, 0.8),
        // 0.5 − (1 − 0.5)·0.5·0.5, and 0.64 + 0.5·(√0.64 − 0.64).
        (Blend::SoftLight, 0.5, 0.25, 0.375),
        (Blend::SoftLight, 0.64, 0.75, 0.72),
        // Below a quarter: D = ((16·0.2 − 12)·0.2 + 4)·0.2 = 0.448.
        (Blend::SoftLight, 0.2, 1.0, 0.448),
    ] {
        let got = blend.channel(backdrop, source);
        assert!(
            (got - expected).abs() < 1e-5,
            "{blend:?}: {got}, expected {expected}"
        );
    }
}

/// Every material tiles: across an edge it changes no more than inside.
#[test]
fn materials_have_no_seams() {
    for kind in MaterialKind::ALL {
        let material = Material::grown(kind, 256);
        let texels = material.texels();
        let step = |a: terrain::ground::Texel, b: terrain::ground::Texel| {
            f64::from(
                (a.height - b.height).abs() + (a.colour.luminance() - b.colour.luminance()).abs(),
            )
        };
        let mean = |of: &dyn Fn(usize) -> f64| (0..256).map(of).sum::<f64>() / 256.0;
        for along in [true, false] {
            let at = |i: usize, j: usize| match along {
                true => texels.at(i % 256, j),
                false => texels.at(j, i % 256),
            };
            let seam = mean(&|j| step(at(255, j), at(256, j)));
            let inside = (1..9).map(|k| mean(&|j| step(at(28 * k, j), at(28 * k + 1, j))));
            let most = inside.fold(0.0, f64::max);
            assert!(
                seam <= 1.35 * most + 1e-4,
                "{}: {seam} at the seam, {most} inside",
                kind.name()
            );
        }
    }
}

#[test]
fn materials_are_the_same_every_time_and_use_their_range() {
    for kind in MaterialKind::ALL {
        let material = Material::grown(kind, 128);
        assert!(material == Material::grown(kind, 128), "{}", kind.name());
        let heights = material.texels().map(|texel| texel.height);
        let (low, high) = heights.range();
        assert!(
            high - low > 0.25,
            "{}: heights {low} to {high}",
            kind.name()
        );
        for texel in material.texels().values() {
            let Colour { r, g, b } = texel.colour;
            assert!(
                [r, g, b, texel.roughness]
                    .iter()
                    .all(|v| (0.0..=1.0).contains(v))
            );
        }
    }
}

/// From afar a laid material is its mean, near by it has all of its contrast,
/// and breaking it up keeps both the mean and the variance.
#[test]
fn breaking_up_keeps_mean_and_variance() {
    let material = Material::grown(MaterialKind::Scree, 256);
    let laying = |broken_up| Laying {
        size_m: 10.0,
        turn_rad: 0.3,
        broken_up,
        from_the_side: true,
    };
    let moments = |broken_up| {
        let spots = (0..120).flat_map(|r| (0..120).map(move |c| (c, r)));
        let heights: Vec<f64> = spots
            .map(|(c, r)| {
                let place_m = [f64::from(c) * 0.53, f64::from(r) * 0.47, 0.0];
                let spot = Spot {
                    place_m,
                    gradient: [0.0, 0.0],
                };
                f64::from(material.laid(laying(broken_up), 0.05).at(spot).height)
            })
            .collect();
        let mean = heights.iter().sum::<f64>() / heights.len() as f64;
        let variance =
            heights.iter().map(|h| (h - mean).powi(2)).sum::<f64>() / heights.len() as f64;
        (mean, variance.sqrt())
    };
    let ((mean, spread), (broken_mean, broken_spread)) = (moments(false), moments(true));
    assert!((mean - broken_mean).abs() < 0.02, "{mean}, {broken_mean}");
    assert!(
        (broken_spread / spread - 1.0).abs() < 0.1,
        "{spread}, {broken_spread}"
    );
    let far = Spot {
        place_m: [3.0, 4.0, 0.0],
        gradient: [0.0, 0.0],
    };
    let laid = material.laid(laying(true), 25.0);
    assert_eq!(laid.at(far), material.mean());
    assert_eq!(laid.everywhere(), Some(material.mean()));
}

proptest! {
    /// The higher texture pokes through, and sure places stay sure.
    #[test]
    fn height_blending_is_fair(
        mask in 0.0..=1.0_f32, above in 0.0..=1.0_f32, below in 0.0..=1.0_f32,
        width in 0.05..1.0_f32,
    ) {
        let shown = height_blend(mask, above, below, width);
        prop_assert!((0.0..=1.0).contains(&shown));
        prop_assert_eq!(height_blend(0.0, above, below, width), 0.0);
        prop_assert_eq!(height_blend(1.0, above, below, width), 1.0);
        prop_assert_eq!(height_blend(mask, above, below, 0.0), mask);
        prop_assert!(height_blend(mask, above.max(below), below, width) + 1e-5 >= height_blend(mask, below.min(above), below, width));
    }
}
