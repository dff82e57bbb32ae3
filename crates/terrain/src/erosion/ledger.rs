//! Where the ground went, in cubic metres.
//!
//! Two statements are kept apart, so that each can be wrong: what a process says that it
//! moved, by the account of its own kernels, and by how much the heights have changed. What
//! is done to heights beside the process (a finer grid, a rounding) is a line of its own,
//! with its reason. [`Ledger::check`] compares them.

use std::ops::{Add, AddAssign, Mul, Sub};

/// Why heights were changed beside what a process moves.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Adjustment {
    /// Interpolation to a finer grid, and detail buried there.
    FinerGrid,
    /// Uplift that makes up for what a finer grid cuts, and what it strays from coarse heights.
    KeptHeight,
    /// Bottoms of valleys, beds and banks of streams are rounded.
    Smoothed,
    /// Valleys are filled by rivers that carry more than the grid accounts for.
    ValleyFill,
    /// Depressions are filled, or their rims cut through.
    Depressions,
    /// The border is lowered with the land beside it.
    Border,
    /// A step's mask leaves out one end of the way that ground took.
    Masked,
}

impl Adjustment {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::FinerGrid,
        Self::KeptHeight,
        Self::Smoothed,
        Self::ValleyFill,
        Self::Depressions,
        Self::Border,
        Self::Masked,
    ];

    /// The reason as it is shown.
    pub const fn title(self) -> &'static str {
        match self {
            Self::FinerGrid => "Change to a finer grid",
            Self::KeptHeight => "Mean height kept on finer grids",
            Self::Smoothed => "Beds and banks smoothed",
            Self::ValleyFill => "Valley fill",
            Self::Depressions => "Depressions filled or breached",
            Self::Border => "Border lowered with the land beside it",
            Self::Masked => "Cut off by the mask",
        }
    }
}

/// Volumes by the reason for which ground was added (above 0) or taken away, m³.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Adjusted([f64; Adjustment::ALL.len()]);

impl Adjusted {
    /// What was adjusted for one reason, m³.
    pub fn of(&self, reason: Adjustment) -> f64 {
        self.0[reason as usize]
    }

    /// Adjusts by more.
    pub fn add(&mut self, reason: Adjustment, volume_m3: f64) {
        self.0[reason as usize] += volume_m3;
    }

    /// All reasons together, m³.
    pub fn sum(&self) -> f64 {
        self.0.iter().sum()
    }

    /// The reasons for which anything was adjusted, m³.
    pub fn lines(&self) -> impl Iterator<Item = (Adjustment, f64)> + use<> {
        let all = Adjustment::ALL.into_iter().zip(self.0);
        all.filter(|&(_, volume_m3)| volume_m3 != 0.0)
    }
}

impl Mul<f64> for Adjusted {
    type Output = Self;

    fn mul(self, factor: f64) -> Self {
        Self(self.0.map(|volume_m3| volume_m3 * factor))
    }
}

/// A volume on the land, and on all ground that a process worked on: the country around the
/// land too. m³.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Volume {
    /// On the land alone.
    pub land_m3: f64,
    /// On all of the grid.
    pub all_m3: f64,
}

impl Add for Volume {
    type Output = Self;

    fn add(self, more: Self) -> Self {
        Self {
            land_m3: self.land_m3 + more.land_m3,
            all_m3: self.all_m3 + more.all_m3,
        }
    }
}

impl AddAssign for Volume {
    fn add_assign(&mut self, more: Self) {
        *self = *self + more;
    }
}

impl Sub for Volume {
    type Output = Self;

    fn sub(self, less: Self) -> Self {
        Self {
            land_m3: self.land_m3 - less.land_m3,
            all_m3: self.all_m3 - less.all_m3,
        }
    }
}

impl Volume {
    /// On the country around the land, m³.
    fn around_m3(self) -> f64 {
        self.all_m3 - self.land_m3
    }
}

/// What a process has moved, all its grids up to now, as its kernels tell it.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Account {
    /// Uplift.
    pub risen: Volume,
    /// What was brought in from outside: sediment, snow.
    pub added: Volume,
    /// What left over the outlets of the grid, m³.
    pub carried_off_m3: f64,
    /// Ground added or taken away beside the process.
    adjusted: [Volume; Adjustment::ALL.len()],
    /// By how much heights have changed: measured, not told.
    pub gained: Volume,
}

