//! Work of the hand.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::hand::Strokes;

use super::{Kind, StepOutput, Unfit};
use crate::document::{HandDeed, HandStroke, PenPressure};
use crate::grow::{GrowError, Site, Size};

/// What was done by hand on the land: strokes of a brush, in order, in metres.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct HandWork {
    /// Strokes, the oldest first.
    #[schemars(length(max = 50_000), extend("x-editor" = "strokes"))]
    pub strokes: Vec<HandStroke>,
}

impl Kind for HandWork {
    fn check(&self) -> Result<(), Unfit> {
        let band = self.strokes.iter().filter_map(|stroke| stroke.between);
        match band.into_iter().find(|band| band.from_m > band.to_m) {
            Some(band) => Err((
                "between",
                format!("from {} to {} m", band.from_m, band.to_m),
                "the lower height comes first".to_owned(),
            )),
            None => Ok(()),
        }
    }

    /// Land, brush and what is made of it, around the land as far as strokes may go.
    fn fields(&self) -> f64 {
        20.0
    }

    fn passes(&self, _size: Size, extent: Extent) -> f64 {
        let area = extent.width_m * extent.depth_m;
        let strokes = self.strokes.iter().map(|stroke| {
            let share = (stroke.covers_m2() / area).min(1.0);
            share * stroke.passes()
        });
        4.0 + strokes.sum::<f64>()
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let strokes = Strokes {
            strokes: self.strokes.iter().map(Into::into).collect(),
            extent: site.extent(),
        };
        let here = site.frame();
        let wide = strokes.needed(here);
        let worked = site.in_order(&self.strokes, &wide, |part, below, land| {
            let run = site.run().quietly();
            Ok(strokes.work(part, below, land, &wide, run)?)
        })?;
        let (col, row) = wide
            .offset_of(here)
            .expect("what is needed holds the frame");
        Ok(worked.cropped(col, row, here.cols, here.rows).into())
    }

    fn example(self) -> Option<Self> {
        let stroke = |deed, points: &[[f64; 3]], size_m| HandStroke {
            deed,
            points: points.to_vec(),
            size_m,
            strength: 1.0,
            softness: 0.7,
            pressure: PenPressure::Strength,
            builds_up: false,
            between: None,
            mirror: None,
        };
        let valley = [
            [900.0, 900.0, 1.0],
            [3000.0, 2600.0, 1.0],
            [5200.0, 2700.0, 1.0],
        ];
        Some(Self {
            strokes: vec![
                stroke(HandDeed::Lower { by_m: 420.0 }, &valley, 2200.0),
                stroke(HandDeed::Smooth {}, &valley, 1500.0),
                stroke(
                    HandDeed::Raise { by_m: 380.0 },
                    &[
                        [1300.0, 4300.0, 0.4],
                        [3600.0, 4500.0, 1.0],
                        [5600.0, 4200.0, 0.5],
                    ],
                    1500.0,
                ),
                stroke(
                    HandDeed::Roughen {
                        by_m: 160.0,
                        feature_m: 420.0,
                        seed: 3,
                    },
                    &[[1300.0, 4300.0, 0.6], [5600.0, 4200.0, 0.8]],
                    1700.0,
                ),
                stroke(
                    HandDeed::Weather {},
                    &[[1800.0, 4200.0, 1.0], [5600.0, 4200.0, 1.0]],
                    1500.0,
                ),
                stroke(
                    HandDeed::Push {},
                    &[[6300.0, 2200.0, 1.0], [6900.0, 3200.0, 1.0]],
                    1400.0,
                ),
            ],
        })
    }
}

impl HandStroke {
    /// Looks at each cell that it covers.
    fn passes(&self) -> f64 {
        match self.deed {
            HandDeed::Weather {} => 60.0,
            HandDeed::Smooth {} | HandDeed::Sharpen {} => 12.0,
            HandDeed::Push {} | HandDeed::Roughen { .. } => 10.0,
            HandDeed::Raise { .. }
            | HandDeed::Lower { .. }
            | HandDeed::Flatten { .. }
            | HandDeed::PaintBack {} => 4.0,
        }
    }

    /// The ground that it covers, m².
    fn covers_m2(&self) -> f64 {
        let way = self.points.windows(2);
        let lengths = way.map(|ends| {
            let ([x0, y0, _], [x1, y1, _]) = (ends[0], ends[1]);
            (x1 - x0).hypot(y1 - y0)
        });
        self.size_m * (self.size_m + lengths.sum::<f64>())
    }
}
