//! A mesh as a camera sees it: shaded by the sun, with its edges over it when they are
//! wanted. Two meshes seen by one camera can be laid side by side.

use glam::DVec3;
use rayon::prelude::*;

use super::Mesh;
use crate::light::Sun;
use crate::{Cancelled, Extent, Grid, Run};

/// From where a land is looked at, as a whole or more closely.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Camera {
    /// Compass bearing of where the camera stands, seen from what it looks at, degrees.
    pub bearing_deg: f64,
    /// How high it stands over the horizon, degrees; 90 is straight above.
    pub altitude_deg: f64,
    /// 1 shows the whole land, 2 half of it.
    pub zoom: f64,
    /// What it looks at: shares of the land from west to east and from south to north.
    pub at: [f64; 2],
}

/// How a mesh is drawn.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drawn {
    /// Columns and rows of the picture.
    pub size: [usize; 2],
    /// Smooth over the land, or each triangle for itself.
    pub smooth: bool,
    /// With the edges of triangles.
    pub edges: bool,
    /// Where the light comes from.
    pub sun: Sun,
}

/// How wide the camera sees, degrees from top to bottom.
const VIEW_DEG: f64 = 30.0;
/// Each pixel is the mean of so many squared.
const FINER: usize = 2;
/// Rows that are drawn at one go.
const BAND: usize = 64;
/// Half the width of an edge, finer pixels.
const EDGE: f64 = 0.75;
/// The land takes this share of the picture at most.
const FILLED: f64 = 0.94;
/// Times that the distance of the camera is narrowed down.
const HALVINGS: usize = 24;
/// Clay in linear light, what lies behind it, and the ink of edges.
const CLAY: [f64; 3] = [0.46, 0.40, 0.33];
const BEHIND: [f64; 3] = [0.92, 0.90, 0.86];
const INK: [f64; 3] = [0.05, 0.07, 0.10];
/// Share of the light that comes from all sides.
const FROM_ALL_SIDES: f64 = 0.28;

/// Draws a mesh of a land of this extent, sRGB.
///
/// # Errors
/// [`Cancelled`] when the run was asked to stop.
pub fn pictured(
    mesh: &Mesh,
    extent: Extent,
    camera: &Camera,
    drawn: &Drawn,
    run: Run,
) -> Result<Grid<[u8; 3]>, Cancelled> {
    let [cols, rows] = drawn.size.map(|side| side * FINER);
    let view = View::of(mesh, extent, camera, [cols, rows]);
    let seen: Vec<Seen> = mesh.vertices.par_iter().map(|at| view.seen(*at)).collect();
    run.check()?;
    let light = Light::of(mesh, drawn);
    let mut fine = vec![BEHIND; cols * rows];
    let bands = fine.par_chunks_mut(cols * BAND).enumerate();
    bands.for_each(|(band, pixels)| {
        let mut band = Band {
            first: band * BAND,
            cols,
            depth: vec![f64::INFINITY; pixels.len()],
            pixels,
            edges: drawn.edges,
            no_edge: None,
        };
        for (index, triangle) in mesh.triangles.iter().enumerate() {
            // A quad has no diagonal: that is across from the second corner of its first
            // triangle, and from the third of its second.
            let pair = mesh.pairs_from.and_then(|from| index.checked_sub(from));
            band.no_edge = pair.map(|index| 1 + index % 2);
            band.draw(*triangle, &seen, |shares| {
                light.of_triangle(mesh, index, shares)
            });
        }
    });
    run.check()?;
    let share = 1.0 / (FINER * FINER) as f64;
    Ok(Grid::by_rows(drawn.size[0], drawn.size[1], |r, row| {
        for (c, pixel) in row.iter_mut().enumerate() {
            let mut sum = [0.0; 3];
            for y in 0..FINER {
                for x in 0..FINER {
                    let fine = fine[(r * FINER + y) * cols + c * FINER + x];
                    for (sum, part) in sum.iter_mut().zip(fine) {
                        *sum += share * part;
                    }
                }
            }
            let [r, g, b] = sum.map(|part| part as f32);
            *pixel = crate::ground::Colour { r, g, b }.to_srgb8();
        }
    }))
}

