//! Land in few triangles: places are added where they are missed most.
//!
//! Greedy insertion into a Delaunay triangulation (Fowler and Little 1979; Garland and
//! Heckbert 1995, algorithm III): seen from above there is no flipped triangle and no gap
//! at any time, the distance to the land is known exactly at every place of it, and one
//! run passes through all levels of detail. The triangulation itself is that of the
//! `spade` crate, whose predicates are exact.
//!
//! Places are added in rounds, a small share of all triangles at once, neighbours after
//! one another: a land's triangles are more than the nearest memory holds, and one place
//! after the other would lead all over them. What has changed is looked at after each
//! round, on all threads.

use rayon::prelude::*;
use spade::handles::{FixedFaceHandle, FixedVertexHandle, InnerTag};
use spade::{DelaunayTriangulation, HasPosition, Point2, Triangulation};

use super::missed::{Missed, missed, worst};
use super::{Lattice, Mesh, solid};
use crate::grid::on_border;
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

/// A round adds one place for so many triangles.
const TRIANGLES_A_PLACE: usize = 16;
/// And one for so many that may still come: the last ones go where they are missed most.
const LEFT_A_PLACE: usize = 4;
/// Between looks at whether to go on.
const LOOK_EVERY: usize = 1024;
/// Triangles that a thread looks at before it asks for more.
const AT_ONCE: usize = 64;

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

impl Corner {
    fn place(&self) -> (usize, usize) {
        (self.col as usize, self.row as usize)
    }
}

impl HasPosition for Corner {
    type Scalar = f64;

    fn position(&self) -> Point2<f64> {
        self.at
    }
}

/// What is known of a triangle.
#[derive(Clone, Copy)]
struct Known {
    /// The round in which it became what it is.
    round: u32,
    /// A corner of it.
    corner: FixedVertexHandle,
    missed: Missed,
}

/// A mesh that is becoming finer.
pub(super) struct Refinement<'a> {
    lattice: &'a Lattice,
    /// Whether places of the border may be added.
    border: bool,
    triangles: DelaunayTriangulation<Corner>,
    /// Corners on the border.
    on_border: usize,
    /// Of each triangle.
    known: Vec<Known>,
    /// How many rounds there were.
    round: u32,
}

impl<'a> Refinement<'a> {
    /// Two triangles between the corners of the land.
    pub(super) fn begin(lattice: &'a Lattice, border: bool) -> Self {
        let mut begun = Self {
            lattice,
            border,
            triangles: DelaunayTriangulation::new(),
            on_border: 0,
            known: Vec::new(),
            round: 0,
        };
        let (east, south) = (lattice.cols() - 1, lattice.rows() - 1);
        begun.add_all([(0, 0), (east, 0), (0, south), (east, south)].into_iter());
        begun
    }

    /// Adds places whatever they are missed by.
    pub(super) fn add_all(&mut self, places: impl Iterator<Item = (usize, usize)>) {
        self.round += 1;
        let mut changed = Vec::new();
        let mut near = None;
        for (col, row) in places {
            near = Some(self.add(col, row, near, &mut changed));
        }
        self.look_at(&changed);
    }

    /// Adds places until the goal is reached.
    pub(super) fn until(&mut self, goal: Goal, run: Run) -> Result<(), Cancelled> {
        loop {
            run.check()?;
            let share = self.count(goal.closed) as f32 / goal.most_triangles.max(1) as f32;
            run.report(share);
            let left = goal.most_triangles.saturating_sub(self.count(goal.closed));
            let places = self.known.len().div_ceil(TRIANGLES_A_PLACE);
            let places = places.min(left.div_ceil(LEFT_A_PLACE));
            let missed = self.known.iter().map(|known| known.missed);
            let mut triangles = worst(missed, goal.error_m, places);
            triangles.truncate(self.fitting(&triangles, goal));
            if triangles.is_empty() {
                return Ok(());
            }
            triangles.sort_unstable_by_key(|&triangle| self.known[triangle].missed.along_z());
            self.add_missed_in(&triangles, run)?;
        }
    }

