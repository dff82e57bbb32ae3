//! The service over HTTP and WebSocket, against a real database.

mod api;
mod edits;
mod exports;
mod imports;
mod live;
mod moments;
mod studies;
mod support;
