//! What is done once in a while.

use std::time::Duration;

use crate::live::Live;
use crate::store::Store;

/// From one time to the next.
const EVERY: Duration = Duration::from_secs(3_600);

/// Takes away for good what was deleted long ago, until all sessions are to end.
pub(crate) async fn tidy(store: Store, live: Live) {
    let mut closing = live.closing();
    let mut every = tokio::time::interval(EVERY);
    loop {
        tokio::select! {
            _ = every.tick() => match store.clear_deleted().await {
                Ok(0) => {}
                Ok(landscapes) => tracing::info!(landscapes, "deleted long ago, gone now"),
                Err(source) => tracing::warn!(%source, "nothing was tidied up"),
            },
            () = Live::closed(&mut closing) => return,
        }
    }
}
