//! The land around its cliffs: triangulated anew, with their border as constraints.

use std::collections::{HashMap, HashSet};

use rstar::primitives::{GeomWithData, Rectangle};
use rstar::{AABB, RTree};
use spade::handles::{FixedFaceHandle, InnerTag};
use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};

use crate::mesh::Mesh;

/// A vertex of the land or of the seam.
struct Corner {
    at: Point2<f64>,
    up: f32,
}

impl HasPosition for Corner {
    type Scalar = f64;

    fn position(&self) -> Point2<f64> {
        self.at
    }
}

/// Vertices of the land that are nearer to the seam than this share of an edge are left out:
/// triangles between them would be slivers.
const NEAR: f64 = 0.35;

/// The land without what its cliffs cover; or the vertices of cliffs at which their border
/// crosses itself seen from above.
pub(super) fn cut_out(land: &Mesh, cliffs: &Mesh, edge_m: f64) -> Result<Mesh, HashSet<u32>> {
    let edges: HashSet<[u32; 2]> = cliffs.edges().collect();
    let seam: Vec<[u32; 2]> = edges
        .iter()
        .filter(|[a, b]| !edges.contains(&[*b, *a]))
        .copied()
        .collect();
    let mut corners = Vec::new();
    let mut index: HashMap<u32, usize> = HashMap::new();
    let mut on_seam: Vec<u32> = seam.iter().flatten().copied().collect();
    on_seam.sort_unstable();
    on_seam.dedup();
    for vertex in on_seam {
        index.insert(vertex, corners.len());
        corners.push(corner(cliffs.vertices[vertex as usize]));
    }
    let near = Near::of(cliffs, &seam, NEAR * edge_m);
    let covered = Covered::by(cliffs);
    let kept = land
        .vertices
        .iter()
        .filter(|at| !near.has(at) && !covered.has(at));
    corners.extend(kept.map(|at| corner(*at)));
    let mut constraints: Vec<[usize; 2]> = seam
        .iter()
        .map(|ends| ends.map(|end| index[&end]))
        .collect();
    constraints.sort_unstable();
    let mut crossing = HashSet::new();
    let of_corner: HashMap<usize, u32> = index.iter().map(|(vertex, at)| (*at, *vertex)).collect();
    let conflict = |ends: [usize; 2]| crossing.extend(ends.iter().map(|end| of_corner[end]));
    let cdt = ConstrainedDelaunayTriangulation::<Corner>::try_bulk_load_cdt(
        corners,
        constraints.clone(),
        conflict,
    );
    let cdt = cdt.expect("places are finite metres");
    if !crossing.is_empty() {
        return Err(crossing);
    }
    Ok(without(&cdt, &constraints))
}

fn corner([east, north, up]: [f32; 3]) -> Corner {
    let at = Point2::new(f64::from(east), f64::from(north));
    Corner { at, up }
}

/// All triangles but those within constraints, which have what is left out on their left.
fn without(cdt: &ConstrainedDelaunayTriangulation<Corner>, seam: &[[usize; 2]]) -> Mesh {
    let handle = spade::handles::FixedVertexHandle::from_index;
    let mut within: HashSet<FixedFaceHandle<InnerTag>> = HashSet::new();
    let mut open = Vec::new();
    for [from, to] in seam {
        let edge = cdt.get_edge_from_neighbors(handle(*from), handle(*to));
        let edge = edge.expect("constraints are edges");
        open.extend(edge.face().as_inner().map(|face| face.fix()));
    }
    while let Some(face) = open.pop() {
        if !within.insert(face) {
            continue;
        }
        for edge in cdt.face(face).adjacent_edges() {
            if !edge.is_constraint_edge() {
                open.extend(edge.rev().face().as_inner().map(|face| face.fix()));
            }
        }
    }
    let mut mesh = Mesh::default();
    let mut index: HashMap<usize, u32> = HashMap::new();
    for face in cdt
        .inner_faces()
        .filter(|face| !within.contains(&face.fix()))
    {
        let triangle = face.vertices().map(|corner| {
            *index.entry(corner.fix().index()).or_insert_with(|| {
                let Corner { at, up } = corner.data();
                mesh.vertices.push([at.x as f32, at.y as f32, *up]);
                mesh.vertices.len() as u32 - 1
            })
        });
        mesh.triangles.push(triangle);
    }
    mesh.of_land = mesh.triangles.len();
    mesh.land_vertices = mesh.vertices.len();
    mesh
}

/// Places near the seam, seen from above.
struct Near {
    samples: RTree<[f64; 2]>,
    far_2: f64,
}

impl Near {
    fn of(cliffs: &Mesh, seam: &[[u32; 2]], far_m: f64) -> Self {
        // Along each edge so densely that no place near it is far from all of them.
        const BETWEEN: usize = 4;
        let samples = seam.iter().flat_map(|ends| {
            let [a, b] = ends.map(|end| cliffs.vertices[end as usize].map(f64::from));
            (0..=BETWEEN).map(move |step| {
                let share = step as f64 / BETWEEN as f64;
                [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])]
            })
        });
        Self {
            samples: RTree::bulk_load(samples.collect()),
            far_2: far_m * far_m,
        }
    }

    fn has(&self, [east, north, _]: &[f32; 3]) -> bool {
        let at = [f64::from(*east), f64::from(*north)];
        self.samples
            .locate_within_distance(at, self.far_2)
            .next()
            .is_some()
    }
}

/// A triangle seen from above, in its box.
type Boxed = GeomWithData<Rectangle<[f64; 2]>, [[f64; 2]; 3]>;

/// Places that cliffs cover, seen from above.
struct Covered {
    triangles: RTree<Boxed>,
}

impl Covered {
    fn by(cliffs: &Mesh) -> Self {
        let boxes = cliffs.triangles.iter().map(|triangle| {
            let corners = cliffs.corners(*triangle).map(|[x, y, _]| [x, y]);
            let bounds = AABB::from_points(corners.iter());
            GeomWithData::new(bounds.into(), corners)
        });
        Self {
            triangles: RTree::bulk_load(boxes.collect()),
        }
    }

    fn has(&self, [east, north, _]: &[f32; 3]) -> bool {
        let at = [f64::from(*east), f64::from(*north)];
        let mut here = self
            .triangles
            .locate_in_envelope_intersecting(AABB::from_point(at));
        here.any(|found| {
            let [a, b, c] = found.data;
            let side = |p: [f64; 2], q: [f64; 2]| {
                (q[0] - p[0]) * (at[1] - p[1]) - (q[1] - p[1]) * (at[0] - p[0])
            };
            side(a, b) >= 0.0 && side(b, c) >= 0.0 && side(c, a) >= 0.0
        })
    }
}
