//! A browser, a service and a database for one test of the real interface.

mod browser;
mod page;
mod service;

pub use browser::Browser;
pub use page::ask;
pub use service::{Service, repository};

/// The selector of the element with a test id.
pub fn test_id(id: &str) -> String {
    format!("[data-testid='{id}']")
}