/// The camera in the world.
struct View {
    eye: DVec3,
    right: DVec3,
    up: DVec3,
    forward: DVec3,
    /// Pixels for a slope of one.
    focal: f64,
    middle: [f64; 2],
}

/// A vertex on the picture: column, row, how far away; behind the camera it has no place.
type Seen = Option<[f64; 3]>;

impl View {
    fn of(mesh: &Mesh, extent: Extent, camera: &Camera, [cols, rows]: [usize; 2]) -> Self {
        let heights = mesh.vertices[..mesh.land_vertices]
            .iter()
            .map(|at| f64::from(at[2]));
        let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), up| {
            (low.min(up), high.max(up))
        });
        let middle_m = if low <= high { 0.5 * (low + high) } else { 0.0 };
        let [x, y] = camera.at;
        let target = DVec3::new(x * extent.width_m, y * extent.depth_m, middle_m);
        let (bearing, altitude) = (
            camera.bearing_deg.to_radians(),
            camera.altitude_deg.clamp(5.0, 90.0).to_radians(),
        );
        let towards = DVec3::new(
            bearing.sin() * altitude.cos(),
            bearing.cos() * altitude.cos(),
            altitude.sin(),
        );
        // Level with the horizon to the right, whatever the height of the camera.
        let right = DVec3::new(-bearing.cos(), bearing.sin(), 0.0);
        let forward = -towards;
        let middle = [0.5 * cols as f64, 0.5 * rows as f64];
        let focal = middle[1] / (0.5 * VIEW_DEG).to_radians().tan();
        let view = |eye| Self {
            eye,
            right,
            up: right.cross(forward),
            forward,
            focal,
            middle,
        };
        // So far away that the whole land is seen from over its middle.
        let centre = DVec3::new(0.5 * extent.width_m, 0.5 * extent.depth_m, middle_m);
        let (east, north) = (extent.width_m as f32, extent.depth_m as f32);
        let corners = [[0.0, 0.0], [east, 0.0], [0.0, north], [east, north]];
        let (low, high) = match low <= high {
            true => (low as f32, high as f32),
            false => (0.0, 0.0),
        };
        let fits = |away: f64| {
            let view = view(centre + towards * away);
            let ends = corners
                .iter()
                .flat_map(|[x, y]| [[*x, *y, low], [*x, *y, high]]);
            let mut seen = ends.map(|at| view.seen(at));
            seen.all(|seen| {
                seen.is_some_and(|[x, y, _]| {
                    let off = [(x / middle[0] - 1.0).abs(), (y / middle[1] - 1.0).abs()];
                    off.iter().all(|off| *off < FILLED)
                })
            })
        };
        let (mut near, mut far) = (0.0, 20.0 * extent.longest_m());
        for _ in 0..HALVINGS {
            let between = 0.5 * (near + far);
            match fits(between) {
                true => far = between,
                false => near = between,
            }
        }
        view(target + towards * far / camera.zoom.max(0.1))
    }

    fn seen(&self, at: [f32; 3]) -> Seen {
        let from = DVec3::from(at.map(f64::from)) - self.eye;
        let far = from.dot(self.forward);
        (far > 1.0).then(|| {
            let scale = self.focal / far;
            [
                self.middle[0] + from.dot(self.right) * scale,
                self.middle[1] - from.dot(self.up) * scale,
                far,
            ]
        })
    }
}

/// What light falls on a mesh.
struct Light {
    sun: DVec3,
    /// Directions at the vertices of land, when it is drawn smoothly.
    normals: Option<Vec<[f32; 3]>>,
}

impl Light {
    fn of(mesh: &Mesh, drawn: &Drawn) -> Self {
        Self {
            sun: DVec3::from(drawn.sun.direction().map(f64::from)),
            normals: drawn.smooth.then(|| mesh.smooth_normals()),
        }
    }

