//! Drawn courses: smooth curves through points, that wander as rivers do.

use std::f64::consts::TAU;

use glam::DVec2;

use super::{LineIndex, LinePoint, Polyline};

/// A point that a course goes through.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CoursePoint {
    /// Where it is, metres.
    pub at: DVec2,
    /// A factor on the width there.
    pub wide: f64,
    /// A factor on the height or depth there.
    pub high: f64,
    /// A factor on how steep its banks or walls are there.
    pub steep: f64,
}

/// A place along a course.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Along {
    /// Metres from its beginning.
    pub along_m: f64,
    /// The factors there.
    pub wide: f64,
    /// The same for the height.
    pub high: f64,
    /// The same for how steep its banks are.
    pub steep: f64,
}

/// A course, ready to be asked how far it is away.
#[derive(Clone, Debug)]
pub struct Course {
    /// Points close to one another, from its beginning to its end.
    places: Vec<CoursePoint>,
    /// How far along each of them is, metres.
    along_m: Vec<f64>,
    index: LineIndex,
}

/// How a course is drawn through its points.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drawn {
    /// A smooth curve, and not straight from point to point.
    pub smooth: bool,
    /// How far apart the places are that stand for it, metres.
    pub spacing_m: f64,
    /// How much it wanders: 1 as rivers of `width_m` do, 0 not at all.
    pub wander: f64,
    /// The width by which it wanders, metres.
    pub width_m: f64,
}

/// More places than these stand for no course.
const MOST_PLACES: usize = 40_000;

impl Course {
    /// The course through `points`, of which there must be two at least that differ; `None`
    /// when there are not.
    pub fn through(points: &[CoursePoint], drawn: Drawn) -> Option<Self> {
        let mut points = points.to_vec();
        points.dedup_by(|b, a| a.at == b.at);
        if points.len() < 2 {
            return None;
        }
        let lengths = points
            .windows(2)
            .map(|pair| pair[0].at.distance(pair[1].at));
        let spacing_m = drawn
            .spacing_m
            .max(lengths.sum::<f64>() / MOST_PLACES as f64);
        let mut places = match drawn.smooth {
            true => smooth_through(&points, spacing_m),
            false => straight_through(&points, spacing_m),
        };
        if drawn.wander > 0.0 {
            wander(&mut places, drawn.width_m, drawn.wander);
        }
        let along_m = lengths_of(&places);
        let line = places.iter().zip(&along_m);
        let line: Polyline = line
            .map(|(place, &value)| LinePoint {
                at: place.at,
                value,
            })
            .collect();
        Some(Self {
            index: LineIndex::over([&line]),
            places,
            along_m,
        })
    }

    /// Its length, metres.
    pub fn length_m(&self) -> f64 {
        self.along_m[self.along_m.len() - 1]
    }

    /// Places close to one another, and how far along each is, metres.
    pub fn places(&self) -> impl Iterator<Item = (DVec2, Along)> {
        self.places
            .iter()
            .zip(&self.along_m)
            .map(|(place, &along_m)| {
                (
                    place.at,
                    Along {
                        along_m,
                        wide: place.wide,
                        high: place.high,
                        steep: place.steep,
                    },
                )
            })
    }

    /// How far a place is from the course, metres, and what the course is like where it is
    /// nearest.
    pub fn nearest(&self, place: DVec2) -> (f64, Along) {
        let nearest = self
            .index
            .nearest(place)
            .expect("it has two places at least");
        (nearest.distance_m, self.at(nearest.value))
    }

    /// On which side of the course a place is: above 0 on the left of whoever goes along it.
    pub fn side(&self, place: DVec2, along_m: f64) -> f64 {
        let after = self.along_m.partition_point(|&at| at < along_m);
        let after = after.clamp(1, self.places.len() - 1);
        let (from, to) = (self.places[after - 1].at, self.places[after].at);
        (to - from).perp_dot(place - from)
    }

    /// What the course is like so many metres along.
    pub fn at(&self, along_m: f64) -> Along {
        let after = self.along_m.partition_point(|&at| at < along_m);
        let after = after.clamp(1, self.along_m.len() - 1);
        let [from, to] = [after - 1, after].map(|k| (self.along_m[k], self.places[k]));
        let share = ((along_m - from.0) / (to.0 - from.0)).clamp(0.0, 1.0);
        let between = |a: f64, b: f64| a + share * (b - a);
        Along {
            along_m,
            wide: between(from.1.wide, to.1.wide),
            high: between(from.1.high, to.1.high),
            steep: between(from.1.steep, to.1.steep),
        }
    }
}

