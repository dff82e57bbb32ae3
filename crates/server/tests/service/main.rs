//! The service over HTTP and WebSocket, against a real database.

mod api;
mod crowds;
mod edits;
mod exports;
mod hostile;
mod imports;
mod live;
mod moments;
mod outages;
mod silence;
mod sketching;
mod storage;
mod studies;
mod studio;
mod support;
mod viewer;
