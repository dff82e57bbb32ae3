//! Steep ground as a mesh apart: quads as long as they are wide, which follow the slope, to be
//! displaced; and the rest of the land with a hole for them, whose border is theirs.
//!
//! A land seen from above has few places on a wall. The quads are a surface net (Gibson
//! 1998): one vertex in each cube that the surface passes through, one quad across each edge
//! that crosses it, so that slopes and walls get as many for their area. The cubes stand on
//! each piece of cliff, so that quads go along its contours and up its slope. The vertices are then moved along the surface until they are even ([`evened`]), and the land
//! around is triangulated anew with their border as constraints ([`cut`], constrained
//! Delaunay triangulation, Chew 1989, by the `spade` crate).

mod cut;
mod evened;
mod net;
mod patches;
mod sound;
mod surface;

use super::{Lattice, Mesh};
use crate::shape::blurred_to_the_edge;
use crate::{Cancelled, Grid, Run};

use net::Net;
use surface::Surface;

/// A land in two meshes that meet without a gap: vertices along the seam are the same in both.
#[derive(Clone, Debug, PartialEq)]
pub struct Parted {
    /// The land without its cliffs.
    pub land: Mesh,
    /// The cliffs, in quads.
    pub cliffs: Mesh,
    /// How long their edges are.
    pub edges: Edges,
}

/// How long the edges of quads are, metres.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Edges {
    /// Of all of them.
    pub mean_m: f64,
    /// One in a hundred is shorter.
    pub short_m: f64,
    /// One in a hundred is longer.
    pub long_m: f64,
}

/// Fewer quads than these in one place stay land.
const FEW: usize = 24;
/// Over so many edges the border of cliffs is smoothed.
const SOFTENED: f64 = 1.2;
/// Rounds of leaving out what cannot be cut; each takes something away.
const ROUNDS: usize = 64;

/// Parts a land in triangles into what `mask` says are cliffs, from a half up, and the rest;
/// `mask` is on the cells of `frame`, and quads are `edge_m` long. Nothing when there are no
/// cliffs as large as a few quads.
///
/// # Errors
/// [`Cancelled`] when the run was asked to stop.
pub fn parted(
    lattice: &Lattice,
    land: &Mesh,
    mask: (&Grid, &crate::Frame),
    edge_m: f64,
    run: Run,
) -> Result<Option<Parted>, Cancelled> {
    let surface = Surface::of(lattice);
    // Patches of a quad or two would be all seam.
    let (mask, frame) = mask;
    let softened = blurred_to_the_edge(mask, SOFTENED * edge_m, frame.cell_m);
    let mut net = Net::over(&surface, (&softened, frame), edge_m);
    for _ in 0..ROUNDS {
        run.check()?;
        sound::keep_sound(&mut net.quads, FEW);
        if net.quads.is_empty() {
            return Ok(None);
        }
        let places = evened::evened(&net, &surface);
        let folded = sound::folded(&net.quads, &places);
        if !folded.is_empty() {
            net.leave_out(&folded);
            continue;
        }
        let cliffs = net.mesh(&places);
        match cut::cut_out(land, &cliffs, edge_m) {
            Ok(around) => {
                let (land, cliffs) = with_common_directions(around, cliffs);
                let edges = Edges::of(&cliffs);
                return Ok(Some(Parted {
                    land,
                    cliffs,
                    edges,
                }));
            }
            Err(crossing) => net.leave_out_at(&crossing, &places),
        }
    }
    Ok(None)
}

impl Edges {
    fn of(cliffs: &Mesh) -> Self {
        let mut lengths: Vec<f64> = cliffs
            .quads()
            .flat_map(|[a, b, c, d]| [[a, b], [b, c], [c, d], [d, a]])
            .map(|ends| {
                let [a, b] =
                    ends.map(|end| glam::DVec3::from(cliffs.vertices[end as usize].map(f64::from)));
                a.distance(b)
            })
            .collect();
        lengths.sort_by(f64::total_cmp);
        let count = lengths.len().max(1);
        let at = |share: f64| lengths.get((share * count as f64) as usize).copied();
        Self {
            mean_m: lengths.iter().sum::<f64>() / count as f64,
            short_m: at(0.01).unwrap_or_default(),
            long_m: at(0.99).unwrap_or_default(),
        }
    }
}

/// Along the seam both are shaded as one: directions are those of all triangles around.
fn with_common_directions(mut land: Mesh, mut cliffs: Mesh) -> (Mesh, Mesh) {
    let bits = |at: &[f32; 3]| at.map(f32::to_bits);
    let mut across = std::collections::HashMap::new();
    for mesh in [&land, &cliffs] {
        for (vertex, sum) in mesh.sums_around().into_iter().enumerate() {
            let all = across
                .entry(bits(&mesh.vertices[vertex]))
                .or_insert(glam::DVec3::ZERO);
            *all += glam::DVec3::from(sum);
        }
    }
    for mesh in [&mut land, &mut cliffs] {
        let directions = mesh.vertices.iter().map(|at| {
            let sum = across.get(&bits(at)).copied().unwrap_or(glam::DVec3::Z);
            sum.normalize_or(glam::DVec3::Z).as_vec3().to_array()
        });
        mesh.directions = Some(directions.collect());
    }
    (land, cliffs)
}