fn lengths_of(places: &[CoursePoint]) -> Vec<f64> {
    let mut sum = 0.0;
    let steps = places
        .windows(2)
        .map(|pair| pair[0].at.distance(pair[1].at));
    let sums = steps.map(|step| {
        sum += step;
        sum
    });
    std::iter::once(0.0).chain(sums).collect()
}

fn between(a: CoursePoint, b: CoursePoint, share: f64, at: DVec2) -> CoursePoint {
    CoursePoint {
        at,
        wide: a.wide + share * (b.wide - a.wide),
        high: a.high + share * (b.high - a.high),
        steep: a.steep + share * (b.steep - a.steep),
    }
}

/// The parts that a stretch of so many metres is cut into.
fn parts(length_m: f64, spacing_m: f64) -> usize {
    (length_m / spacing_m).ceil().max(1.0) as usize
}

fn straight_through(points: &[CoursePoint], spacing_m: f64) -> Vec<CoursePoint> {
    let mut places = vec![points[0]];
    for pair in points.windows(2) {
        let count = parts(pair[0].at.distance(pair[1].at), spacing_m);
        for k in 1..=count {
            let share = k as f64 / count as f64;
            places.push(between(
                pair[0],
                pair[1],
                share,
                pair[0].at.lerp(pair[1].at, share),
            ));
        }
    }
    places
}

/// The centripetal curve of Catmull and Rom through the points: it has neither loops nor
/// cusps between them (Yuksel, Schaefer and Keyser 2011), by the pyramid of Barry and Goldman
/// (1988). Beyond its ends it goes on as it begins and ends.
fn smooth_through(points: &[CoursePoint], spacing_m: f64) -> Vec<CoursePoint> {
    let at = |k: isize| -> DVec2 {
        let last = points.len() as isize - 1;
        match k {
            k if k < 0 => 2.0 * points[0].at - points[1].at,
            k if k > last => 2.0 * points[last as usize].at - points[last as usize - 1].at,
            k => points[k as usize].at,
        }
    };
    let mut places = vec![points[0]];
    for (k, pair) in points.windows(2).enumerate() {
        let k = k as isize;
        let p = [at(k - 1), at(k), at(k + 1), at(k + 2)];
        let mut t = [0.0; 4];
        for i in 1..4 {
            t[i] = t[i - 1] + p[i].distance(p[i - 1]).sqrt().max(1e-9);
        }
        let count = parts(p[1].distance(p[2]), spacing_m);
        for part in 1..=count {
            let share = part as f64 / count as f64;
            let here = match part == count {
                // To the bit the point that it goes through.
                true => p[2],
                false => pyramid(&p, &t, t[1] + share * (t[2] - t[1])),
            };
            places.push(between(pair[0], pair[1], share, here));
        }
    }
    places
}

fn pyramid(p: &[DVec2; 4], t: &[f64; 4], at: f64) -> DVec2 {
    let mix =
        |a: DVec2, b: DVec2, from: f64, to: f64| ((to - at) * a + (at - from) * b) / (to - from);
    let a = [0, 1, 2].map(|i| mix(p[i], p[i + 1], t[i], t[i + 1]));
    let b = [0, 1].map(|i| mix(a[i], a[i + 1], t[i], t[i + 2]));
    mix(b[0], b[1], t[1], t[2])
}

/// Bends the course from side to side as rivers of this width bend: from one bend to the next
/// but one 10.9 widths, and 2.7 widths from one side to the other (Leopold and Wolman 1960,
/// table 1, their exponents rounded to 1). Its ends stay where they are.
fn wander(places: &mut [CoursePoint], width_m: f64, amount: f64) {
    const LENGTH: f64 = 10.9;
    const SWING: f64 = 2.7;
    let along_m = lengths_of(places);
    let length_m = along_m[along_m.len() - 1];
    let drawn: Vec<DVec2> = places.iter().map(|place| place.at).collect();
    let last = drawn.len() - 1;
    let mut phase = 0.0;
    for k in 1..last {
        let width = width_m * places[k].wide.max(0.05);
        phase += TAU * (along_m[k] - along_m[k - 1]) / (LENGTH * width);
        let way = (drawn[k + 1] - drawn[k - 1]).normalize_or_zero();
        let end_m = along_m[k].min(length_m - along_m[k]);
        let eased = (end_m / (0.5 * LENGTH * width)).min(1.0);
        // No two bends are quite alike.
        let uneven = 1.0 + 0.25 * (0.37 * phase + 1.0).sin();
        let swing = 0.5 * SWING * width * amount * eased * uneven;
        places[k].at = drawn[k] + swing * phase.sin() * way.perp();
    }
}
