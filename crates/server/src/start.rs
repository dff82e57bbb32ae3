//! Starting and stopping.

use std::net::SocketAddr;
use std::time::Duration;

use sqlx::postgres::{PgListener, PgPoolOptions};
use tokio::net::TcpListener;

use crate::config::{Config, StartError};
use crate::live::heads_of;
use crate::state::AppState;
use crate::tidying::tidy;
use crate::{connections, demo, exports, measures, routes};

/// A service that listens.
pub struct Server {
    listener: TcpListener,
    address: SocketAddr,
    heads: PgListener,
    state: AppState,
    pictures_ahead: bool,
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
            pictures_ahead: config.pictures_ahead,
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
            pictures_ahead,
        } = self;
        let (router, limits) = (routes::router(state.clone(), address), state.limits);
        let live = state.live.clone();
        let (store, documents) = (state.store.clone(), state.documents.clone());
        let tidying = tokio::spawn(tidy(store.clone(), live.clone()));
        let hearing = tokio::spawn(live.clone().hear(store, documents, heads));
        let drawing = pictures_ahead.then(|| tokio::spawn(routes::draw_kinds(state.clone())));
        let exporting = tokio::spawn(exports::work(state));
        let served = connections::serve(listener, router, limits, stop, || live.close()).await;
        if let Some(drawing) = drawing {
            drawing.abort();
        }
        // All the others end when all sessions are to.
        let _ = (hearing.await, exporting.await, tidying.await);
        served
    }
}
