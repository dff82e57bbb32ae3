//! Starting and stopping.

use std::net::SocketAddr;
use std::path::PathBuf;

use sqlx::postgres::PgPoolOptions;
use tokio::net::TcpListener;

use crate::state::AppState;
use crate::{demo, routes};

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
    state: AppState,
}

impl Server {
    /// Connects to the database, brings its tables up to date, loads the demo
    /// into an empty one, and listens.
    ///
    /// # Errors
    /// [`StartError`].
    pub async fn start(config: Config) -> Result<Self, StartError> {
        let pool = PgPoolOptions::new()
            .max_connections(8)
            .connect(&config.database)
            .await?;
        sqlx::migrate!().run(&pool).await?;
        tokio::fs::create_dir_all(config.cache_dir.join("exports")).await?;
        let listener = TcpListener::bind(config.address).await?;
        let address = listener.local_addr()?;
        let state = AppState::new(pool, config.cache_dir, config.cache_bytes);
        state.store.fail_interrupted_exports().await?;
        if let Some(folder) = &config.demo {
            demo::load_once(&state.store, folder).await?;
        }
        Ok(Self {
            listener,
            address,
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
    pub async fn run_until(
        self,
        stop: impl Future<Output = ()> + Send + 'static,
    ) -> std::io::Result<()> {
        let router = routes::router(self.state.clone(), self.address);
        let live = self.state.live.clone();
        axum::serve(self.listener, router)
            .with_graceful_shutdown(async move {
                stop.await;
                // Open WebSockets would keep the service up for ever.
                live.close();
            })
            .await
    }
}
