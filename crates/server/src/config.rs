//! With what the service runs, and why it may not.

use std::net::SocketAddr;
use std::path::PathBuf;

use recipe::grow::Budget;

use crate::limits::Limits;

/// Where and with what the service runs.
#[derive(Clone, Debug)]
pub struct Config {
    /// The database, `postgres://…`.
    pub database: String,
    /// Address and port to listen on; port 0 takes any free one.
    pub address: SocketAddr,
    /// Folder with recipes to load into an empty database.
    pub demo: Option<PathBuf>,
    /// Folder for files that can be made again at any time.
    pub cache_dir: PathBuf,
    /// Whether pictures of the kinds of step are drawn before anybody asks for them.
    pub pictures_ahead: bool,
    /// Memory for intermediate results, bytes.
    pub cache_bytes: usize,
    /// What a piece of work may take.
    pub work: Budget,
    /// How much of what was exported is kept.
    pub archives: Archives,
    /// Bounds on connections and on silence.
    pub limits: Limits,
}

/// How much of what was exported is kept: the newest of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Archives {
    /// At most so many files.
    pub most: i64,
    /// At most so many bytes together, but always the newest file.
    pub bytes: i64,
}

impl Default for Archives {
    fn default() -> Self {
        Self {
            most: 20,
            bytes: 20 << 30,
        }
    }
}

/// Why the service did not start.
#[derive(Debug, thiserror::Error)]
pub enum StartError {
    /// The database cannot be reached or brought up to date.
    #[error("the database: {0}")]
    Database(#[from] sqlx::Error),
    /// The tables cannot be brought up to date.
    #[error("the database's tables: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
    /// The port is taken, or a folder cannot be made.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// A demo recipe is not valid.
    #[error("the demo: {0}")]
    Demo(String),
}
