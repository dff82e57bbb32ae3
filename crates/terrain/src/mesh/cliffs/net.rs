//! The surface net: a vertex in each cube that the surface passes through, a quad across
//! each edge of cubes that crosses it. The cubes of a piece of cliff stand on it, so that its
//! quads go along its contours and up its slope.

use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use glam::{DVec2, DVec3, IVec3};

use super::patches::{Axes, Patches};
use super::surface::Surface;
use crate::mesh::Mesh;
use crate::{Frame, Grid};

/// A cube: the piece that it is of, and its place along, up and out of it.
pub(super) type Cube = [i32; 4];

/// Quads between vertices, by the cubes that they are in.
pub(super) struct Net {
    /// Counter-clockwise seen from outside.
    pub(super) quads: Vec<[Cube; 4]>,
    /// The middle of where edges of a cube cross the surface.
    pub(super) begin: BTreeMap<Cube, DVec3>,
}

/// So many edges along the border of the land stay land: it is others' border too.
const BORDER: f64 = 1.5;
/// Places of the surface that are looked at are nearer to each other than this share of an
/// edge: no cube is missed.
const LOOKED_AT: f64 = 0.5;

/// The cubes of one piece.
struct Cubes<'s, 'l> {
    surface: &'s Surface<'l>,
    axes: Axes,
    edge_m: f64,
    /// How far nodes are above the surface, as far as it was asked.
    above: HashMap<IVec3, f64>,
}

impl Cubes<'_, '_> {
    fn place(&self, node: DVec3) -> DVec3 {
        let Axes { along, up, out } = self.axes;
        (along * node.x + up * node.y + out * node.z) * self.edge_m
    }

    fn cube_at(&self, place: DVec3) -> IVec3 {
        let Axes { along, up, out } = self.axes;
        let at = DVec3::new(place.dot(along), place.dot(up), place.dot(out)) / self.edge_m;
        at.floor().as_ivec3()
    }

    fn above(&mut self, node: IVec3) -> f64 {
        if let Some(above) = self.above.get(&node) {
            return *above;
        }
        let place = self.place(node.as_dvec3());
        let above = place.z - self.surface.height(place.truncate());
        self.above.insert(node, above);
        above
    }

    /// Cubes that the surface over some cells passes through, and those beside them.
    fn near(&self, patches: &Patches, cells: &[(usize, usize)], cell_m: f64) -> BTreeSet<[i32; 3]> {
        let mut near = BTreeSet::new();
        for cell in cells {
            let middle = patches.middle(*cell);
            let steep = self.surface.rise(middle).length().hypot(1.0);
            let count = (cell_m * steep / (LOOKED_AT * self.edge_m))
                .ceil()
                .clamp(1.0, 64.0);
            for y in 0..count as usize {
                for x in 0..count as usize {
                    let share = DVec2::new(x as f64 + 0.5, y as f64 + 0.5) / count - 0.5;
                    let at = middle + share * cell_m;
                    let cube = self.cube_at(at.extend(self.surface.height(at)));
                    for beside in 0..27 {
                        let step = IVec3::new(beside % 3, beside / 3 % 3, beside / 9) - 1;
                        near.insert((cube + step).to_array());
                    }
                }
            }
        }
        near
    }

    /// Where the surface crosses the edges that begin at a node; with the four cubes around
    /// each, counter-clockwise seen from outside.
    fn crossings(&mut self, node: IVec3, mut take: impl FnMut(DVec3, [IVec3; 4])) {
        let here = self.above(node);
        for (axis, first, second) in [
            (IVec3::X, IVec3::Y, IVec3::Z),
            (IVec3::Y, IVec3::Z, IVec3::X),
            (IVec3::Z, IVec3::X, IVec3::Y),
        ] {
            let there = self.above(node + axis);
            if (here < 0.0) == (there < 0.0) {
                continue;
            }
            let share = here / (here - there);
            let crossing = self.place(node.as_dvec3() + axis.as_dvec3() * share);
            let mut around = [node - first - second, node - second, node, node - first];
            // Outside is where the edge begins, and so seen from the other side.
            if here >= 0.0 {
                around.reverse();
            }
            take(crossing, around);
        }
    }
}

impl Net {
    /// The net over all that `mask` says are cliffs.
    pub(super) fn over(surface: &Surface, (mask, frame): (&Grid, &Frame), edge_m: f64) -> Self {
        let patches = Patches::of(mask, frame);
        let border = DVec2::splat(BORDER * edge_m);
        let (from, to) = (border, surface.size() - border);
        let (mut quads, mut begin) = (Vec::new(), BTreeMap::new());
        for (piece, cells) in patches.cells.iter().enumerate() {
            let mut cubes = Cubes {
                surface,
                axes: patches.axes(piece, surface),
                edge_m,
                above: HashMap::new(),
            };
            let near = cubes.near(&patches, cells, frame.cell_m);
            let of_piece = |cube: IVec3| [piece as i32, cube.x, cube.y, cube.z];
            let mut sums: BTreeMap<Cube, (DVec3, f64)> = BTreeMap::new();
            let mut found = Vec::new();
            for node in &near {
                cubes.crossings(IVec3::from_array(*node), |at, around| {
                    for cube in around {
                        let (sum, count) = sums.entry(of_piece(cube)).or_default();
                        *sum += at;
                        *count += 1.0;
                    }
                    let plan = at.truncate();
                    let inside = plan.cmpge(from).all() && plan.cmple(to).all();
                    if inside && patches.at(plan) == Some(piece) {
                        found.push(around.map(of_piece));
                    }
                });
            }
            quads.append(&mut found);
            begin.extend(
                sums.into_iter()
                    .map(|(cube, (sum, count))| (cube, sum / count)),
            );
        }
        Self { quads, begin }
    }

    /// Leaves quads out, by their places among all.
    pub(super) fn leave_out(&mut self, which: &HashSet<usize>) {
        let mut at = 0..;
        self.quads
            .retain(|_| !which.contains(&at.next().unwrap_or_default()));
    }

    /// Leaves out all quads with one of these vertices of its mesh.
    pub(super) fn leave_out_at(&mut self, vertices: &HashSet<u32>, places: &BTreeMap<Cube, DVec3>) {
        let cubes: HashSet<Cube> = (0..)
            .zip(places.keys())
            .filter(|(vertex, _)| vertices.contains(vertex))
            .map(|(_, cube)| *cube)
            .collect();
        self.quads
            .retain(|quad| !quad.iter().any(|cube| cubes.contains(cube)));
    }

    /// The quads as pairs of triangles, parted along the shorter diagonal, with vertices in
    /// the order of `places`.
    pub(super) fn mesh(&self, places: &BTreeMap<Cube, DVec3>) -> Mesh {
        let index: BTreeMap<&Cube, u32> = places.keys().zip(0..).collect();
        let quads = self.quads.iter().flat_map(|quad| {
            let [a, b, c, d] = quad.map(|cube| index[&cube]);
            let [p, q, r, s] = quad.map(|cube| places[&cube]);
            match p.distance_squared(r) <= q.distance_squared(s) {
                true => [[a, b, c], [a, c, d]],
                false => [[b, c, d], [b, d, a]],
            }
        });
        let triangles: Vec<_> = quads.collect();
        Mesh {
            vertices: places.values().map(|at| at.as_vec3().to_array()).collect(),
            of_land: triangles.len(),
            land_vertices: places.len(),
            pairs_from: Some(0),
            triangles,
            directions: None,
        }
    }
}
