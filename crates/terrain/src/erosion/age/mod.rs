//! Land as it ages: it rises, rivers cut it, slopes give way, and what was cut is
//! carried and laid down.
//!
//! * Rivers follow the stream power law, solved implicitly from the outlets up (Braun
//!   and Willett 2013), and lay down part of what they carry (Davy and Lague 2009, in
//!   the form of Yuan et al. 2019): dh/dt = U − K·Aᵐ·Sⁿ + G/A·∫(U − dh/dt)dA.
//! * No place stands more steeply above the one that it drains to than its rock
//!   allows: what is above it slides, and goes the way of the sediment.
//! * Above the heads of rivers debris flows cut: slopes stop growing with less and less
//!   area, so that the finest channels meet the crest (Stock and Dietrich 2003).
//! * Rivers that are not steep wander, and plane floors (Langston and Tucker 2018).
//! * In the end rivers raise their beds, bury what lies lower beside them, and cut into it
//!   again, so that terraces stay (Bull 1991).
//! * Soil creeps, the faster the nearer a slope is to the steepest that stands (Roering,
//!   Kirchner and Dietrich 1999), as far as the grid can show.
//! * Hollows fill with what arrives in them; the sea is one of them.
//!
//! Water is routed on [nodes](super::nodes), so that no direction is preferred.
//! Deterministic for any number of threads.

mod carry;
mod creep;
mod fill;
mod floors;
mod grove;
mod outlets;
mod plumes;
mod refined;
mod terraces;

use self::carry::{Carried, Step};
use self::creep::{STABLE, Slope, creep_row};
use super::drainage::{Drainage, FlowDirections, drain, drain_nodes};
use super::nodes::Nodes;
use crate::{Cancelled, Frame, Grid, Run};

pub use outlets::{Outlets, Side};
pub use refined::{keep_means, round_bottoms};

/// What makes land age. Rates per year.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct AgeLaw {
    /// Erodibility K of common rock, m^(1−2m) per year.
    pub erodibility: f64,
    /// Exponent m of the drainage area.
    pub area_exponent: f64,
    /// Exponent n of the slope.
    pub slope_exponent: f64,
    /// The drainage area below which debris flows cut rather than rivers, m²; 0 for rivers
    /// alone. Steady slopes go as 1 / (A₀ᵐ + Aᵐ) with it.
    pub debris_m2: f64,
    /// How drainage area adds up. What is cut goes down the steepest way either way.
    pub directions: FlowDirections,
    /// How readily rivers lay down what they carry: G, 0 not at all, 1 as readily as
    /// is common (Guerit et al. 2019, median 0.7 to 1.7, from memory).
    pub deposition: f64,
    /// Width of the floor that a river makes for itself where 1 km² drains through it,
    /// metres; 0 for none.
    pub floors_m: f64,
    /// By how much a river raises its bed in the end where 1 km² drains through it, metres; 0
    /// for none. See [`Aging::fill_valleys`].
    pub fill_m: f64,
    /// The share of that depth which rivers cut away again where they wander: 0 for none.
    pub terraces: f64,
    /// The share of what comes to a place on the sea floor in a step that stays there.
    pub sea_takes: f64,
    /// Diffusivity of soil, m² per year.
    pub diffusivity: f64,
    /// Below this lies the sea, metres.
    pub sea_level_m: f64,
}

/// The ground of each cell.
#[derive(Clone, Copy, Debug)]
pub struct Ground<'a> {
    /// How fast it rises, metres per year.
    pub uplift: &'a Grid,
    /// How readily it gives: 1 for common rock, 0 not at all.
    pub erodibility: &'a Grid,
    /// Tangent of the steepest slope that stands.
    pub critical_slope: &'a Grid,
}

/// Land on the cells of one grid, aging.
pub struct Aging {
    nodes: Nodes,
    outlets: Outlets,
    frame: Frame,
    /// Whether `wear`, `deposit` and `lowered` are kept; 0 when not.
    books: bool,
    /// Heights, metres.
    pub heights: Grid,
    /// Ground taken away so far, metres.
    pub wear: Grid,
    /// Ground laid down so far, metres.
    pub deposit: Grid,
    /// How fast the ground has been lowered of late against what rises, metres per
    /// year; below 0 where it is built up.
    pub lowered: Grid,
    /// Sediment that has left over the outlets, m³.
    pub carried_off_m3: f64,
    /// Where the water went in the last step, and how much land drains through each
    /// cell, in cells.
    pub drainage: Option<(Drainage, Vec<f32>)>,
}

/// Of what the grid can show of creep in a step, D·dt/dx² in all parts together. More
/// would take long and smooth away what the next grid finds anew.
const MOST_CREEP: f64 = 0.5;
/// The same for the mud of the sea floor at least.
const SEA_CREEP: f64 = 0.08;
/// Ground that gives less is firm: nothing cuts it, nothing slides, nothing creeps.
pub const FIRM: f32 = 1e-6;

impl Aging {
    /// Land on the cells of `frame` that water leaves over `outlets`.
    pub fn on(heights: Grid, frame: &Frame, outlets: Outlets) -> Self {
        let none = || Grid::filled(frame.cols, frame.rows, 0.0);
        Self {
            nodes: Nodes::of(frame),
            outlets,
            frame: *frame,
            books: true,
            wear: none(),
            deposit: none(),
            lowered: none(),
            heights,
            carried_off_m3: 0.0,
            drainage: None,
        }
    }