impl Account {
    /// Adjusts by more.
    pub fn adjust(&mut self, reason: Adjustment, by: Volume) {
        self.adjusted[reason as usize] += by;
    }

    /// What it says of the land alone, where so much of it was `worn` and laid down
    /// (`dropped`), m³. What leaves the land is what leaves the grid and what has come to
    /// lie around the land meanwhile; if that is below 0, it came from there.
    pub fn of_land(&self, worn_m3: f64, dropped_m3: f64) -> Ledger {
        let adjusted = self.adjusted.map(|volume| volume.land_m3);
        let around = self.gained.around_m3()
            - self.risen.around_m3()
            - self.added.around_m3()
            - self.adjusted.map(Volume::around_m3).iter().sum::<f64>();
        let leaves = self.carried_off_m3 + around;
        Ledger {
            risen_m3: self.risen.land_m3,
            worn_m3,
            added_m3: self.added.land_m3 + (-leaves).max(0.0),
            dropped_m3,
            carried_off_m3: leaves.max(0.0),
            adjusted: Adjusted(adjusted),
            gained_m3: self.gained.land_m3,
        }
    }
}

/// The balance of one process over the land, m³.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Ledger {
    /// Raised from below.
    pub risen_m3: f64,
    /// Ground worn away, place by place.
    pub worn_m3: f64,
    /// Brought in from outside: sediment, snow.
    pub added_m3: f64,
    /// Ground laid down, place by place.
    pub dropped_m3: f64,
    /// What left over the border, by the account of the process.
    pub carried_off_m3: f64,
    /// What was added or taken away beside the process.
    pub adjusted: Adjusted,
    /// By how much the heights have changed: measured on the land, not told by the process.
    pub gained_m3: f64,
}

/// More or less came out of the ledger than went in.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
#[error("ledger is out of balance by {error:.2e} of what was moved, allowed {allowed:.0e}")]
pub struct Imbalance {
    /// Relative error found.
    pub error: f64,
    /// Relative error allowed.
    pub allowed: f64,
}

impl Ledger {
    /// The largest relative error that counts as balanced: heights and loads are floats of
    /// 24 bits, and each step of time rounds the last of them.
    pub const TOLERANCE: f64 = 1e-6;

    /// By how much the land has grown by what was moved over its border and from below, m³.
    pub fn by_transport_m3(&self) -> f64 {
        self.risen_m3 + self.added_m3 - self.carried_off_m3 + self.adjusted.sum()
    }

    /// By how much the land has grown by what was worn and laid down in each place, m³.
    pub fn by_place_m3(&self) -> f64 {
        self.risen_m3 + self.dropped_m3 - self.worn_m3
    }

    /// What the account of transport lacks of the measured change of heights, m³.
    pub fn missing_m3(&self) -> f64 {
        self.gained_m3 - self.by_transport_m3()
    }

    /// By how much either account misses the measured change of heights, as a share of what
    /// was moved.
    pub fn relative_error(&self) -> f64 {
        let errors = [self.missing_m3(), self.gained_m3 - self.by_place_m3()];
        let error = errors.map(f64::abs).into_iter().fold(0.0, f64::max);
        let moved = [self.risen_m3, self.worn_m3, self.added_m3, self.dropped_m3];
        let moved: f64 = moved.map(f64::abs).iter().sum();
        match moved > 0.0 {
            true => error / moved,
            false => error,
        }
    }

    /// Checks the balance.
    ///
    /// # Errors
    /// [`Imbalance`] when the relative error is above [`Ledger::TOLERANCE`].
    pub fn check(&self) -> Result<(), Imbalance> {
        let error = self.relative_error();
        match error <= Self::TOLERANCE {
            true => Ok(()),
            false => Err(Imbalance {
                error,
                allowed: Self::TOLERANCE,
            }),
        }
    }

    /// The same of a step that takes effect by `amount`.
    pub fn scaled(self, amount: f64) -> Self {
        Self {
            risen_m3: amount * self.risen_m3,
            worn_m3: amount * self.worn_m3,
            added_m3: amount * self.added_m3,
            dropped_m3: amount * self.dropped_m3,
            carried_off_m3: amount * self.carried_off_m3,
            adjusted: self.adjusted * amount,
            gained_m3: amount * self.gained_m3,
        }
    }
}

/// What of a process a mask lets take effect, m³: taken of its fields, place by place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Let {
    /// The mean of the mask over the land.
    pub share: f64,
    /// Ground worn away there.
    pub worn_m3: f64,
    /// Ground laid down there.
    pub dropped_m3: f64,
    /// By how much its heights change.
    pub gained_m3: f64,
}