    /// Adds what each of these triangles misses most, if it is still what it was when the
    /// round began.
    fn add_missed_in(&mut self, triangles: &[usize], run: Run) -> Result<(), Cancelled> {
        self.round += 1;
        let mut changed = Vec::new();
        for some in triangles.chunks(LOOK_EVERY) {
            run.check()?;
            for &triangle in some {
                let known = self.known[triangle];
                if known.round < self.round {
                    // Were it there already, by some rounding, it would not be missed again.
                    self.known[triangle].missed = Missed::default();
                    let (col, row) = known.missed.place();
                    self.add(col, row, Some(known.corner), &mut changed);
                }
            }
        }
        self.look_at(&changed);
        Ok(())
    }

    /// By how much the place that is missed most is missed, metres.
    pub(super) fn worst_m(&self) -> f64 {
        let missed = self.known.iter().map(|known| known.missed.by);
        missed.fold(0.0, f64::max)
    }

    /// How many of the triangles, the first ones, can have a place added within the goal.
    fn fitting(&self, triangles: &[usize], goal: Goal) -> usize {
        let mut count = self.count(goal.closed);
        let fits = |&&triangle: &&usize| {
            let (col, row) = self.known[triangle].missed.place();
            count += self.adds(col, row, goal.closed);
            count <= goal.most_triangles
        };
        triangles.iter().take_while(fits).count()
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
        let size = (self.lattice.cols(), self.lattice.rows());
        on_border(row * size.0 + col, size)
    }

    /// Adds a place, and notes the triangles that were not there before; its corner.
    fn add(
        &mut self,
        col: usize,
        row: usize,
        near: Option<FixedVertexHandle>,
        changed: &mut Vec<FixedFaceHandle<InnerTag>>,
    ) -> FixedVertexHandle {
        let [x, y, _] = self.lattice.place(col, row);
        let place = Corner {
            at: Point2::new(x, y),
            col: col as u32,
            row: row as u32,
        };
        let before = self.triangles.num_vertices();
        let added = match near {
            Some(near) => self.triangles.insert_with_hint(place, near),
            None => self.triangles.insert(place),
        };
        let corner = added.expect("places are finite metres");
        if self.triangles.num_vertices() == before {
            return corner;
        }
        if self.is_border(col, row) {
            self.on_border += 1;
        }
        let new = Known {
            round: self.round,
            corner,
            missed: Missed::default(),
        };
        // The first one is what lies outside: it misses nothing.
        let faces = self.triangles.num_all_faces();
        self.known.resize(faces, Known { round: 0, ..new });
        // All that a new corner changes has it as a corner.
        for edge in self.triangles.vertex(corner).out_edges() {
            let Some(face) = edge.face().as_inner() else {
                continue;
            };
            let known = &mut self.known[face.index()];
            if known.round < self.round {
                changed.push(face.fix());
            }
            *known = new;
        }
        corner
    }

    /// Finds what triangles that have changed miss most.
    fn look_at(&mut self, changed: &[FixedFaceHandle<InnerTag>]) {
        let looked = |&face: &FixedFaceHandle<InnerTag>| {
            let corners = self.triangles.face(face).vertices();
            let corners = corners.map(|corner| corner.data().place());
            missed(self.lattice, corners, self.border)
        };
        let found: Vec<_> = changed
            .par_iter()
            .with_min_len(AT_ONCE)
            .map(looked)
            .collect();
        for (face, missed) in changed.iter().zip(found) {
            self.known[face.index()].missed = missed;
        }
    }

    /// The mesh as it is now.
    pub(super) fn mesh(&self) -> Mesh {
        let corners = self.triangles.vertices().map(|corner| {
            let (col, row) = corner.data().place();
            self.lattice.place(col, row).map(|at| at as f32)
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