    /// The same, where nobody asks for what was moved.
    pub fn without_books(self) -> Self {
        let books = false;
        Self { books, ..self }
    }

    /// Lets `years` go by in one step, which may be of any length.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop; the land is then unspecified.
    pub fn step(
        &mut self,
        ground: Ground,
        law: AgeLaw,
        years: f64,
        run: Run,
    ) -> Result<(), Cancelled> {
        // It is large, and made anew.
        self.drainage = None;
        let before = self.nodes.heights(&self.heights);
        let (outlets, sea) = (self.outlets.cells(), law.sea_level_m as f32);
        let drainage = drain_nodes(&before, &self.nodes, outlets, sea, run)?;
        let step = Step {
            heights: &before,
            drainage: &drainage,
            nodes: &self.nodes,
            ground,
            law,
            cell_m: self.frame.cell_m,
            years,
        };
        let Carried {
            mut lowered,
            mut carried_off,
            area,
        } = step.carry(run)?;
        let raise = years as f32;
        let moves = self.moves(ground);
        if law.sea_takes > 0.0 {
            carried_off += plumes::spread(&mut lowered, &before, &moves, sea, run)?;
        }
        self.carried_off_m3 += carried_off * self.frame.cell_m * self.frame.cell_m;
        let cols = self.heights.cols();
        self.heights.for_each_row(|r, row| {
            let (lowered, uplift) = (lowered.row(r), ground.uplift.row(r));
            for (c, height) in row.iter_mut().enumerate() {
                if moves[r * cols + c] {
                    *height += uplift[c] * raise - lowered[c];
                }
            }
        });
        let crept = self.creep(&moves, ground, law, years, run)?;
        self.carried_off_m3 -= crept.sum() * self.frame.cell_m * self.frame.cell_m;
        if self.books {
            self.book(&lowered, &crept);
            let per_year = 1.0 / years as f32;
            lowered.zip_in_place(&crept, |lowered, crept| (lowered - crept) * per_year);
            self.lowered = lowered;
        }
        self.drainage = Some((drainage, area));
        Ok(())
    }

    /// The way between the nodes of two neighbouring cells, metres.
    pub fn reach_m(&self, from: usize, to: usize) -> f64 {
        self.frame.cell_m / f64::from(self.nodes.between(from, to))
    }

    /// Fills every hollow to its brim: what is too small for a step to have filled, and
    /// what a grid's nodes drain and its centres do not.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill_hollows(&mut self, law: AgeLaw, run: Run) -> Result<(), Cancelled> {
        self.heights = drain(&self.heights, law.sea_level_m as f32, run)?.filled;
        Ok(())
    }

    /// Wear and deposit of what was lowered and what crept in.
    fn book(&mut self, lowered: &Grid, crept: &Grid) {
        let net = |r: usize, c: usize| crept.at(c, r) - lowered.at(c, r);
        self.wear.for_each_row(|r, row| {
            for (c, wear) in row.iter_mut().enumerate() {
                *wear += (-net(r, c)).max(0.0);
            }
        });
        self.deposit.for_each_row(|r, row| {
            for (c, deposit) in row.iter_mut().enumerate() {
                *deposit += net(r, c).max(0.0);
            }
        });
    }

    /// Whether each cell rises where it `gives` at all: outlets on land do not, for they keep
    /// their height; what rises under those at sea leaves over them.
    pub fn uplift(&self, erodibility: &Grid, sea_level_m: f64) -> Vec<bool> {
        let sea = sea_level_m as f32;
        let outlets = self.outlets.cells().iter();
        let cells = outlets.zip(self.heights.values()).zip(erodibility.values());
        cells
            .map(|((&outlet, &height), &erodibility)| {
                erodibility > FIRM && !(outlet && height >= sea)
            })
            .collect()
    }

    /// Whether each cell moves at all: outlets and firm ground do not.
    fn moves(&self, ground: Ground) -> Vec<bool> {
        let erodibility = ground.erodibility.values().iter();
        let outlets = self.outlets.cells().iter();
        erodibility
            .zip(outlets)
            .map(|(&erodibility, &outlet)| erodibility > FIRM && !outlet)
            .collect()
    }

    /// Soil creeps: by how much each cell gained, metres. Nothing crosses the border.
    fn creep(
        &mut self,
        moves: &[bool],
        ground: Ground,
        law: AgeLaw,
        years: f64,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let (cols, rows) = (self.heights.cols(), self.heights.rows());
        let number =
            (law.diffusivity * years / (self.frame.cell_m * self.frame.cell_m)).min(MOST_CREEP);
        let at_sea = number.max(SEA_CREEP);
        let parts = (at_sea / STABLE).ceil() as usize;
        let [share, at_sea] = [number, at_sea].map(|number| (number / parts as f64) as f32);
        let sea = law.sea_level_m as f32;
        let cell = self.frame.cell_m as f32;
        let start = self.heights.clone();
        let mut before = start.clone();
        for part in 0..parts {
            run.check()?;
            if part > 0 {
                before.values_mut().copy_from_slice(self.heights.values());
            }
            self.heights.for_each_row(|r, row| {
                let near = [r.saturating_sub(1), r, (r + 1).min(rows - 1)];
                let slope = Slope {
                    heights: near.map(|r| before.row(r)),
                    critical_slope: near.map(|r| ground.critical_slope.row(r)),
                    moves: &moves[r * cols..(r + 1) * cols],
                };
                creep_row(slope, (share, at_sea, sea), cell, row);
            });
        }
        Ok(self.heights.zip_map(&start, |after, before| after - before))
    }
}
