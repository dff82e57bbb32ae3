//! A strip of colours.

use super::Colour;

/// Colours along a line from 0 to 1.
#[derive(Clone, Debug, PartialEq)]
pub struct Gradient {
    /// Place and colour, from low to high.
    stops: Vec<(f32, Colour)>,
}

impl Gradient {
    /// A gradient through `stops`, in any order; `None` when there is none.
    pub fn through(mut stops: Vec<(f32, Colour)>) -> Option<Self> {
        stops.sort_by(|a, b| a.0.total_cmp(&b.0));
        (!stops.is_empty()).then_some(Self { stops })
    }

    /// The colour at `place`, straight in linear light between two stops;
    /// beyond the ends that of the end.
    pub fn at(&self, place: f32) -> Colour {
        let after = self.stops.partition_point(|(at, _)| *at <= place);
        let (Some(&(from, low)), Some(&(to, high))) =
            (self.stops[..after].last(), self.stops.get(after))
        else {
            let end = if after == 0 { 0 } else { self.stops.len() - 1 };
            return self.stops[end].1;
        };
        low.towards(high, (place - from) / (to - from))
    }
}

#[cfg(test)]
mod tests {
    use super::{Colour, Gradient};

    fn grey(v: f32) -> Colour {
        Colour { r: v, g: v, b: v }
    }

    #[test]
    fn a_gradient_is_straight_between_stops_and_level_beyond_them() {
        let gradient =
            Gradient::through(vec![(0.5, grey(0.2)), (0.25, grey(1.0)), (0.5, grey(0.4))]);
        let gradient = gradient.expect("three stops");
        for (place, wanted) in [
            (-1.0, 1.0),
            (0.25, 1.0),
            (0.375, 0.6),
            (0.5, 0.4),
            (7.0, 0.4),
        ] {
            let got = gradient.at(place).g;
            assert!(
                (got - wanted).abs() < 1e-6,
                "at {place}: {got}, wanted {wanted}"
            );
        }
        assert_eq!(Gradient::through(Vec::new()), None);
    }
}
