//! What erosion did with the ground, in cubic metres: what was worn or added was
//! dropped or carried off.

/// The balance of one erosion run: what was worn must be somewhere.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Ledger {
    /// Raised from below, m³.
    pub risen_m3: f64,
    /// Ground taken up by water, m³.
    pub worn_m3: f64,
    /// Brought in from outside: sediment, snow, m³.
    pub added_m3: f64,
    /// Ground laid down by water, m³.
    pub dropped_m3: f64,
    /// Sediment that left over the border, m³.
    pub carried_off_m3: f64,
}

/// More or less came out of the ledger than went in.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
#[error("ledger is out of balance by {error:.2e} of what was worn, allowed {allowed:.0e}")]
pub struct Imbalance {
    /// Relative error found.
    pub error: f64,
    /// Relative error allowed.
    pub allowed: f64,
}

impl Ledger {
    /// The largest relative error that counts as balanced.
    pub const TOLERANCE: f64 = 1e-6;

    /// What is missing or too much, as a share of what was worn or added.
    pub fn relative_error(&self) -> f64 {
        let come = self.worn_m3 + self.added_m3;
        let gone = self.dropped_m3 + self.carried_off_m3;
        match come > 0.0 {
            true => (come - gone).abs() / come,
            false => gone.abs(),
        }
    }

    /// By how much the land has grown, m³: what an account of its heights must give.
    pub fn growth_m3(&self) -> f64 {
        self.risen_m3 + self.dropped_m3 - self.worn_m3
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

    /// The ledger of two runs, one after the other.
    pub fn and(self, other: Self) -> Self {
        Self {
            risen_m3: self.risen_m3 + other.risen_m3,
            worn_m3: self.worn_m3 + other.worn_m3,
            added_m3: self.added_m3 + other.added_m3,
            dropped_m3: self.dropped_m3 + other.dropped_m3,
            carried_off_m3: self.carried_off_m3 + other.carried_off_m3,
        }
    }
}
