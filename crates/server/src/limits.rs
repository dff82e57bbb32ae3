//! How many there may be at once, and how long a silent one is kept.

use std::time::Duration;

/// Bounds on connections and on silence.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Limits {
    /// Connections at once; more are closed at once.
    pub connections: usize,
    /// The head of a request must have come after so long, the silence before it
    /// included.
    pub head_within: Duration,
    /// A body of which nothing comes for so long is given up.
    pub body_silent: Duration,
    /// A viewer is asked so often whether they are still there …
    pub ping_every: Duration,
    /// … is taken for gone after so long without a word, or without taking a message.
    pub viewer_silent: Duration,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            connections: 1_024,
            head_within: Duration::from_secs(20),
            body_silent: Duration::from_secs(30),
            ping_every: Duration::from_secs(20),
            viewer_silent: Duration::from_secs(60),
        }
    }
}
