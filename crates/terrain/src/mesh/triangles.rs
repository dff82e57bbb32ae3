//! Triangles in space, and what can be said of any of them.

use std::collections::HashMap;

/// Triangles that share corners.
///
/// Corners of a triangle go counter-clockwise seen from outside; of land, from above.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Mesh {
    /// Metres east, north and up.
    pub vertices: Vec<[f32; 3]>,
    /// Three vertices each.
    pub triangles: Vec<[u32; 3]>,
    /// So many of the first triangles are land; sides and floor of a solid follow.
    pub of_land: usize,
    /// So many of the first vertices are corners of land; they come before all others.
    pub land_vertices: usize,
    /// From this triangle on each two that follow one another are a quad, for formats that
    /// have quads; none when absent.
    pub pairs_from: Option<usize>,
    /// Directions at its vertices, where they are not those of its triangles alone: along the
    /// seam to another mesh.
    pub directions: Option<Vec<[f32; 3]>>,
}

/// Edges of a mesh that are not shared by exactly two triangles that agree on which side
/// is outside.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Open {
    /// Edges with one triangle.
    pub border: usize,
    /// Edges that two triangles go along in the same direction, or more than two share.
    pub tangled: usize,
}

impl Mesh {
    /// The corners of a triangle, metres.
    pub fn corners(&self, triangle: [u32; 3]) -> [[f64; 3]; 3] {
        triangle.map(|vertex| self.vertices[vertex as usize].map(f64::from))
    }

    /// What keeps it from being closed.
    pub fn open(&self) -> Open {
        let mut times: HashMap<[u32; 2], u32> = HashMap::with_capacity(3 * self.triangles.len());
        for edge in self.edges() {
            *times.entry(edge).or_default() += 1;
        }
        let mut open = Open::default();
        for ([a, b], count) in &times {
            if *count > 1 {
                open.tangled += 1;
            } else if !times.contains_key(&[*b, *a]) {
                open.border += 1;
            }
        }
        open
    }

    /// Edges with one triangle, of a mesh in which no edge has more than two.
    pub fn open_edges(&self) -> usize {
        super::solid::border(self).len()
    }

    /// The edges of all triangles, in their direction.
    pub(super) fn edges(&self) -> impl Iterator<Item = [u32; 2]> {
        let around = |&[a, b, c]: &[u32; 3]| [[a, b], [b, c], [c, a]];
        self.triangles.iter().flat_map(around)
    }

    /// What it encloses, cubic metres; of use when nothing is open.
    pub fn volume_m3(&self) -> f64 {
        // Tetrahedra to one point (the divergence theorem), near the mesh so that little is
        // lost by subtraction.
        let Some(&from) = self.vertices.first() else {
            return 0.0;
        };
        let from = from.map(f64::from);
        let sixth = |&triangle: &[u32; 3]| {
            let [a, b, c] = self
                .corners(triangle)
                .map(|corner| super::within::minus(corner, from));
            dot(a, cross(b, c)) / 6.0
        };
        self.triangles.iter().map(sixth).sum()
    }

    /// Directions of length 1 at the vertices of land, smooth over it: mean of the
    /// triangles around, by their area.
    pub fn smooth_normals(&self) -> Vec<[f32; 3]> {
        match &self.directions {
            Some(directions) => directions.clone(),
            None => self.sums_around().into_iter().map(unit).collect(),
        }
    }

    /// The quads that its triangles are pairs of, if they are: corners counter-clockwise.
    pub fn quads(&self) -> impl Iterator<Item = [u32; 4]> {
        let (_, pairs) = self.apart();
        let pairs = pairs.as_chunks::<2>().0.iter();
        // The second begins where the first does and shares its last edge.
        pairs.map(|[[a, b, c], [_, _, d]]| [*a, *b, *c, *d])
    }

    /// The triangles that are no pairs, and those that are.
    pub fn apart(&self) -> (&[[u32; 3]], &[[u32; 3]]) {
        let count = self.triangles.len();
        self.triangles.split_at(self.pairs_from.unwrap_or(count))
    }

    /// Sums of what the triangles around each vertex of land face, as long as twice their
    /// area.
    pub(super) fn sums_around(&self) -> Vec<[f64; 3]> {
        let mut normals = vec![[0.0f64; 3]; self.land_vertices];
        for &triangle in &self.triangles[..self.of_land] {
            let across = self.across(triangle);
            for vertex in triangle {
                let normal = &mut normals[vertex as usize];
                for (sum, part) in normal.iter_mut().zip(across) {
                    *sum += part;
                }
            }
        }
        normals
    }

    /// The direction of length 1 that a triangle faces.
    pub fn facing(&self, triangle: [u32; 3]) -> [f32; 3] {
        unit(self.across(triangle))
    }

    /// As long as twice the area of a triangle, square to it.
    fn across(&self, triangle: [u32; 3]) -> [f64; 3] {
        let [a, b, c] = self.corners(triangle);
        cross(super::within::minus(b, a), super::within::minus(c, a))
    }

    /// Both as one land, to be looked at: vertices that they share are there twice. Only the
    /// other one may have quads.
    pub fn joined(mut self, other: &Self) -> Self {
        let directions = (self.smooth_normals(), other.smooth_normals());
        let first = self.vertices.len() as u32;
        self.pairs_from = other.pairs_from.map(|from| from + self.triangles.len());
        self.vertices.extend(&other.vertices);
        let moved = other.triangles.iter();
        let moved = moved.map(|triangle| triangle.map(|vertex| vertex + first));
        self.triangles.extend(moved);
        self.of_land = self.triangles.len();
        self.land_vertices = self.vertices.len();
        self.directions = Some([directions.0, directions.1].concat());
        self
    }

    /// The same, `scale` times as large; to metres of a model, or to its millimetres.
    pub fn scaled(mut self, scale: f64) -> Self {
        for vertex in &mut self.vertices {
            *vertex = vertex.map(|at| (f64::from(at) * scale) as f32);
        }
        self
    }
}

fn unit(vector: [f64; 3]) -> [f32; 3] {
    let length = dot(vector, vector).sqrt();
    if length == 0.0 {
        return [0.0, 0.0, 1.0];
    }
    vector.map(|part| (part / length) as f32)
}

fn dot(a: [f64; 3], b: [f64; 3]) -> f64 {
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

fn cross(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    ]
}
