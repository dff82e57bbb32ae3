//! Pictures that hold a map in each channel: what each of them holds, in steps of eight bits.

use formats::Steps;
use recipe::grow::Ground;
use serde_json::{Value, json};
use terrain::{Grid, Run};

use crate::land_maps::LandMaps;
use crate::wish::Channel;
use crate::{DeliverError, Layer, ValueRange};

/// One picture that is to be written.
pub(crate) struct PackedMap {
    /// The name of its file, without ending.
    pub(crate) name: String,
    pub(crate) channels: Vec<PackedChannel>,
}

/// One of its channels.
pub(crate) struct PackedChannel {
    /// What it is called where the picture is described.
    of: Option<String>,
    from: Source,
    /// What black and white are.
    range: [f32; 2],
    unit: &'static str,
}

/// Where its values come from.
enum Source {
    Zero,
    /// Known of the whole land.
    Whole(Grid<u8>),
    /// Known once the ground of a strip is laid.
    Roughness,
    Displacement {
        range_m: f32,
    },
    Cover(usize),
}

/// The highest step.
const WHITE: f32 = 255.0;

impl PackedMap {
    /// All that are ordered; what is known of the whole land is worked out.
    pub(crate) fn all_of(maps: &LandMaps, run: Run) -> Result<Vec<Self>, DeliverError> {
        let packed = maps.order.packed.iter();
        let packed = packed.map(|(name, channels)| {
            let channels = channels.iter();
            let channels = channels.map(|channel| PackedChannel::of(channel, maps, run));
            Ok(Self {
                name: name.clone(),
                channels: channels.collect::<Result<_, DeliverError>>()?,
            })
        });
        packed.collect()
    }

    /// What stands beside it.
    pub(crate) fn described(&self, files: &Value) -> Value {
        let names = ["red", "green", "blue", "alpha"];
        let channels = names.iter().zip(&self.channels).map(|(name, channel)| {
            let [black, white] = channel.range;
            let said = json!({
                "holds": channel.of,
                "black": black,
                "white": white,
                "unit": channel.unit,
            });
            ((*name).to_owned(), said)
        });
        json!({
            "file": files,
            "channels": channels.collect::<serde_json::Map<_, _>>(),
            "note": "value = black + step / 255 * (white - black); linear, no gamma",
        })
    }

    /// The bytes of rows of it: `first` rows are before them, and `skip` rows in `ground`.
    pub(crate) fn bytes(
        &self,
        ground: &Ground,
        weights: &[Grid<u16>],
        (first, skip, rows): (usize, usize, usize),
    ) -> Vec<u8> {
        let cols = ground.roughness.cols();
        let count = self.channels.len();
        let mut out = vec![0; count * cols * rows];
        for (at, channel) in self.channels.iter().enumerate() {
            let mut fill = |value: &dyn Fn(usize, usize) -> u8| {
                for (r, row) in out.chunks_exact_mut(count * cols).enumerate() {
                    for (c, pixel) in row.chunks_exact_mut(count).enumerate() {
                        pixel[at] = value(c, r);
                    }
                }
            };
            match &channel.from {
                Source::Zero => {}
                Source::Whole(grid) => fill(&|c, r| grid.at(c, first + r)),
                Source::Roughness => fill(&|c, r| byte(ground.roughness.at(c, skip + r))),
                Source::Displacement { range_m } => {
                    fill(&|c, r| byte(ground.displacement.at(c, skip + r) / range_m + 0.5));
                }
                Source::Cover(cover) => fill(&|c, r| weights[*cover].at(c, skip + r) as u8),
            }
        }
        out
    }
}

impl PackedChannel {
    fn of(channel: &Channel, maps: &LandMaps, run: Run) -> Result<Self, DeliverError> {
        let share = |from, of: String| Self {
            of: Some(of),
            from,
            range: [0.0, 1.0],
            unit: "",
        };
        let layer = match channel {
            Channel::Zero => {
                return Ok(Self {
                    of: None,
                    from: Source::Zero,
                    range: [0.0; 2],
                    unit: "",
                });
            }
            Channel::Cover(cover) => {
                let mut on = maps.recipe.covers.iter().filter(|cover| cover.on);
                let name = &on.nth(*cover).expect("checked before").name;
                return Ok(share(Source::Cover(*cover), format!("cover:{name}")));
            }
            Channel::Of(layer) => layer,
        };
        let name = layer.name().into_owned();
        Ok(match layer {
            Layer::Roughness => share(Source::Roughness, name),
            Layer::Occlusion | Layer::Hillshade => share(Source::Whole(maps.grey(layer)), name),
            Layer::Mask(_) => {
                let mask = maps.field(layer, run)?;
                share(Source::Whole(mask.map(byte)), name)
            }
            Layer::Displacement => {
                let range_m = displacement_range_m(maps.recipe);
                Self {
                    of: Some(name),
                    from: Source::Displacement { range_m },
                    range: [-0.5 * range_m, 0.5 * range_m],
                    unit: layer.unit(),
                }
            }
            _ => {
                let values = maps.field(layer, run)?;
                // A unit a step would be too much for eight bits.
                let Steps { black, white } = match (layer, maps.order.range) {
                    (Layer::Height, ValueRange::Given { black, white }) => Steps { black, white },
                    _ => Steps::fitting(values.range()),
                };
                Self {
                    of: Some(name),
                    from: Source::Whole(values.map(|v| byte((v - black) / (white - black)))),
                    range: [black, white],
                    unit: layer.unit(),
                }
            }
        })
    }
}

fn byte(share: f32) -> u8 {
    (share.clamp(0.0, 1.0) * WHITE).round() as u8
}

/// The difference between white and black in maps of displacement, metres.
pub(crate) fn displacement_range_m(recipe: &recipe::Recipe) -> f32 {
    let covers = recipe.covers.iter().filter(|cover| cover.on);
    // As far as the material swings, so that no height is cut off.
    let most = covers.map(|cover| {
        let reach = match &cover.material {
            Some(_) => cover.texture.laying().height_reach(),
            None => 0.5,
        };
        2.0 * reach * cover.displacement_m
    });
    let most = most.fold(0.0, f32::max);
    if most > 0.0 { most } else { 1.0 }
}
