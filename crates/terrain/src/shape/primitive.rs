//! Plain shapes: cone, dome, ridge, crater, plateau, gradients.

use super::Placement;
use crate::smooth::smooth;
use crate::{Cancelled, Frame, Grid, Run};

/// Which shape. All stand in u and v from −1 to 1.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Form {
    /// A peak in the middle.
    Cone,
    /// A half ball.
    Dome,
    /// A roof along u with rounded ends.
    Ridge,
    /// A rim around a bowl, ejecta around the rim.
    Crater {
        /// How far below the ground the bowl goes, as a share of the rim's
        /// height.
        depth: f32,
    },
    /// Flat on top, with rounded corners.
    Plateau {
        /// Share of the half width that is flat.
        top: f32,
    },
    /// Rises from u = −1 to u = 1, and stays beyond.
    LinearGradient,
    /// Falls from the middle to the rim.
    RadialGradient,
}

/// How a flank goes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "PrimitiveProfile")
)]
pub enum Profile {
    /// In a straight line.
    Straight,
    /// Level at both ends.
    #[default]
    Smooth,
}

/// A shape on the land, once or in rows.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Primitive {
    /// Which shape.
    pub form: Form,
    /// How its flanks go.
    pub profile: Profile,
    /// 1 where it would be 0, and the other way round.
    pub reversed: bool,
    /// Where it stands.
    pub placement: Placement,
    /// Distance from copy to copy along both of its own axes, metres; a
    /// single one when absent.
    pub repeat_m: Option<f64>,
}

/// Where a crater's rim is, as a share of its radius: ejecta reach about as
/// far again as a third of it (common practice).
const RIM: f32 = 0.62;
/// The straight part of a ridge's crest, as a share of its half length.
const CREST: f32 = 0.55;

impl Profile {
    #[inline(always)]
    fn at(self, t: f32) -> f32 {
        match self {
            Profile::Straight => t.clamp(0.0, 1.0),
            Profile::Smooth => smooth(t),
        }
    }
}

impl Form {
    /// The shape's height at (u, v): 0 to 1, in a crater's bowl below 0.
    pub fn at(self, u: f32, v: f32, profile: Profile) -> f32 {
        let r = (u * u + v * v).sqrt();
        match self {
            Form::Cone | Form::RadialGradient => profile.at(1.0 - r),
            Form::Dome => (1.0 - r * r).max(0.0).sqrt(),
            Form::Ridge => {
                let end = ((u.abs() - CREST) / (1.0 - CREST)).max(0.0);
                profile.at(1.0 - (end * end + v * v).sqrt())
            }
            Form::Crater { depth } if r < RIM => {
                let t = r / RIM;
                (1.0 + depth) * t * t - depth
            }
            Form::Crater { .. } => {
                let t = profile.at(1.0 - (r - RIM) / (1.0 - RIM));
                t * t
            }
            Form::Plateau { top } => {
                // A square with round corners: a superellipse (Lamé 1818).
                let (u2, v2) = (u * u, v * v);
                let r = (u2 * u2 + v2 * v2).sqrt().sqrt();
                profile.at((1.0 - r) / (1.0 - top).max(1e-3))
            }
            Form::LinearGradient => profile.at(0.5 * (u + 1.0)),
        }
    }
}

impl Primitive {
    /// The shape's height at a place, 0 to 1, or below 0 in a bowl.
    pub fn at(&self, x_m: f64, y_m: f64) -> f32 {
        self.located(&self.placement.locator(), x_m, y_m)
    }

    fn located(&self, locator: &super::placement::Locator, x_m: f64, y_m: f64) -> f32 {
        let (mut along, mut across) = locator.metres(x_m, y_m);
        if let Some(every_m) = self.repeat_m {
            along -= (along / every_m).round() * every_m;
            across -= (across / every_m).round() * every_m;
        }
        let u = (2.0 * along / self.placement.width_m) as f32;
        let v = (2.0 * across / self.placement.depth_m) as f32;
        let height = self.form.at(u, v, self.profile);
        if self.reversed { 1.0 - height } else { height }
    }

    /// The shape on all cells of `frame`. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill(&self, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let locator = self.placement.locator();
        let grid = Grid::by_rows(frame.cols, frame.rows, |r, out| {
            let y_m = frame.y_m(r);
            for (c, out) in out.iter_mut().enumerate() {
                *out = self.located(&locator, frame.x_m(c), y_m);
            }
        });
        run.check()?;
        Ok(grid)
    }
}
