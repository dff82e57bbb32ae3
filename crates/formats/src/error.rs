//! Why a file was not read or written, in words for the artist.

use terrain::GridError;

/// Why a file is not taken as a heightfield. Nothing is kept of it.
#[derive(Debug, thiserror::Error)]
pub enum ReadError {
    /// None of the formats that are read.
    #[error(
        "this is not a heightfield that can be read: expected GeoTIFF, OpenEXR, PNG or an ESRI ASCII grid"
    )]
    UnknownFormat,
    /// The file ends early or contradicts itself.
    #[error("the {format} file is damaged or cut short: {reason}")]
    Damaged {
        /// The format.
        format: &'static str,
        /// What the decoder says.
        reason: String,
    },
    /// A kind of content that is not read.
    #[error("this {format} holds {found}; expected {expected}")]
    WrongKind {
        /// The format.
        format: &'static str,
        /// What is in it.
        found: String,
        /// What could be read.
        expected: &'static str,
    },
    /// More cells than are allowed.
    #[error("the file has {cols} × {rows} cells; at most {limit} cells can be imported")]
    TooLarge {
        /// Columns.
        cols: u64,
        /// Rows.
        rows: u64,
        /// Most cells allowed.
        limit: u64,
    },
    /// Fewer cells than make a land.
    #[error("the file has {cols} × {rows} cells; at least 2 × 2 are needed")]
    TooSmall {
        /// Columns.
        cols: u64,
        /// Rows.
        rows: u64,
    },
    /// NaN or infinity.
    #[error("heights must be finite numbers: {0}")]
    NotFinite(GridError),
    /// Cells marked as without data.
    #[error("{count} cells have no data (value {value}); fill the gaps before importing")]
    Gaps {
        /// How many.
        count: usize,
        /// The value that marks them.
        value: f64,
    },
}

impl ReadError {
    pub(crate) fn damaged(format: &'static str, reason: impl ToString) -> Self {
        Self::Damaged {
            format,
            reason: reason.to_string(),
        }
    }
}

/// Why a file was not written.
#[derive(Debug, thiserror::Error)]
pub enum WriteError {
    /// The disk or the network.
    #[error("the file could not be written: {0}")]
    Io(#[from] std::io::Error),
    /// The encoder.
    #[error("the file could not be encoded: {0}")]
    Encode(String),
}

impl From<png::EncodingError> for WriteError {
    fn from(error: png::EncodingError) -> Self {
        match error {
            png::EncodingError::IoError(error) => Self::Io(error),
            other => Self::Encode(other.to_string()),
        }
    }
}

impl From<tiff::TiffError> for WriteError {
    fn from(error: tiff::TiffError) -> Self {
        match error {
            tiff::TiffError::IoError(error) => Self::Io(error),
            other => Self::Encode(other.to_string()),
        }
    }
}

/// A side of a picture as its formats count it.
pub(crate) fn side(cells: usize) -> Result<u32, WriteError> {
    u32::try_from(cells).map_err(|_| WriteError::Encode(format!("a side of {cells} cells")))
}
