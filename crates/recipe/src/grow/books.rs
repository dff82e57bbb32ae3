//! The account of a process, told while it is at work.

use terrain::erosion::{Account, Adjustment, Ledger, Let, Volume};
use terrain::{Extent, Frame, Grid};

use super::ProcessOutput;
use crate::steps::{DEPOSIT, WEAR};

/// Volumes over the cells of one grid, on the land and around it.
#[derive(Clone, Debug)]
pub(crate) struct Ground {
    cell_area_m2: f64,
    /// How much of each column and each row of cells lies on the land, 0 to 1.
    cols: Vec<f64>,
    rows: Vec<f64>,
}

impl Ground {
    /// The cells of `frame`, of which only a part may lie on the land, and of a cell only a
    /// part too.
    pub(crate) fn of(frame: &Frame, extent: Extent) -> Self {
        let part = |centre_m: f64, longest_m: f64| {
            let (low, high) = (centre_m - 0.5 * frame.cell_m, centre_m + 0.5 * frame.cell_m);
            (high.min(longest_m) - low.max(0.0)).max(0.0) / frame.cell_m
        };
        let cols = (0..frame.cols).map(|c| part(frame.x_m(c), extent.width_m));
        let rows = (0..frame.rows).map(|r| part(frame.y_m(r), extent.depth_m));
        Self {
            cell_area_m2: frame.cell_area_m2(),
            cols: cols.collect(),
            rows: rows.collect(),
        }
    }

    /// The volume under a field of metres.
    pub(crate) fn volume(&self, field: &Grid) -> Volume {
        self.sums(|r| field.row(r).iter().map(|&value| f64::from(value)))
    }

    /// The sum over all cells, and over those of the land, of what `row` tells of each row.
    fn sums<V: Iterator<Item = f64>>(&self, row: impl Fn(usize) -> V) -> Volume {
        let mut sum = Volume::default();
        for (r, on_land) in self.rows.iter().enumerate() {
            let (mut land, mut all) = (0.0, 0.0);
            for (value, share) in row(r).zip(&self.cols) {
                all += value;
                land += value * share;
            }
            sum.all_m3 += all * self.cell_area_m2;
            sum.land_m3 += land * on_land * self.cell_area_m2;
        }
        sum
    }
}

/// Where a process stands with its account on one grid.
pub struct Books {
    ground: Ground,
    account: Account,
    /// The volume under the heights as they were when last looked at.
    at: Volume,
}

impl Books {
    pub(super) fn open(ground: Ground, account: Account, at: Volume) -> Self {
        Self {
            ground,
            account,
            at,
        }
    }

    /// The heights have become `now` by the process itself, which says that so much left over
    /// the outlets.
    pub fn moved(&mut self, now: &Grid, carried_off_m3: f64) {
        self.carried_off(carried_off_m3);
        self.at = self.ground.volume(now);
    }

    /// So much left over the border.
    pub fn carried_off(&mut self, volume_m3: f64) {
        self.account.carried_off_m3 += volume_m3;
    }

    /// The heights have become `now` beside the process, for this reason.
    pub fn adjusted(&mut self, reason: Adjustment, now: &Grid) {
        let now = self.ground.volume(now);
        self.account.adjust(reason, now - self.at);
        self.at = now;
    }

    /// The process raises each cell by so much, for this reason; the heights have yet to follow.
    pub fn raises(&mut self, reason: Adjustment, by: &Grid) {
        self.account.adjust(reason, self.ground.volume(by));
    }

    /// So much has risen from below, coarser grids included; on a finer grid that is not
    /// quite the same.
    pub fn risen(&mut self, risen: &Grid) {
        let risen = self.ground.volume(risen);
        let coarse = std::mem::replace(&mut self.account.risen, risen);
        if coarse != Volume::default() {
            self.account.adjust(Adjustment::FinerGrid, coarse - risen);
        }
    }

    /// Ground that was brought in from outside.
    pub fn added(&mut self, by: &Grid) {
        self.account.added += self.ground.volume(by);
    }

    /// The account, where the land has changed by `change` in all.
    pub fn close(mut self, change: &Grid) -> Account {
        self.account.gained = self.ground.volume(change);
        self.account
    }
}

impl ProcessOutput {
    /// What became of the ground of the land, which is `extent` large.
    pub(super) fn ledger(&self, extent: Extent) -> Ledger {
        let ground = Ground::of(&self.frame, extent);
        let of = |product| match self.products.field(product) {
            Some(field) => ground.volume(&field.grid()).land_m3,
            None => 0.0,
        };
        let worn_m3 = of(WEAR);
        let dropped_m3 = match self.products.field(DEPOSIT) {
            Some(_) => of(DEPOSIT),
            // What only covers the land lies where it has risen.
            None => self.account.gained.land_m3 + worn_m3 - self.account.risen.land_m3,
        };
        self.account.of_land(worn_m3, dropped_m3)
    }

    /// What of it a step's `mask` lets take effect, which stands on the land's cells of this
    /// grid (`land`).
    pub(super) fn let_by(&self, mask: &Grid, land: &Frame, extent: Extent) -> Let {
        let ground = Ground::of(land, extent);
        let offset = self.frame.offset_of(land);
        let (col, row) = offset.expect("the land lies in the grid of its process");
        let of = |field: &Grid| {
            let here = |r: usize| field.row(row + r)[col..col + land.cols].iter();
            let share = |r: usize| here(r).zip(mask.row(r));
            ground.sums(|r| share(r).map(|(&value, &mask)| f64::from(value) * f64::from(mask)))
        };
        let of_product = |product| match self.products.field(product) {
            Some(field) => of(&field.grid()).land_m3,
            None => 0.0,
        };
        let gained_m3 = of(&self.change).land_m3;
        let worn_m3 = of_product(WEAR);
        Let {
            share: ground.volume(mask).land_m3 / (extent.width_m * extent.depth_m),
            worn_m3,
            dropped_m3: match self.products.field(DEPOSIT) {
                Some(_) => of_product(DEPOSIT),
                None => gained_m3 + worn_m3,
            },
            gained_m3,
        }
    }
}
