//! A response curve through given points, without overshoot.

/// Why points do not make a curve.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum CurveError {
    /// Fewer than two points.
    #[error("a curve needs at least 2 points, got {0}")]
    TooFew(usize),
    /// Points must go from left to right.
    #[error("point {index} at {x} must lie to the right of the one before, at {before}")]
    NotRising {
        /// Index of the offending point, from 0.
        index: usize,
        /// Its position.
        x: f32,
        /// The position of the point before.
        before: f32,
    },
    /// NaN or infinity in a point.
    #[error("point {index} is not a pair of finite numbers")]
    NotFinite {
        /// Index of the offending point, from 0.
        index: usize,
    },
}

/// A smooth curve through points that never swings beyond them: monotone
/// cubic Hermite interpolation (Fritsch and Carlson 1980, with the tangents
/// of Fritsch and Butland 1984). Left and right of the points it is level.
#[derive(Clone, Debug, PartialEq)]
pub struct Curve {
    points: Vec<(f32, f32)>,
    tangents: Vec<f32>,
}

impl Curve {
    /// The curve through `points`, given from left to right.
    ///
    /// # Errors
    /// [`CurveError`] when there are fewer than two points, when they are not
    /// strictly rising in x, or when one is not finite.
    pub fn through(points: &[(f32, f32)]) -> Result<Self, CurveError> {
        if points.len() < 2 {
            return Err(CurveError::TooFew(points.len()));
        }
        for (index, (x, y)) in points.iter().enumerate() {
            if !x.is_finite() || !y.is_finite() {
                return Err(CurveError::NotFinite { index });
            }
            if index > 0 && *x <= points[index - 1].0 {
                return Err(CurveError::NotRising {
                    index,
                    x: *x,
                    before: points[index - 1].0,
                });
            }
        }
        let secants: Vec<f32> = points
            .windows(2)
            .map(|p| (p[1].1 - p[0].1) / (p[1].0 - p[0].0))
            .collect();
        let tangents = (0..points.len())
            .map(
                |i| match (i.checked_sub(1).map(|i| secants[i]), secants.get(i)) {
                    (Some(left), Some(&right)) if left * right > 0.0 => {
                        2.0 * left * right / (left + right)
                    }
                    (Some(_), Some(_)) => 0.0,
                    (None, Some(&only)) | (Some(only), None) => only,
                    (None, None) => 0.0,
                },
            )
            .collect();
        Ok(Self {
            points: points.to_vec(),
            tangents,
        })
    }

    /// The curve's height at `x`.
    pub fn at(&self, x: f32) -> f32 {
        let after = self.points.partition_point(|p| p.0 <= x);
        if after == 0 {
            return self.points[0].1;
        }
        if after == self.points.len() {
            return self.points[after - 1].1;
        }
        let ((x0, y0), (x1, y1)) = (self.points[after - 1], self.points[after]);
        let (m0, m1) = (self.tangents[after - 1], self.tangents[after]);
        let width = x1 - x0;
        let t = (x - x0) / width;
        let (t2, t3) = (t * t, t * t * t);
        (2.0 * t3 - 3.0 * t2 + 1.0) * y0
            + (t3 - 2.0 * t2 + t) * width * m0
            + (3.0 * t2 - 2.0 * t3) * y1
            + (t3 - t2) * width * m1
    }
}
