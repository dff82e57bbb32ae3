//! Vertices moved along the surface until quads are even.

use std::collections::{BTreeMap, BTreeSet};

use glam::DVec3;

use super::net::{Cube, Net};
use super::sound::border;
use super::surface::Surface;

/// How often every vertex is moved towards the middle of its neighbours, and how far.
const ROUNDS: usize = 24;
const FAR: f64 = 0.6;
/// Rounds in which those on the border move as well: more would round its corners off.
const ROUNDS_OF_BORDER: usize = 6;

/// Where the vertices of a net lie once they are even.
pub(super) fn evened(net: &Net, surface: &Surface) -> BTreeMap<Cube, DVec3> {
    let mut around: BTreeMap<Cube, BTreeSet<Cube>> = BTreeMap::new();
    let mut along: BTreeMap<Cube, BTreeSet<Cube>> = BTreeMap::new();
    for [a, b, c, d] in &net.quads {
        for [from, to] in [[a, b], [b, c], [c, d], [d, a]] {
            around.entry(*from).or_default().insert(*to);
            around.entry(*to).or_default().insert(*from);
        }
    }
    for [from, to] in border(&net.quads) {
        along.entry(from).or_default().insert(to);
        along.entry(to).or_default().insert(from);
    }
    let begin = around
        .keys()
        .map(|cube| (*cube, surface.nearest(net.begin[cube])));
    let mut places: BTreeMap<Cube, DVec3> = begin.collect();
    for round in 0..ROUNDS {
        let moved = places.iter().map(|(cube, at)| {
            let neighbours = match along.get(cube) {
                Some(_) if round >= ROUNDS_OF_BORDER => return (*cube, *at),
                Some(along) => along,
                None => &around[cube],
            };
            let sum: DVec3 = neighbours.iter().map(|cube| places[cube]).sum();
            let middle = sum / neighbours.len() as f64;
            (*cube, surface.nearest(at.lerp(middle, FAR)))
        });
        places = moved.collect();
    }
    places
}
