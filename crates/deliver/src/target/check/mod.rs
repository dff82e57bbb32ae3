//! Holding a wish against a target before anything is exported: one file for each kind of
//! thing that is looked at. A finding says what to do, and offers it as another wish.

mod expense;
mod ground;
mod heights;
mod meshes;
mod sides;

use recipe::grow::{Expense, TooCostly};
use recipe::{Assets, GrowError, Grower, Recipe};
use serde::Serialize;
use terrain::{Frame, Grid, Run};
use utoipa::ToSchema;

use super::Bounds;
use crate::{Order, Wish};

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Weight {
    /// The target will not take it, or it cannot be made.
    Wrong,
    /// It may not be meant.
    Doubtful,
}

/// Something that the target will not take, or that is likely not meant.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Finding {
    /// What was looked for, one word.
    pub rule: &'static str,
    /// How much it matters.
    pub weight: Weight,
    /// What was found, with its measure, and what to do.
    pub finding: String,
    /// A way out.
    pub fix: Option<Fix>,
}

/// Another wish, which takes care of a finding.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Fix {
    /// What it does, for a button.
    pub label: String,
    /// The wish as it would be.
    pub wish: Wish,
}

/// What will come of a wish.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Outlook {
    /// Columns of the land.
    pub cols: usize,
    /// Rows of the land.
    pub rows: usize,
    /// Side of a cell, metres.
    pub cell_m: f64,
    /// All files together, about, bytes.
    pub file_bytes: f64,
    /// Memory that it takes, about, bytes.
    pub memory_bytes: f64,
    /// How long it takes on a machine of two cores, about, seconds.
    pub seconds: f64,
    /// One step of heights in 16 bits, metres.
    pub step_m: f32,
}

/// What was found, and what will come.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Checked {
    /// What was found, what matters most first.
    pub findings: Vec<Finding>,
    /// What will come of it, when it can be made.
    pub outlook: Option<Outlook>,
}

/// What the rules look at.
pub(super) struct Looked<'a> {
    recipe: &'a Recipe,
    wish: &'a Wish,
    order: &'a Order,
    bounds: &'a Bounds,
    frame: Frame,
    /// The land, coarse.
    heights: Grid,
    expense: Result<Expense, Box<TooCostly>>,
    grower: &'a Grower,
}

/// Cells along the longer side on which the land is looked at.
pub const CHECK_CELLS: usize = 256;

/// Holds a wish against what its target may be; without a target only against what can be
/// made.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn check(
    grower: &Grower,
    (recipe, assets): (&Recipe, &dyn Assets),
    wish: &Wish,
    bounds: &Bounds,
    run: Run,
) -> Result<Checked, GrowError> {
    let order = match Order::of(wish, recipe) {
        Ok(order) => order,
        Err(finding) => {
            let finding = ground::cannot_be(recipe, wish, finding);
            return Ok(Checked {
                findings: vec![finding],
                outlook: None,
            });
        }
    };
    let extent = recipe.extent.into();
    let frame = Frame::with_cells(extent, order.cells);
    let coarse = Frame::with_cells(extent, CHECK_CELLS.min(order.cells));
    let heights = grower.land(recipe, assets, &coarse, run)?.heights();
    let largest = Frame::with_cells(extent, order.finest_cells());
    let looked = Looked {
        recipe,
        wish,
        order: &order,
        bounds,
        frame,
        heights,
        expense: grower.takes(recipe, &largest),
        grower,
    };
    let rules: [fn(&Looked) -> Option<Finding>; 14] = [
        sides::too_many,
        sides::not_a_grid,
        sides::not_square,
        sides::overhanging,
        heights::coarse_steps,
        heights::cut_off,
        heights::in_steps,
        heights::beyond_halves,
        ground::missing,
        ground::too_many_covers,
        meshes::too_many_triangles,
        meshes::open,
        meshes::large_textures,
        expense::too_large,
    ];
    let mut findings: Vec<Finding> = rules.iter().filter_map(|rule| rule(&looked)).collect();
    findings.extend(expense::cannot_be_made(&looked));
    findings.sort_by_key(|finding| finding.weight);
    let outlook = expense::outlook(&looked);
    Ok(Checked { findings, outlook })
}

impl Looked<'_> {
    /// A finding, and the wish changed so that it goes away.
    fn found(
        &self,
        (rule, weight): (&'static str, Weight),
        finding: String,
        (label, change): (String, impl FnOnce(&mut Wish)),
    ) -> Finding {
        let mut wish = self.wish.clone();
        change(&mut wish);
        Finding {
            rule,
            weight,
            finding,
            fix: Some(Fix { label, wish }),
        }
    }

    /// Whether heights are written in 16-bit steps.
    fn has_steps(&self) -> bool {
        let layers = &self.order.layers;
        layers.contains(&crate::Layer::Height16)
            || (self.order.fields.in_steps() && layers.contains(&crate::Layer::Height))
    }
}
