//! Land in few triangles: places are added where they are missed most.
//!
//! Greedy insertion into a Delaunay triangulation (Fowler and Little 1979; Garland and
//! Heckbert 1995, algorithm III): seen from above there is no flipped triangle and no gap
//! at any time, the distance to the land is known exactly at every place of it, and one
//! run passes through all levels of detail. The triangulation itself is that of the
//! `spade` crate, whose predicates are exact.

use std::cmp::Ordering;
use std::collections::BinaryHeap;

use spade::handles::{FixedFaceHandle, FixedVertexHandle, InnerTag};
use spade::{DelaunayTriangulation, HasPosition, Point2, Triangulation};

use super::within::{Plane, rows_within};
use super::{Lattice, Mesh, solid};
use crate::{Cancelled, Run};

/// When there are triangles enough; whichever comes first.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Goal {
    /// Never more triangles than these.
    pub most_triangles: usize,
    /// No place of the land is farther from the mesh than this, measured upright, metres.
    pub error_m: f64,
    /// The mesh will be closed to a solid: what that takes counts as well.
    pub closed: bool,
}

/// Less than this is rounding, metres.
const NOTHING_M: f64 = 1e-4;
/// A place that would be on the wrong side of the coast counts this many times.
const COAST: f64 = 4.0;
/// Between looks at whether to go on.
const LOOK_EVERY: usize = 1024;

/// Land in as few triangles as `goal` asks for.
///
/// # Errors
/// [`Cancelled`] when the run was asked to stop.
pub fn refined(lattice: &Lattice, goal: Goal, run: Run) -> Result<Mesh, Cancelled> {
    let mut refinement = Refinement::begin(lattice, true);
    refinement.until(goal, run)?;
    Ok(refinement.mesh())
}

/// The same land for several goals, from the coarsest to the finest: each mesh has the
/// vertices of the one before, first and in the same order.
///
/// # Errors
/// [`Cancelled`] when the run was asked to stop.
pub fn refined_in_levels(
    lattice: &Lattice,
    goals: &[Goal],
    run: Run,
) -> Result<Vec<Mesh>, Cancelled> {
    let mut refinement = Refinement::begin(lattice, true);
    let level = |goal: &Goal| {
        refinement.until(*goal, run)?;
        Ok(refinement.mesh())
    };
    goals.iter().map(level).collect()
}

/// A place of the lattice in the triangulation.
struct Corner {
    at: Point2<f64>,
    col: u32,
    row: u32,
}

impl HasPosition for Corner {
    type Scalar = f64;

    fn position(&self) -> Point2<f64> {
        self.at
    }
}

/// The place that a triangle misses most.
struct Missed {
    /// How much, metres; more at a coast.
    by: f64,
    col: u32,
    row: u32,
    triangle: usize,
    /// What `Refinement::changes` was for the triangle; it has changed since if that is
    /// another number now.
    change: u32,
    near: FixedVertexHandle,
}

impl Ord for Missed {
    fn cmp(&self, other: &Self) -> Ordering {
        // Of equal ones, always the same.
        let place = (other.row, other.col).cmp(&(self.row, self.col));
        self.by.total_cmp(&other.by).then(place)
    }
}

impl PartialOrd for Missed {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl PartialEq for Missed {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}

impl Eq for Missed {}

/// A mesh that is becoming finer.
pub(super) struct Refinement<'a> {
    lattice: &'a Lattice,
    /// Whether places of the border may be added.
    border: bool,
    triangles: DelaunayTriangulation<Corner>,
    /// Corners on the border.
    on_border: usize,
    missed: BinaryHeap<Missed>,
    /// How often each triangle has become another one.
    changes: Vec<u32>,
}

impl<'a> Refinement<'a> {
    /// Two triangles between the corners of the land.
    pub(super) fn begin(lattice: &'a Lattice, border: bool) -> Self {
        let mut begun = Self {
            lattice,
            border,
            triangles: DelaunayTriangulation::new(),
            on_border: 0,
            missed: BinaryHeap::new(),
            changes: Vec::new(),
        };
        let (east, south) = (lattice.cols() - 1, lattice.rows() - 1);
        for (col, row) in [(0, 0), (east, 0), (0, south), (east, south)] {
            begun.add(col, row, None);
        }
        let all: Vec<_> = begun.triangles.fixed_inner_faces().collect();
        for face in all {
            begun.look_at(face);
        }
        begun
    }

    /// Adds places whatever they are missed by.
    pub(super) fn add_all(&mut self, places: impl Iterator<Item = (usize, usize)>) {
        let mut near = None;
        for (col, row) in places {
            near = self.add_and_look(col, row, near);
        }
    }

    /// Adds places until the goal is reached.
    pub(super) fn until(&mut self, goal: Goal, run: Run) -> Result<(), Cancelled> {
        for turn in 0.. {
            if turn % LOOK_EVERY == 0 {
                run.check()?;
                let share = self.count(goal.closed) as f32 / goal.most_triangles.max(1) as f32;
                run.report(share);
            }
            let Some(worst) = self.missed.pop() else {
                return Ok(());
            };
            if self.changes[worst.triangle] != worst.change {
                continue;
            }
            let more = self.adds(worst.col as usize, worst.row as usize, goal.closed);
            let full = self.count(goal.closed) + more > goal.most_triangles;
            if full || worst.by <= goal.error_m {
                self.missed.push(worst);
                return Ok(());
            }
            self.add_and_look(worst.col as usize, worst.row as usize, Some(worst.near));
        }
        Ok(())
    }

