//! Connections: how many at once, and how long a silent one is kept.

use std::io;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use hyper_util::rt::{TokioExecutor, TokioIo, TokioTimer};
use hyper_util::server::conn::auto;
use hyper_util::server::graceful::GracefulShutdown;
use hyper_util::service::TowerToHyperService;
use tokio::net::TcpListener;
use tokio::sync::Semaphore;

use crate::limits::Limits;

/// What is being answered when the service stops may take so long.
const LAST_ANSWERS: Duration = Duration::from_secs(10);
/// Nothing can be accepted for a moment, such as without file descriptors.
const BREATH: Duration = Duration::from_millis(50);

/// Serves until `stop` is over, says so by `stopping`, and finishes what it has begun
/// to answer.
pub(crate) async fn serve(
    listener: TcpListener,
    router: Router,
    limits: Limits,
    stop: impl Future<Output = ()>,
    stopping: impl FnOnce(),
) -> io::Result<()> {
    let graceful = GracefulShutdown::new();
    let places = Arc::new(Semaphore::new(limits.connections));
    let mut server = auto::Builder::new(TokioExecutor::new()).http1_only();
    let timer = TokioTimer::new();
    let mut http = server.http1();
    http.timer(timer).header_read_timeout(limits.head_within);
    let mut stop = std::pin::pin!(stop);
    loop {
        let accepted = tokio::select! {
            accepted = listener.accept() => accepted,
            () = &mut stop => break,
        };
        let stream = match accepted {
            Ok((stream, _)) => stream,
            Err(error) => {
                tracing::warn!(%error, "a connection was not accepted");
                tokio::time::sleep(BREATH).await;
                continue;
            }
        };
        let Ok(place) = places.clone().try_acquire_owned() else {
            tracing::warn!("there are too many connections; one was closed");
            continue;
        };
        let _ = stream.set_nodelay(true);
        let service = TowerToHyperService::new(router.clone());
        let connection = server.serve_connection_with_upgrades(TokioIo::new(stream), service);
        let connection = graceful.watch(connection.into_owned());
        tokio::spawn(async move {
            let _place = place;
            // Whoever hangs up in the middle is no fault of ours.
            if let Err(error) = connection.await {
                tracing::debug!(%error, "a connection broke off");
            }
        });
    }
    stopping();
    let _ = tokio::time::timeout(LAST_ANSWERS, graceful.shutdown()).await;
    Ok(())
}
