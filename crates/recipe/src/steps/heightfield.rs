//! An imported heightfield.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::grid::{Beyond, stretch};
use terrain::shape::{PlacedImage, Placement};

use super::pattern::check_named;
use super::{Kind, Needs, StepOutput, Unfit};
use crate::grow::{GrowError, Site};

/// Heights from an image or elevation model: over the whole land, or cropped,
/// placed and turned. Values are taken as they stand in the file, never
/// through a display gamma.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Heightfield {
    /// The imported file.
    #[schemars(length(max = 200), extend("x-editor" = "asset"))]
    pub asset: String,
    /// Which channel of a picture in colour: 0 red, 1 green, 2 blue.
    #[schemars(range(min = 0, max = 3), extend("x-slider" = [0, 3], "x-more" = true))]
    pub channel: u32,
    /// Metres for each unit in the file: 1 for elevation models in metres.
    #[schemars(range(min = -10_000, max = 10_000), extend("x-unit" = "m", "x-slider" = [0.0, 4.0]))]
    pub scale: f64,
    /// Raises or lowers all of it.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-1000.0, 1000.0]))]
    pub lift_m: f64,
    /// Put the file's lowest value at zero first.
    pub on_the_floor: bool,
    /// Over the whole land, or in a place of its own.
    pub fit: HeightfieldFit,
    /// Centre, from the west edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "x", "x-when" = ["fit", "placed"]))]
    pub x_m: f64,
    /// Centre, from the south edge.
    #[schemars(range(min = -1_000_000, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [0.0, 12_000.0], "x-place" = "y", "x-when" = ["fit", "placed"]))]
    pub y_m: f64,
    /// From side to side.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 12_000.0], "x-when" = ["fit", "placed"]))]
    pub width_m: f64,
    /// From top to bottom.
    #[schemars(range(min = 0.01, max = 1_000_000), extend("x-unit" = "m", "x-slider" = [100.0, 12_000.0], "x-when" = ["fit", "placed"]))]
    pub depth_m: f64,
    /// Turned clockwise.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0], "x-when" = ["fit", "placed"]))]
    pub turn_deg: f64,
    /// What is beyond its edge.
    #[schemars(extend("x-when" = ["fit", "placed"]))]
    pub beyond: HeightfieldBeyond,
    /// Share cut off at the west.
    #[schemars(range(min = 0, max = 0.95), extend("x-more" = true))]
    pub crop_west: f64,
    /// Share cut off at the east.
    #[schemars(range(min = 0, max = 0.95), extend("x-more" = true))]
    pub crop_east: f64,
    /// Share cut off at the north.
    #[schemars(range(min = 0, max = 0.95), extend("x-more" = true))]
    pub crop_north: f64,
    /// Share cut off at the south.
    #[schemars(range(min = 0, max = 0.95), extend("x-more" = true))]
    pub crop_south: f64,
}

/// Over the whole land, or in a place of its own.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum HeightfieldFit {
    /// Stretched over the whole land.
    #[default]
    WholeLand,
    /// In a place of its own.
    Placed,
}

/// What is beyond the edge of an image.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum HeightfieldBeyond {
    /// Nothing: height 0.
    #[default]
    Nothing,
    /// The outermost values go on.
    Edge,
    /// The image, again and again.
    Repeat,
    /// The image and its mirror image in turn.
    Mirror,
}

impl From<HeightfieldBeyond> for Option<Beyond> {
    fn from(beyond: HeightfieldBeyond) -> Self {
        match beyond {
            HeightfieldBeyond::Nothing => None,
            HeightfieldBeyond::Edge => Some(Beyond::Edge),
            HeightfieldBeyond::Repeat => Some(Beyond::Repeat),
            HeightfieldBeyond::Mirror => Some(Beyond::Mirror),
        }
    }
}

impl Default for Heightfield {
    fn default() -> Self {
        Self {
            asset: String::new(),
            channel: 0,
            scale: 1.0,
            lift_m: 0.0,
            on_the_floor: false,
            fit: HeightfieldFit::WholeLand,
            x_m: 4000.0,
            y_m: 4000.0,
            width_m: 4000.0,
            depth_m: 4000.0,
            turn_deg: 0.0,
            beyond: HeightfieldBeyond::Nothing,
            crop_west: 0.0,
            crop_east: 0.0,
            crop_north: 0.0,
            crop_south: 0.0,
        }
    }
}

impl Kind for Heightfield {
    fn needs(&self) -> Option<Needs> {
        Some(Needs::File)
    }

    fn example(self) -> Option<Self> {
        None
    }

    fn asset(&self) -> Option<&str> {
        Some(&self.asset)
    }

    fn check(&self) -> Result<(), Unfit> {
        check_named(Some(&self.asset), None)?;
        let crops = [
            ("crop_east", self.crop_west + self.crop_east),
            ("crop_south", self.crop_north + self.crop_south),
        ];
        for (name, sum) in crops {
            if sum > 0.96 {
                let reason = "at least 4 % of the image must be left".to_owned();
                return Err((name, format!("{sum} with the opposite side"), reason));
            }
        }
        Ok(())
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let crop = [
            self.crop_west,
            self.crop_east,
            self.crop_north,
            self.crop_south,
        ];
        let image = site.channel_image(&self.asset, self.channel as usize, crop, 0.0)?;
        let floor = match self.on_the_floor {
            true => image.image().range().0,
            false => 0.0,
        };
        let (scale, lift) = (self.scale as f32, self.lift_m as f32);
        let frame = site.frame();
        let in_metres = move |value: f32| (value - floor) * scale + lift;
        if self.fit == HeightfieldFit::WholeLand {
            return Ok(stretch(image.image(), site.extent(), frame)
                .map(in_metres)
                .into());
        }
        let placed = PlacedImage {
            image: &image,
            placement: Placement {
                x_m: self.x_m,
                y_m: self.y_m,
                width_m: self.width_m,
                depth_m: self.depth_m,
                turn_deg: self.turn_deg,
            },
            beyond: self.beyond.into(),
        };
        let place = |c: usize, r: usize| (frame.x_m(c), frame.y_m(r));
        let heights = placed.fill_at(frame, place, in_metres, site.run())?;
        Ok(heights.into())
    }
}
