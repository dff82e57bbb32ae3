//! `morphogen serve`.

use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use std::path::PathBuf;

use anyhow::Context;
use clap::Args;
#[cfg(unix)]
use tokio::signal::unix::{SignalKind, signal};

use server::{Archives, Limits};

use super::{Failure, WorkLimit};

/// Open the studio: a web service on this machine.
///
/// Needs a PostgreSQL database. Tables are made and brought up to date by
/// itself. Stops on Ctrl-C and on SIGTERM.
#[derive(Args)]
pub struct Serve {
    /// The database, postgres://…
    #[arg(long, env = "DATABASE_URL")]
    database: String,
    /// Address to listen on; anything but loopback lets others in
    #[arg(long, default_value_t = IpAddr::V4(Ipv4Addr::LOCALHOST))]
    address: IpAddr,
    /// Port to listen on; 0 takes any free one
    #[arg(long, default_value_t = 0)]
    port: u16,
    /// Folder with demo recipes, loaded into an empty database
    #[arg(long)]
    demo: Option<PathBuf>,
    /// Folder for files that can be made again at any time
    #[arg(long, default_value = "var/cache")]
    cache_dir: PathBuf,
    /// Memory for intermediate results, MiB
    #[arg(long, default_value_t = 1024)]
    cache: usize,
    #[command(flatten)]
    work: WorkLimit,
    /// Most exports that are kept
    #[arg(long, default_value_t = 20, value_parser = clap::value_parser!(i64).range(1..))]
    archives: i64,
    /// Most space that they take together, GiB
    #[arg(long, default_value_t = 20, value_parser = clap::value_parser!(i64).range(0..1_000_000))]
    archive_space: i64,
    /// Serve the interface for programs alone
    #[arg(long)]
    without_page: bool,
    /// Write the log as JSON, a line each
    #[arg(long)]
    log_json: bool,
    /// Grow materials and pictures of the kinds of step when they are first asked for, not ahead
    #[arg(long)]
    nothing_ahead: bool,
}

impl Serve {
    pub fn run(self) -> Result<(), Failure> {
        let log = tracing_subscriber::fmt()
            .with_env_filter(
                tracing_subscriber::EnvFilter::try_from_default_env()
                    .unwrap_or_else(|_| "warn,server=info".into()),
            )
            .with_writer(std::io::stderr);
        match self.log_json {
            true => log.json().init(),
            false => log.init(),
        }
        let config = server::Config {
            database: self.database,
            address: SocketAddr::new(self.address, self.port),
            demo: self.demo,
            cache_dir: self.cache_dir,
            pictures_ahead: !self.nothing_ahead,
            cache_bytes: self.cache << 20,
            work: self.work.budget(),
            archives: Archives {
                most: self.archives,
                bytes: self.archive_space << 30,
            },
            limits: Limits::default(),
        };
        if !server::has_page() && !self.without_page {
            let detail = "the page is not in this program: build the front end (./start does \
                it) and then the program again, or serve --without-page";
            return Err(anyhow::anyhow!(detail).into());
        }
        let runtime = tokio::runtime::Runtime::new().context("cannot start")?;
        runtime.block_on(async {
            let server = server::Server::start(config)
                .await
                .context("cannot start")?;
            println!("Morphogen is at http://{}", server.address());
            if !self.nothing_ahead {
                grow_materials_ahead()?;
            }
            server
                .run_until(asked_to_stop())
                .await
                .context("the service failed")
        })?;
        Ok(())
    }
}

/// Comes back at Ctrl-C, or when whoever runs the service ends it (SIGTERM).
async fn asked_to_stop() {
    // Without a handler of signals there is no polite way to stop.
    let interrupted = async { _ = tokio::signal::ctrl_c().await };
    #[cfg(unix)]
    let ended = async {
        match signal(SignalKind::terminate()) {
            Ok(mut ended) => _ = ended.recv().await,
            Err(_) => std::future::pending().await,
        }
    };
    #[cfg(not(unix))]
    let ended = std::future::pending::<()>();
    tokio::select! {
        () = interrupted => {}
        () = ended => {}
    }
}

/// Grows the materials that ship on one thread, beside whatever is asked for.
fn grow_materials_ahead() -> anyhow::Result<()> {
    let one = rayon::ThreadPoolBuilder::new().num_threads(1).build()?;
    std::thread::spawn(move || one.install(recipe::grow::grow_shipped_materials));
    Ok(())
}