    /// The colour of a triangle where its corners count with these shares.
    fn of_triangle(&self, mesh: &Mesh, index: usize, shares: [f64; 3]) -> [f64; 3] {
        let triangle = mesh.triangles[index];
        let direction = match &self.normals {
            Some(normals) if index < mesh.of_land => {
                let corner = |at: usize| DVec3::from(normals[triangle[at] as usize].map(f64::from));
                (corner(0) * shares[0] + corner(1) * shares[1] + corner(2) * shares[2])
                    .normalize_or(DVec3::Z)
            }
            _ => DVec3::from(mesh.facing(triangle).map(f64::from)),
        };
        let lit = direction.dot(self.sun).max(0.0);
        let sky = 0.5 + 0.5 * direction.z;
        let light = FROM_ALL_SIDES * sky + (1.0 - FROM_ALL_SIDES) * 1.5 * lit;
        CLAY.map(|part| part * light)
    }
}

/// Some rows of the picture, with how far away what is in them is.
struct Band<'a> {
    first: usize,
    cols: usize,
    depth: Vec<f64>,
    pixels: &'a mut [[f64; 3]],
    edges: bool,
    /// The corner across from which there is no edge to be drawn.
    no_edge: Option<usize>,
}

impl Band<'_> {
    fn draw(&mut self, triangle: [u32; 3], seen: &[Seen], colour: impl Fn([f64; 3]) -> [f64; 3]) {
        let [Some(a), Some(b), Some(c)] = triangle.map(|vertex| seen[vertex as usize]) else {
            return;
        };
        let rows = self.depth.len() / self.cols;
        let (top, bottom) = (a[1].min(b[1]).min(c[1]), a[1].max(b[1]).max(c[1]));
        let (left, right) = (a[0].min(b[0]).min(c[0]), a[0].max(b[0]).max(c[0]));
        let first = self.first as f64;
        if bottom < first || top >= first + rows as f64 || right < 0.0 || left >= self.cols as f64 {
            return;
        }
        // Twice its area; seen from behind it is below 0, for rows go down.
        let area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
        if area >= 0.0 {
            return;
        }
        let across = |p: [f64; 3], q: [f64; 3]| (q[0] - p[0]).hypot(q[1] - p[1]).max(1e-9);
        // How far a corner is from the edge across from it, pixels.
        let far = [across(b, c), across(c, a), across(a, b)].map(|edge| -area / edge);
        let row_of = |at: f64| (at - first).clamp(0.0, rows as f64) as usize;
        for row in row_of(top.floor())..row_of(bottom.ceil()) {
            let y = (self.first + row) as f64 + 0.5;
            let from = left.floor().max(0.0) as usize;
            let to = right.ceil().min(self.cols as f64) as usize;
            for col in from..to {
                let x = col as f64 + 0.5;
                let share = |p: [f64; 3], q: [f64; 3]| {
                    ((q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0])) / area
                };
                let on_screen = [share(b, c), share(c, a), share(a, b)];
                if on_screen.iter().any(|share| *share < 0.0) {
                    continue;
                }
                // What is farther away takes less of the picture.
                let near = [
                    on_screen[0] / a[2],
                    on_screen[1] / b[2],
                    on_screen[2] / c[2],
                ];
                let depth = 1.0 / (near[0] + near[1] + near[2]);
                let at = row * self.cols + col;
                if depth >= self.depth[at] {
                    continue;
                }
                self.depth[at] = depth;
                let mut pixel = colour(near.map(|share| share * depth));
                if self.edges {
                    let edges = on_screen.iter().zip(far).enumerate();
                    let edges = edges.filter(|(corner, _)| Some(*corner) != self.no_edge);
                    let edge = edges.map(|(_, (share, far))| share * far);
                    let edge = edge.fold(f64::INFINITY, f64::min);
                    let ink = (1.0 - (edge - EDGE)).clamp(0.0, 1.0) * 0.7;
                    for (part, dark) in pixel.iter_mut().zip(INK) {
                        *part += (dark - *part) * ink;
                    }
                }
                self.pixels[at] = pixel;
            }
        }
    }
}
