//! Land closed to a solid: sides down to a level floor.

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
pub(super) fn border(land: &Mesh) -> Vec<u32> {
    // Around a vertex inside, every neighbour is one that an edge goes to and one that an
    // edge comes from. On the border the next one is not come from, and the one before not
    // gone to: these two are what is left.
    let mut left = vec![0u32; land.vertices.len()];
    for [a, b] in land.edges() {
        left[a as usize] ^= b;
        left[b as usize] ^= a;
    }
    let Some(start) = left.iter().position(|left| *left != 0) else {
        return Vec::new();
    };
    let start = start as u32;
    let touching = || land.edges().filter(|edge| edge.contains(&start));
    let next = touching().find(|&[a, b]| a == start && !touching().any(|edge| edge == [b, a]));
    let mut around = vec![start];
    let (mut before, mut at) = (start, next.map_or(start, |[_, next]| next));
    while at != start {
        around.push(at);
        (before, at) = (at, left[at as usize] ^ before);
    }
    around
}