    /// By how much the place that is missed most is missed, metres.
    pub(super) fn worst_m(&mut self) -> f64 {
        while let Some(worst) = self.missed.peek() {
            if self.changes[worst.triangle] == worst.change {
                return worst.by;
            }
            self.missed.pop();
        }
        0.0
    }

    /// Triangles there are, with those that closing it adds.
    fn count(&self, closed: bool) -> usize {
        let sides = if closed {
            solid::FOR_EACH_EDGE * self.on_border
        } else {
            0
        };
        self.triangles.num_inner_faces() + sides
    }

    /// Triangles that one more place adds.
    fn adds(&self, col: usize, row: usize, closed: bool) -> usize {
        match (self.is_border(col, row), closed) {
            (false, _) => 2,
            (true, false) => 1,
            (true, true) => 1 + solid::FOR_EACH_EDGE,
        }
    }

    fn is_border(&self, col: usize, row: usize) -> bool {
        let (east, south) = (self.lattice.cols() - 1, self.lattice.rows() - 1);
        col == 0 || row == 0 || col == east || row == south
    }

    fn add_and_look(
        &mut self,
        col: usize,
        row: usize,
        near: Option<FixedVertexHandle>,
    ) -> Option<FixedVertexHandle> {
        let before = self.triangles.num_vertices();
        let corner = self.add(col, row, near);
        if self.triangles.num_vertices() > before {
            // All that a new corner changes has it as a corner.
            let around = self.triangles.vertex(corner).out_edges();
            let faces: Vec<_> = around
                .filter_map(|edge| Some(edge.face().as_inner()?.fix()))
                .collect();
            for face in faces {
                self.look_at(face);
            }
        }
        Some(corner)
    }

    fn add(
        &mut self,
        col: usize,
        row: usize,
        near: Option<FixedVertexHandle>,
    ) -> FixedVertexHandle {
        let [x, y, _] = self.lattice.place(col, row);
        let corner = Corner {
            at: Point2::new(x, y),
            col: col as u32,
            row: row as u32,
        };
        let before = self.triangles.num_vertices();
        let added = match near {
            Some(near) => self.triangles.insert_with_hint(corner, near),
            None => self.triangles.insert(corner),
        };
        let added = added.expect("places are finite metres");
        if self.triangles.num_vertices() > before && self.is_border(col, row) {
            self.on_border += 1;
        }
        added
    }

    /// Finds what a triangle that is new, or has changed, misses most.
    fn look_at(&mut self, face: FixedFaceHandle<InnerTag>) {
        let triangle = face.index();
        if self.changes.len() <= triangle {
            self.changes.resize(triangle + 1, 0);
        }
        self.changes[triangle] += 1;
        let lattice = self.lattice;
        let face = self.triangles.face(face);
        let near = face.vertices()[0].fix();
        let corners = face
            .vertices()
            .map(|corner| lattice.place(corner.data().col as usize, corner.data().row as usize));
        let plane = Plane::through(corners);
        let (mut by, mut at) = (NOTHING_M, None);
        let inside = if self.border { 0 } else { 1 };
        let (cols, rows) = (lattice.cols() - inside, lattice.rows() - inside);
        rows_within(lattice.axes(), corners, |row, columns| {
            if row < inside || row >= rows {
                return;
            }
            let heights = lattice.heights.row(row);
            let y_m = -lattice.south.at(row);
            let (first, end) = (columns.start.max(inside), columns.end.min(cols));
            for (col, height) in (first..end).zip(heights.get(first..end).unwrap_or_default()) {
                let height = f64::from(*height);
                let laid = plane.at(lattice.east.at(col), y_m);
                let mut apart = (laid - height).abs();
                if (laid > 0.0) != (height > 0.0) && apart > NOTHING_M {
                    apart *= COAST;
                }
                if apart > by {
                    (by, at) = (apart, Some((col, row)));
                }
            }
        });
        if let Some((col, row)) = at {
            self.missed.push(Missed {
                by,
                col: col as u32,
                row: row as u32,
                triangle,
                change: self.changes[triangle],
                near,
            });
        }
    }

    /// The mesh as it is now.
    pub(super) fn mesh(&self) -> Mesh {
        let corners = self.triangles.vertices().map(|corner| {
            let corner = corner.data();
            let place = self.lattice.place(corner.col as usize, corner.row as usize);
            place.map(|at| at as f32)
        });
        let vertices: Vec<_> = corners.collect();
        let faces = self.triangles.inner_faces();
        let triangles: Vec<_> = faces
            .map(|face| face.vertices().map(|corner| corner.fix().index() as u32))
            .collect();
        Mesh {
            of_land: triangles.len(),
            land_vertices: vertices.len(),
            vertices,
            triangles,
            ..Mesh::default()
        }
    }
}
