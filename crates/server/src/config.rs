//! Starting and stopping.

use std::net::SocketAddr;
use std::path::PathBuf;
use std::time::Duration;

use recipe::grow::Budget;
use sqlx::postgres::{PgListener, PgPoolOptions};
use tokio::net::TcpListener;

use crate::exports::Exports;
use crate::limits::Limits;
use crate::live::heads_of;
use crate::state::AppState;
use crate::{connections, demo, measures, routes};

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

/// A service that listens.
pub struct Server {
    listener: TcpListener,
    address: SocketAddr,
    heads: PgListener,
    state: AppState,
}

/// How long somebody waits for a connection to the database.
const PATIENCE: Duration = Duration::from_secs(2);
/// A connection to the database is lent to so many at once.
const CONNECTIONS: u32 = 12;

impl Server {
    /// Connects to the database, brings its tables up to date, loads the demo
    /// into an empty one, and listens.
    ///
    /// # Errors
    /// [`StartError`].
    pub async fn start(config: Config) -> Result<Self, StartError> {
        measures::begin();
        let pool = PgPoolOptions::new()
            .max_connections(CONNECTIONS)
            .acquire_timeout(PATIENCE)
            .connect(&config.database)
            .await?;
        sqlx::migrate!().run(&pool).await?;
        tokio::fs::create_dir_all(config.cache_dir.join("exports")).await?;
        let listener = TcpListener::bind(config.address).await?;
        let address = listener.local_addr()?;
        let state = AppState::new(pool, &config);
        if let Some(folder) = &config.demo {
            demo::load_once(&state.store, &state.documents, folder).await?;
        }
        let heads = heads_of(&state.store).await?;
        Ok(Self {
            listener,
            address,
            heads,
            state,
        })
    }

    /// Where the service listens.
    pub fn address(&self) -> SocketAddr {
        self.address
    }

    /// Serves until `stop` is over; then finishes what it has begun to answer.
    ///
    /// # Errors
    /// When the listener fails.
    pub async fn run_until(self, stop: impl Future<Output = ()>) -> std::io::Result<()> {
        let Self {
            listener,
            address,
            heads,
            state,
        } = self;
        let (router, limits) = (routes::router(state.clone(), address), state.limits);
        let live = state.live.clone();
        let (store, documents) = (state.store.clone(), state.documents.clone());
        let hearing = tokio::spawn(live.clone().hear(store, documents, heads));
        let exporting = tokio::spawn(Exports::work(state));
        let served = connections::serve(listener, router, limits, stop, || live.close()).await;
        // Both end when all sessions are to.
        let _ = (hearing.await, exporting.await);
        served
    }
}
