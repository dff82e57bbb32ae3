//! Materials from imported maps, and what a renderer is given of them.

use terrain::Grid;
use terrain::ground::{Colour, GivenMaps, Material, MaterialKind};
use terrain::picture::normal_map;
use terrain::reading::slope_deg;

fn filled(side: usize, of: impl Fn(usize, usize) -> f32 + Sync) -> Grid {
    Grid::by_rows(side, side, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = of(c, r);
        }
    })
}

/// The maps of a material that ships make the same material again.
#[test]
fn a_material_comes_back_from_its_maps() {
    let material = Material::grown(MaterialKind::Gravel, 128);
    let albedo = material.albedo_map();
    let channel = |k: usize| filled(128, |c, r| f32::from(albedo.at(c, r)[k]) / 255.0);
    let share = |map: Grid<u8>| map.map(|v| f32::from(v) / 255.0);
    let normals = material.normal_map();
    let again = Material::given(GivenMaps {
        albedo: Some([channel(0), channel(1), channel(2)]),
        height: Some(share(material.height_map())),
        roughness: Some(share(material.roughness_map())),
        normal: Some([0, 1, 2].map(|k| filled(128, |c, r| f32::from(normals.at(c, r)[k]) / 255.0))),
        occlusion: Some(share(material.occlusion_map())),
    });
    assert_eq!(again.texels().cols(), 128);
    assert_eq!(again.albedo_map(), albedo);
    assert_eq!(again.height_map(), material.height_map());
    assert_eq!(again.roughness_map(), material.roughness_map());
    assert_eq!(again.normal_map(), normals);
    assert_eq!(again.occlusion_map(), material.occlusion_map());
}

/// Maps of other sizes are brought to a power of two without losing their mean.
#[test]
fn maps_of_any_size_keep_their_mean() {
    let grey = filled(100, |c, r| {
        if (c / 10 + r / 10) % 2 == 0 {
            0.25
        } else {
            0.75
        }
    });
    let material = Material::given(GivenMaps {
        height: Some(grey),
        ..GivenMaps::default()
    });
    assert_eq!(material.texels().cols(), 128);
    let mean = material.mean().height;
    assert!((mean - 0.5).abs() < 0.01, "got {mean}");
}

/// From afar, where a renderer sees the mean of the bytes, the grain leaves the
/// colour as it is; close up it brings back the material's own colours.
#[test]
fn grain_is_neutral_from_afar_and_true_close_up() {
    for kind in MaterialKind::ALL {
        let material = Material::grown(kind, 128);
        let detail = material.detail(128);
        for channel in 0..3 {
            let bytes = detail.grain.values().iter().map(|t| f64::from(t[channel]));
            let mean = bytes.sum::<f64>() / (128.0 * 128.0);
            assert!((mean - 127.5).abs() < 1.5, "{kind:?}: {mean}");
        }
        let mean = material.mean().colour;
        let (mut worst, mut clipped) = (0.0_f32, 0);
        for (texel, grain) in material.texels().values().iter().zip(detail.grain.values()) {
            if grain[1] == 255 {
                clipped += 1;
                continue;
            }
            let ratio = (2.0 * f32::from(grain[1]) / 255.0).powi(2);
            worst = worst.max((mean.g * ratio - texel.colour.g).abs());
        }
        // The bytes are centred on their own mean, which moves colours a little.
        assert!(worst < 0.12, "{kind:?}: off by {worst}");
        assert!(clipped < 128 * 128 / 50, "{kind:?}: {clipped} too bright");
    }
    let plain = Material::plain(
        Colour {
            r: 0.2,
            g: 0.3,
            b: 0.1,
        },
        0.5,
    )
    .detail(64);
    assert!(
        plain
            .grain
            .values()
            .iter()
            .all(|t| t[..3] == [128, 128, 128])
    );
}

/// A normal map says the same slope as the slope reading, to what eight bits
/// can tell: the tilt of (x, y, z) is acos z, x² + y² + z² = 1.
#[test]
fn a_normal_map_comes_back_as_slope() {
    let hills = filled(66, |c, r| {
        30.0 * (c as f32 * 0.2).sin() + 22.0 * (r as f32 * 0.17).cos()
    });
    let slope = slope_deg(&hills, 10.0);
    let normals = normal_map(&hills, 10.0);
    for r in 0..64 {
        for c in 0..64 {
            let [x, y, _] = normals.at(c, r).map(|v| f32::from(v) / 127.5 - 1.0);
            let tilt = x.hypot(y).min(1.0).asin().to_degrees();
            let wanted = slope.at(c, r);
            assert!(
                (tilt - wanted).abs() < 1.0,
                "{tilt}° for {wanted}° at {c}, {r}"
            );
        }
    }
}
