//! What the service does before anybody asks for it.

use std::time::{Duration, Instant};

use tempfile::TempDir;

use crate::served::{Served, new_database};

/// How many pieces of land the service has grown.
async fn grown(served: &Served) -> f64 {
    let measured = reqwest::get(format!("{}/metrics", served.url)).await;
    let measured = measured.expect("an answer").text().await.expect("text");
    let misses = measured
        .lines()
        .find_map(|line| line.strip_prefix("morphogen_cache_misses "));
    misses.map_or(0.0, |misses| misses.parse().expect("a number"))
}

/// The list of kinds of step opens with its pictures: they are drawn from the start, unless
/// that was not wanted.
#[tokio::test(flavor = "multi_thread")]
async fn pictures_of_kinds_are_drawn_ahead() {
    let cache = TempDir::new().expect("a folder");
    let database = new_database("ahead").await;
    let idle = Served::start(&database, cache.path(), &["--nothing-ahead"]);
    tokio::time::sleep(Duration::from_secs(1)).await;
    assert_eq!(grown(&idle).await, 0.0);
    drop(idle);
    let served = Served::start(&database, cache.path(), &[]);
    let start = Instant::now();
    // A step or two for each of more than thirty kinds.
    while grown(&served).await < 40.0 {
        assert!(start.elapsed() < Duration::from_secs(120), "few were drawn");
        tokio::time::sleep(Duration::from_millis(200)).await;
    }
}
