//! A bar on a terminal, nothing elsewhere.

use indicatif::{ProgressBar, ProgressStyle};

/// How far a piece of work is.
pub struct Bar(ProgressBar);

/// The bar counts in thousandths.
const FULL: u64 = 1000;

impl Bar {
    /// A bar for `work`; drawn on standard error when that is a terminal.
    pub fn new(work: &str) -> Self {
        let bar = ProgressBar::new(FULL);
        let style = ProgressStyle::with_template("{msg} {wide_bar} {percent:>3} %  {elapsed}");
        if let Ok(style) = style {
            bar.set_style(style);
        }
        bar.set_message(work.to_owned());
        Self(bar)
    }

    /// Shows that `share` (0 to 1) is done.
    pub fn set(&self, share: f32) {
        self.0.set_position((share * FULL as f32) as u64);
    }

    /// Takes the bar away.
    pub fn done(&self) {
        self.0.finish_and_clear();
    }
}
