//! One who watches a landscape over a WebSocket.

use std::time::Duration;

use futures::{SinkExt, StreamExt};
use serde_json::{Value, json};
use tokio::net::TcpStream;
use tokio_tungstenite::tungstenite::Message;
use tokio_tungstenite::{MaybeTlsStream, WebSocketStream, connect_async};

use crate::support::Service;

pub struct Viewer(WebSocketStream<MaybeTlsStream<TcpStream>>);

impl Viewer {
    pub async fn of(service: &Service, landscape: &str) -> Self {
        let url = format!("ws://{}/api/landscapes/{landscape}/live", service.address);
        Self(connect_async(url).await.expect("a session").0)
    }

    pub async fn say(&mut self, message: Value) {
        self.0
            .send(Message::text(message.to_string()))
            .await
            .expect("heard");
    }

    /// The next message: text as it is, of a picture its header.
    pub async fn hear(&mut self) -> Value {
        self.hear_within(Duration::from_secs(60)).await
    }

    /// The same, waiting so long.
    pub async fn hear_within(&mut self, patience: Duration) -> Value {
        let next = tokio::time::timeout(patience, async {
            loop {
                match self.0.next().await.expect("open").expect("sound") {
                    // Answered by the library.
                    Message::Ping(_) => {}
                    message => return message,
                }
            }
        });
        match next.await.expect("in time") {
            Message::Text(text) => serde_json::from_str(&text).expect("JSON"),
            Message::Binary(bytes) => {
                let length = u32::from_le_bytes(bytes[..4].try_into().expect("four bytes"));
                let header = &bytes[4..4 + length as usize];
                let mut header: Value = serde_json::from_slice(header).expect("JSON");
                let last = header["planes"]
                    .as_array()
                    .expect("planes")
                    .last()
                    .expect("one");
                let end = last["offset"].as_u64().expect("n") + last["bytes"].as_u64().expect("n");
                assert!(
                    bytes.len() as u64 >= end + u64::from(length) + 4,
                    "planes are whole"
                );
                header["type"] = json!("picture");
                header
            }
            other => panic!("unexpected {other:?}"),
        }
    }

    /// The next message that `wanted` is true of.
    pub async fn hear_until(&mut self, wanted: impl Fn(&Value) -> bool) -> Value {
        loop {
            let message = self.hear().await;
            if wanted(&message) {
                return message;
            }
        }
    }
}

/// Whether a message is of a kind.
pub fn is(kind: &'static str) -> impl Fn(&Value) -> bool {
    move |message| message["type"] == kind
}