impl Ledger {
    /// The same of a step of which a mask lets so much take effect: what is moved over the
    /// border goes with what is worn and laid down, and what is worn inside of the mask and
    /// laid down outside of it (or the other way) is adjusted. What was missing stays missing.
    pub fn masked(self, taken: Let) -> Self {
        let of = |part: f64, whole: f64| if whole > 0.0 { part / whole } else { 0.0 };
        let mut masked = Self {
            worn_m3: taken.worn_m3,
            dropped_m3: taken.dropped_m3,
            gained_m3: taken.gained_m3,
            risen_m3: taken.gained_m3 - taken.dropped_m3 + taken.worn_m3,
            added_m3: self.added_m3 * of(taken.dropped_m3, self.dropped_m3),
            carried_off_m3: self.carried_off_m3 * of(taken.worn_m3, self.worn_m3),
            adjusted: self.adjusted * taken.share,
        };
        // Without uplift none is risen, whatever sums are rounded to.
        if self.risen_m3 == 0.0 {
            masked.risen_m3 = 0.0;
        }
        let cut_off = masked.missing_m3() - taken.share * self.missing_m3();
        masked.adjusted.add(Adjustment::Masked, cut_off);
        masked
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Worn 100, of which 30 lie on the land, 20 around it, and 50 have left.
    fn account() -> (Account, f64, f64) {
        let volume = |land_m3: f64, all_m3: f64| Volume { land_m3, all_m3 };
        let account = Account {
            risen: volume(10.0, 15.0),
            carried_off_m3: 50.0,
            gained: volume(-58.0, -33.0),
            ..Account::default()
        };
        (account, 100.0, 30.0)
    }

    fn ledger() -> Ledger {
        let (mut account, worn, dropped) = account();
        let by = Volume {
            land_m3: 2.0,
            all_m3: 2.0,
        };
        account.adjust(Adjustment::Smoothed, by);
        account.of_land(worn, dropped + 2.0)
    }

    #[test]
    fn what_comes_to_lie_around_the_land_has_left_it() {
        let ledger = ledger();
        assert_eq!(ledger.carried_off_m3, 50.0 + 25.0 - 5.0);
        assert_eq!(ledger.check(), Ok(()));
    }

    /// Each line counts: with any of them dropped the ledger is out of balance.
    #[test]
    fn an_account_with_a_line_dropped_fails() {
        let drops: [fn(&mut Ledger); 6] = [
            |ledger| ledger.risen_m3 = 0.0,
            |ledger| ledger.worn_m3 = 0.0,
            |ledger| ledger.dropped_m3 = 0.0,
            |ledger| ledger.carried_off_m3 = 0.0,
            |ledger| ledger.adjusted = Adjusted::default(),
            |ledger| ledger.gained_m3 = 0.0,
        ];
        for (line, drop) in drops.into_iter().enumerate() {
            let mut dropped = ledger();
            drop(&mut dropped);
            assert!(dropped.check().is_err(), "line {line}");
        }
    }

    #[test]
    fn half_a_mask_is_half_a_ledger_and_an_uneven_one_says_what_it_cuts_off() {
        let whole = ledger();
        let half = whole.masked(Let {
            share: 0.5,
            worn_m3: 0.5 * whole.worn_m3,
            dropped_m3: 0.5 * whole.dropped_m3,
            gained_m3: 0.5 * whole.gained_m3,
        });
        assert_eq!(half, whole.scaled(0.5));
        // All that is worn, but nothing of what is laid down.
        let uneven = whole.masked(Let {
            share: 0.5,
            worn_m3: whole.worn_m3,
            dropped_m3: 0.0,
            gained_m3: whole.gained_m3 - whole.dropped_m3,
        });
        assert_eq!(uneven.check(), Ok(()));
        let cut_off = uneven.adjusted.of(Adjustment::Masked);
        assert!((cut_off + 31.0).abs() < 1e-9, "{cut_off} m³");
        // An account that was wrong stays wrong under a mask.
        let mut wrong = whole;
        wrong.carried_off_m3 = 0.0;
        let masked = wrong.masked(Let {
            share: 0.5,
            worn_m3: 0.5 * whole.worn_m3,
            dropped_m3: 0.5 * whole.dropped_m3,
            gained_m3: 0.5 * whole.gained_m3,
        });
        assert!(masked.check().is_err());
    }
}
