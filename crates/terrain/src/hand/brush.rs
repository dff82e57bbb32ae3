//! A round brush, and how much of the land a stroke of it covers.

use crate::line::{DVec2, LinePoint, Polyline, nearest_on_segment};
use crate::smooth::smooth;
use crate::{Frame, Grid};

/// One stroke of a round brush along a line.
#[derive(Clone, Debug, PartialEq)]
pub struct Brush {
    /// Its course, and the images of it where a stroke is mirrored; the values are the
    /// pressure, 0 to 1.
    pub courses: Vec<Polyline>,
    /// Radius of the brush, metres.
    pub radius_m: f64,
    /// How much a stroke covers where it is full, 0 to 1.
    pub strength: f64,
    /// Share of the radius over which it fades, 0 to 1.
    pub softness: f64,
    /// The pressure makes it wider.
    pub pressed_wider: bool,
    /// The pressure makes it stronger.
    pub pressed_stronger: bool,
    /// It lays on more wherever it comes by again, and on longer ways.
    pub builds_up: bool,
}

/// A brush that builds up lays on its strength along so many radii.
const BUILT_UP_OVER: f64 = 4.0;
/// And is laid down piece by piece, each at most so many radii long.
const PIECE: f64 = 0.2;

impl Brush {
    /// The same brush as cells of `cell_m` can show it: one that is narrower than a cell
    /// is as wide as one, and weaker by as much.
    pub fn shown_on(&self, cell_m: f64) -> Self {
        let radius_m = self.radius_m.max(0.75 * cell_m);
        let strength = self.strength * (self.radius_m / radius_m).powi(2);
        Self {
            radius_m,
            strength,
            ..self.clone()
        }
    }

    /// The corners of the smallest box around all that it can touch, metres.
    pub fn bounds(&self) -> Option<[DVec2; 2]> {
        let points = self.courses.iter().flat_map(|course| &course.points);
        let ends = points.map(|point| [point.at, point.at]);
        let [low, high] = ends.reduce(|[low, high], [at, _]| [low.min(at), high.max(at)])?;
        Some([low - self.radius_m, high + self.radius_m])
    }

    /// How much it covers of each cell of `frame`, 0 to its strength; of one that builds
    /// up any amount. Local.
    pub fn covered(&self, frame: &Frame) -> Grid {
        Grid::by_rows(frame.cols, frame.rows, |r, row| {
            self.cover_row(frame, frame.y_m(r), row);
        })
    }

    /// How much the stroke covers of each cell of a row, which comes empty; whether any at
    /// all.
    pub fn cover_row(&self, frame: &Frame, y_m: f64, row: &mut [f32]) -> bool {
        let mut touched = false;
        // A click on the spot is worth a short way.
        let click_m = |course: &Polyline| match course.points.len() {
            1 => self.radius_m,
            _ => 0.0,
        };
        let ways = self.courses.iter().flat_map(|course| {
            let click_m = click_m(course);
            course.segments().map(move |ends| (ends, click_m))
        });
        for ([a, b], click_m) in ways {
            let (low, high) = (a.at.min(b.at), a.at.max(b.at));
            if y_m < low.y - self.radius_m || y_m > high.y + self.radius_m {
                continue;
            }
            let first = frame.col_at(low.x - self.radius_m).floor().max(0.0) as usize;
            let last = frame.col_at(high.x + self.radius_m).ceil();
            let end = (last.max(-1.0) as i64 + 1).clamp(0, row.len() as i64) as usize;
            for (c, cell) in row.iter_mut().enumerate().take(end).skip(first) {
                let place = DVec2::new(frame.x_m(c), y_m);
                if self.builds_up {
                    let laid = self.laid([a, b], click_m, place);
                    touched |= laid > 0.0;
                    *cell += laid;
                } else {
                    let covers = self.covers([a, b], place);
                    touched |= covers > 0.0;
                    *cell = cell.max(covers);
                }
            }
        }
        touched
    }

    /// The most that any dab along a segment covers of a place: the nearest one's, or,
    /// where the pen is pressed harder and harder, that of one some way on.
    fn covers(&self, [a, b]: [LinePoint; 2], place: DVec2) -> f32 {
        /// Looks for it, each in 0.62 of the length of the one before.
        const LOOKS: usize = 12;
        const GOLDEN: f64 = 0.618_034;
        let on = nearest_on_segment(a.at, b.at, place);
        let dab = |share: f64| {
            let away_m = a.at.lerp(b.at, share).distance(place);
            self.dab(away_m, a.value + share * (b.value - a.value))
        };
        let nearest = self.dab(
            on.distance2_m2.sqrt(),
            a.value + on.share * (b.value - a.value),
        );
        let pressed = self.pressed_wider || self.pressed_stronger;
        if on.distance2_m2 >= self.radius_m.powi(2) || !pressed || a.value == b.value {
            return nearest;
        }
        let reach = self.radius_m / a.at.distance(b.at);
        let (mut from, mut to) = match b.value > a.value {
            true => (on.share, (on.share + reach).min(1.0)),
            false => ((on.share - reach).max(0.0), on.share),
        };
        let mut most = nearest;
        for _ in 0..LOOKS {
            let (left, right) = (to - GOLDEN * (to - from), from + GOLDEN * (to - from));
            let (at_left, at_right) = (dab(left), dab(right));
            most = most.max(at_left).max(at_right);
            if at_left > at_right {
                to = right;
            } else {
                from = left;
            }
        }
        most
    }

    /// What a dab of the brush covers of a place so far from its middle.
    pub(super) fn dab(&self, away_m: f64, pressure: f64) -> f32 {
        let wide = match self.pressed_wider {
            true => self.radius_m * pressure,
            false => self.radius_m,
        };
        let strong = match self.pressed_stronger {
            true => self.strength * pressure,
            false => self.strength,
        };
        if wide <= 0.0 {
            return 0.0;
        }
        let inside = (1.0 - away_m / wide) / self.softness.max(1e-6);
        smooth(inside as f32) * strong as f32
    }

    /// What a brush that builds up lays on a place along a segment: its dabs, one after
    /// the other, each as much as it went on for. How the course was cut into segments
    /// does not show.
    fn laid(&self, [a, b]: [LinePoint; 2], click_m: f64, place: DVec2) -> f32 {
        let length_m = a.at.distance(b.at);
        let pieces = (length_m / (PIECE * self.radius_m)).ceil().max(1.0);
        let piece_m = click_m.max(length_m / pieces);
        let share = (piece_m / (BUILT_UP_OVER * self.radius_m)) as f32;
        let dabs = (0..pieces as usize).map(|piece| {
            let along = (piece as f64 + 0.5) / pieces;
            let at = a.at.lerp(b.at, along);
            share * self.dab(at.distance(place), a.value + along * (b.value - a.value))
        });
        dabs.sum()
    }
}
