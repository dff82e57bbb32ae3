//! Whoever says nothing is not kept, and how many there may be has a bound.

use std::time::Duration;

use serde_json::json;
use server::Limits;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

use crate::support::Service;
use crate::viewer::{Viewer, is};

/// All of them short, so that a test can wait for them.
fn short() -> Limits {
    Limits {
        connections: 24,
        head_within: Duration::from_secs(1),
        body_silent: Duration::from_secs(1),
        ping_every: Duration::from_millis(300),
        viewer_silent: Duration::from_secs(1),
    }
}

/// What comes until the other side hangs up, which it does in time.
async fn until_closed(stream: &mut TcpStream) -> String {
    let mut said = Vec::new();
    let closed = tokio::time::timeout(Duration::from_secs(10), stream.read_to_end(&mut said));
    // Hanging up on what is still being sent is a reset: closed all the same.
    let _ = closed.await.expect("closed in time");
    String::from_utf8_lossy(&said).into_owned()
}

async fn saying(service: &Service, text: &str) -> TcpStream {
    let mut stream = TcpStream::connect(service.address).await.expect("connects");
    stream.write_all(text.as_bytes()).await.expect("sent");
    stream
}

#[tokio::test(flavor = "multi_thread")]
async fn half_a_request_and_then_nothing_is_closed() {
    let service = Service::limited(short()).await;
    let mut silent = Vec::new();
    for _ in 0..8 {
        let half = "GET /api/landscapes HTTP/1.1\r\nHost: local";
        silent.push(saying(&service, half).await);
    }
    // Others are served meanwhile.
    service.get("/api/landscapes").await;
    for mut stream in silent {
        until_closed(&mut stream).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_body_that_stops_coming_is_given_up() {
    let service = Service::limited(short()).await;
    let head = format!(
        "POST /api/landscapes HTTP/1.1\r\nHost: {}\r\nContent-Type: application/json\r\n\
         Content-Length: 5000\r\nConnection: close\r\n\r\n{{\"name\":",
        service.address
    );
    let mut stream = saying(&service, &head).await;
    let said = until_closed(&mut stream).await;
    assert!(said.is_empty() || said.starts_with("HTTP/1.1 4"), "{said}");
    assert_eq!(service.count("landscapes").await, 1);
}

/// A viewer whose machine is gone answers no ping.
#[tokio::test(flavor = "multi_thread")]
async fn a_viewer_without_a_word_is_let_go() {
    let service = Service::limited(short()).await;
    let demo = service.demo().await;
    let greeting = format!(
        "GET /api/landscapes/{demo}/live HTTP/1.1\r\nHost: {}\r\nConnection: Upgrade\r\n\
         Upgrade: websocket\r\nSec-WebSocket-Version: 13\r\n\
         Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n",
        service.address
    );
    let mut silent = saying(&service, &greeting).await;
    let said = until_closed(&mut silent).await;
    assert!(said.starts_with("HTTP/1.1 101"), "{said}");
    // One that answers is kept: the library does so by itself.
    let mut viewer = Viewer::of(&service, &demo).await;
    let since = std::time::Instant::now();
    while since.elapsed() < Duration::from_secs(3) {
        let _ = tokio::time::timeout(Duration::from_millis(200), viewer.hear()).await;
    }
    viewer.say(json!({ "type": "whole" })).await;
    viewer.hear_until(is("head")).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn there_is_a_bound_on_connections_and_places_come_free() {
    let service = Service::limited(Limits {
        head_within: Duration::from_secs(3),
        ..short()
    })
    .await;
    let mut open = Vec::new();
    for _ in 0..short().connections {
        open.push(saying(&service, "GET / HTTP/1.1\r\n").await);
    }
    tokio::time::sleep(Duration::from_millis(200)).await;
    let mut late = saying(&service, "GET / HTTP/1.1\r\n").await;
    assert_eq!(
        until_closed(&mut late).await,
        "",
        "closed at once, without a word"
    );
    for mut stream in open {
        until_closed(&mut stream).await;
    }
    service.get("/api/landscapes").await;
}
