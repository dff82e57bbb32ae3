//! Land closed to a solid: sides down to a level floor.

use std::collections::HashMap;

use super::Mesh;

/// Triangles that closing adds for each edge of the border: two of the sides, one of the
/// floor.
pub(super) const FOR_EACH_EDGE: usize = 3;

/// Land with sides and a level floor at `floor_m`, closed: every edge has two triangles,
/// and all face outwards. The floor must lie below all of the land.
pub fn closed(land: &Mesh, floor_m: f64) -> Mesh {
    let mut solid = land.clone();
    let border = border(land);
    if border.is_empty() {
        return solid;
    }
    let first = solid.vertices.len() as u32;
    let (mut x, mut y) = (0.0f64, 0.0f64);
    for &top in &border {
        let [east, north, _] = land.vertices[top as usize];
        solid.vertices.push([east, north, floor_m as f32]);
        x += f64::from(east);
        y += f64::from(north);
    }
    let middle = solid.vertices.len() as u32;
    let count = border.len() as f64;
    let at = [(x / count) as f32, (y / count) as f32, floor_m as f32];
    solid.vertices.push(at);
    for (i, &top) in border.iter().enumerate() {
        let next = (i + 1) % border.len();
        let (below, below_next) = (first + i as u32, first + next as u32);
        // The border goes counter-clockwise seen from above: the land is on its left.
        solid.triangles.push([border[next], top, below]);
        solid.triangles.push([border[next], below, below_next]);
        solid.triangles.push([below_next, below, middle]);
    }
    solid
}

/// The vertices along the border of a land in one piece, with the land on the left.
fn border(land: &Mesh) -> Vec<u32> {
    let mut next: HashMap<u32, u32> = HashMap::new();
    let mut inner: HashMap<[u32; 2], ()> = HashMap::with_capacity(3 * land.triangles.len());
    inner.extend(land.edges().map(|edge| (edge, ())));
    for [a, b] in land.edges() {
        if !inner.contains_key(&[b, a]) {
            next.insert(a, b);
        }
    }
    let Some(&start) = next.keys().min() else {
        return Vec::new();
    };
    let mut around = vec![start];
    let mut at = next[&start];
    while at != start {
        around.push(at);
        at = next[&at];
    }
    around
}
