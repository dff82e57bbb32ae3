//! What is measured while the service runs.

use std::sync::OnceLock;

use metrics_exporter_prometheus::{PrometheusBuilder, PrometheusHandle};

use crate::state::AppState;

/// Seconds up to which waiting and working are counted apart.
const SECONDS: [f64; 10] = [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 10.0, 60.0];

/// The one recorder of this process.
fn recorder() -> &'static PrometheusHandle {
    static RECORDER: OnceLock<PrometheusHandle> = OnceLock::new();
    RECORDER.get_or_init(|| {
        let builder = PrometheusBuilder::new().set_buckets(&SECONDS);
        let recorder = builder.expect("there are buckets").build_recorder();
        let handle = recorder.handle();
        // Another recorder may be there already, of a program around this one.
        let _ = metrics::set_global_recorder(recorder);
        handle
    })
}

/// Begins to measure.
pub(crate) fn begin() {
    recorder();
}

/// All that was measured, and how things are now.
pub(crate) fn rendered(state: &AppState) -> String {
    for (class, waiting) in state.compute.waiting() {
        metrics::gauge!("morphogen_waiting", "class" => class.name()).set(waiting as f64);
    }
    let cache = state.grower.cache_use();
    metrics::gauge!("morphogen_viewers").set(state.live.viewers() as f64);
    metrics::gauge!("morphogen_cache_bytes").set(cache.bytes as f64);
    metrics::gauge!("morphogen_cache_hits").set(cache.hits as f64);
    metrics::gauge!("morphogen_cache_misses").set(cache.misses as f64);
    recorder().render()
}
