//! Why a recipe did not grow.

use terrain::Cancelled;

use super::TooCostly;

/// Why a recipe did not grow. Nothing is half grown.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum GrowError {
    /// Someone asked to stop.
    #[error(transparent)]
    Cancelled(#[from] Cancelled),
    /// A file that the recipe needs is not there.
    #[error("step ‘{step}’ needs the imported file {asset}, which is not here")]
    MissingAsset {
        /// The step's name.
        step: String,
        /// The asset's name.
        asset: String,
    },
    /// It would take more memory or time than is allowed.
    #[error(transparent)]
    TooCostly(Box<TooCostly>),
    /// The recipe was not checked before.
    #[error("there is no strand ‘{0}’")]
    NoStrand(String),
}

impl From<Box<TooCostly>> for GrowError {
    fn from(error: Box<TooCostly>) -> Self {
        Self::TooCostly(error)
    }
}
