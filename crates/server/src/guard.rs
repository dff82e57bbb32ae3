//! Who may ask, and what a page may do.

use std::net::SocketAddr;

use axum::extract::{Request, State};
use axum::http::uri::Authority;
use axum::http::{HeaderMap, HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::Next;
use axum::response::Response;

use crate::error::problem;

/// Scripts, styles and pictures from here alone; pictures also from memory
/// (thumbnails, textures). React sets styles on elements.
const POLICY: &str = "default-src 'self'; img-src 'self' data: blob:; \
    style-src 'self' 'unsafe-inline'; connect-src 'self'; worker-src 'self' blob:; \
    object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Refuses requests that another web page made the browser send: the Host
/// must be ours (against DNS rebinding), and so must the Origin, if any.
pub(crate) async fn same_origin(
    State(address): State<SocketAddr>,
    request: Request,
    next: Next,
) -> Response {
    let headers = request.headers();
    let mut response = match host_is_ours(headers, address) && origin_is_ours(headers) {
        true => next.run(request).await,
        false => {
            let detail = "this request comes from another site".to_owned();
            problem(StatusCode::FORBIDDEN, detail)
        }
    };
    let headers = response.headers_mut();
    for (name, value) in [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "no-referrer"),
        (
            HeaderName::from_static("cross-origin-opener-policy"),
            "same-origin",
        ),
        (
            HeaderName::from_static("cross-origin-resource-policy"),
            "same-origin",
        ),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    response
}

/// On loopback only loopback's names count; elsewhere the operator chose to
/// be reached, under whatever name.
fn host_is_ours(headers: &HeaderMap, address: SocketAddr) -> bool {
    if !address.ip().is_loopback() {
        return true;
    }
    let Some(host) = headers
        .get(header::HOST)
        .and_then(|host| host.to_str().ok())
    else {
        return false;
    };
    let host = host.parse::<Authority>();
    host.is_ok_and(|host| matches!(host.host(), "localhost" | "127.0.0.1" | "[::1]"))
}

fn origin_is_ours(headers: &HeaderMap) -> bool {
    let text = |name| {
        headers
            .get(name)
            .and_then(|value: &HeaderValue| value.to_str().ok())
    };
    match (
        headers.get(header::ORIGIN).is_some(),
        text(header::ORIGIN),
        text(header::HOST),
    ) {
        (false, _, _) => true,
        (true, Some(origin), Some(host)) => origin
            .split_once("://")
            .is_some_and(|(_, place)| place == host),
        (true, _, _) => false,
    }
}
