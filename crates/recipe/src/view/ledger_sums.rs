//! A ledger as it is shown and reported.

use schemars::JsonSchema;
use serde::Serialize;
use terrain::erosion::Ledger;

/// Where the ground of a step went, over the whole land, m³.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct LedgerSums {
    /// Ground that was raised from below.
    pub risen_m3: f64,
    /// Ground worn.
    pub worn_m3: f64,
    /// Brought in from outside: sediment, snow.
    pub added_m3: f64,
    /// Ground laid down.
    pub dropped_m3: f64,
    /// What left over the border.
    pub carried_off_m3: f64,
    /// What is missing or too much, as a share of what was worn or added.
    pub error: f64,
}

impl From<&Ledger> for LedgerSums {
    fn from(ledger: &Ledger) -> Self {
        Self {
            risen_m3: ledger.risen_m3,
            worn_m3: ledger.worn_m3,
            added_m3: ledger.added_m3,
            dropped_m3: ledger.dropped_m3,
            carried_off_m3: ledger.carried_off_m3,
            error: ledger.relative_error(),
        }
    }
}
