//! Quads that make a surface: every edge has two of them or one, the ones around a vertex are
//! one fan, and seen from above none lies over another.

use std::collections::{BTreeMap, HashMap, HashSet};

use glam::{DVec2, DVec3};

use super::net::Cube;

type Quad = [Cube; 4];

fn edges(quad: &Quad) -> [[Cube; 2]; 4] {
    let [a, b, c, d] = *quad;
    [[a, b], [b, c], [c, d], [d, a]]
}

/// Edges with one quad, with it on their left.
pub(super) fn border(quads: &[Quad]) -> Vec<[Cube; 2]> {
    let all: HashSet<[Cube; 2]> = quads.iter().flat_map(edges).collect();
    let single = quads.iter().flat_map(edges);
    single.filter(|[a, b]| !all.contains(&[*b, *a])).collect()
}

/// Leaves out what makes no surface, and pieces of fewer quads than `few`.
pub(super) fn keep_sound(quads: &mut Vec<Quad>, few: usize) {
    loop {
        let before = quads.len();
        leave_out_tangles(quads);
        leave_out_fans(quads);
        leave_out_small(quads, few);
        if quads.len() == before {
            return;
        }
    }
}

/// Edges that two quads go along in the same direction.
fn leave_out_tangles(quads: &mut Vec<Quad>) {
    let mut times: HashMap<[Cube; 2], u32> = HashMap::new();
    for edge in quads.iter().flat_map(edges) {
        *times.entry(edge).or_default() += 1;
    }
    quads.retain(|quad| {
        let [a, b, c, d] = quad;
        let flat = a == c || b == d || edges(quad).iter().any(|[a, b]| a == b);
        !flat && edges(quad).iter().all(|edge| times[edge] == 1)
    });
}

/// Which quads hang together by `links`, pairs of them: for each the first of its piece.
fn pieces(count: usize, links: impl Iterator<Item = [usize; 2]>) -> Vec<usize> {
    fn first(piece: &mut [usize], mut at: usize) -> usize {
        while piece[at] != at {
            piece[at] = piece[piece[at]];
            at = piece[at];
        }
        at
    }
    let mut piece: Vec<usize> = (0..count).collect();
    for [a, b] in links {
        let (a, b) = (first(&mut piece, a), first(&mut piece, b));
        piece[a.max(b)] = a.min(b);
    }
    (0..count).map(|at| first(&mut piece, at)).collect()
}

/// Of several fans around one vertex the largest stays.
fn leave_out_fans(quads: &mut Vec<Quad>) {
    let mut around: BTreeMap<Cube, Vec<usize>> = BTreeMap::new();
    for (at, quad) in quads.iter().enumerate() {
        for cube in quad {
            around.entry(*cube).or_default().push(at);
        }
    }
    let mut left_out = HashSet::new();
    for (vertex, around) in &around {
        // Linked by an edge that ends at the vertex.
        let mut by_end: HashMap<Cube, Vec<usize>> = HashMap::new();
        for (place, at) in around.iter().enumerate() {
            for [a, b] in edges(&quads[*at]) {
                if a == *vertex || b == *vertex {
                    let end = if a == *vertex { b } else { a };
                    by_end.entry(end).or_default().push(place);
                }
            }
        }
        let links = by_end
            .values()
            .filter_map(|at| at.as_slice().first_chunk::<2>());
        let fan = pieces(around.len(), links.copied());
        let size = |of: usize| fan.iter().filter(|fan| **fan == of).count();
        let largest = fan
            .iter()
            .copied()
            .max_by_key(|of| (size(*of), usize::MAX - of));
        let others = fan
            .iter()
            .zip(around)
            .filter(|(of, _)| Some(**of) != largest);
        left_out.extend(others.map(|(_, at)| *at));
    }
    let mut at = 0..;
    quads.retain(|_| !left_out.contains(&at.next().unwrap_or_default()));
}

/// Pieces of fewer quads than `few`.
fn leave_out_small(quads: &mut Vec<Quad>, few: usize) {
    let mut sides: HashMap<[Cube; 2], usize> = HashMap::new();
    let mut links = Vec::new();
    for (at, quad) in quads.iter().enumerate() {
        for [a, b] in edges(quad) {
            if let Some(other) = sides.get(&[b, a]) {
                links.push([at, *other]);
            }
            sides.insert([a, b], at);
        }
    }
    let piece = pieces(quads.len(), links.into_iter());
    let mut size: HashMap<usize, usize> = HashMap::new();
    for of in &piece {
        *size.entry(*of).or_default() += 1;
    }
    let mut at = 0..;
    quads.retain(|_| size[&piece[at.next().unwrap_or_default()]] >= few);
}

/// Quads that face downwards, or of which a half does, whichever diagonal parts them.
pub(super) fn folded(quads: &[Quad], places: &BTreeMap<Cube, DVec3>) -> HashSet<usize> {
    let faces_up = |a: DVec2, b: DVec2, c: DVec2| (b - a).perp_dot(c - a) > 0.0;
    let folded = quads.iter().enumerate().filter(|(_, quad)| {
        let [a, b, c, d] = quad.map(|cube| places[&cube].truncate());
        let convex = [
            faces_up(a, b, c),
            faces_up(b, c, d),
            faces_up(c, d, a),
            faces_up(d, a, b),
        ];
        !convex.iter().all(|up| *up)
    });
    folded.map(|(at, _)| at).collect()
}
