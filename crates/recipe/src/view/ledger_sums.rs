//! A ledger as it is shown and reported.

use schemars::JsonSchema;
use serde::Serialize;
use terrain::erosion::Ledger;

/// Where the ground of a step went, over the whole land, m³.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct LedgerSums {
    /// Ground that was raised from below.
    pub risen_m3: f64,
    /// Ground worn.
    pub worn_m3: f64,
    /// Brought in from outside: sediment, snow.
    pub added_m3: f64,
    /// Ground laid down.
    pub dropped_m3: f64,
    /// What left over the border, by the account of the process itself.
    pub carried_off_m3: f64,
    /// What was added or taken away beside the process, with the reason.
    pub adjusted: Vec<AdjustedSum>,
    /// By how much the heights have changed: measured, not told by the process.
    pub gained_m3: f64,
    /// By how much the account misses that, as a share of what was moved.
    pub error: f64,
}

/// Ground that was added (above 0) or taken away beside a process.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct AdjustedSum {
    /// Why.
    pub reason: &'static str,
    /// How much, m³.
    pub volume_m3: f64,
}

impl From<&Ledger> for LedgerSums {
    fn from(ledger: &Ledger) -> Self {
        Self {
            risen_m3: ledger.risen_m3,
            worn_m3: ledger.worn_m3,
            added_m3: ledger.added_m3,
            dropped_m3: ledger.dropped_m3,
            carried_off_m3: ledger.carried_off_m3,
            adjusted: (ledger.adjusted.lines())
                .map(|(reason, volume_m3)| AdjustedSum {
                    reason: reason.title(),
                    volume_m3,
                })
                .collect(),
            gained_m3: ledger.gained_m3,
            error: ledger.relative_error(),
        }
    }
}
