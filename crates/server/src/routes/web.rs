//! The front end, out of the program itself.

use axum::http::{HeaderMap, HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

use crate::error::problem;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// Whether the front end is in the program.
pub fn has_page() -> bool {
    Files::get(PAGE).is_some()
}

const PAGE: &str = "index.html";

/// What the embedded files are made from; a change of it makes this file compiled anew.
const _: &str = env!("MORPHOGEN_WEB");

/// A file of the front end; its page for every path that the page knows, and for
/// others too, but as not found: the page says so itself.
pub(super) async fn file(uri: Uri, headers: HeaderMap) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        let detail = "there is nothing at this address".to_owned();
        return problem(StatusCode::NOT_FOUND, detail);
    }
    // Files under assets/ carry a hash of their content in the name.
    let lasting = path.starts_with("assets/");
    let (path, file, status) = match Files::get(path) {
        Some(file) => (path, Some(file), StatusCode::OK),
        None if lasting => (path, None, StatusCode::NOT_FOUND),
        None => (PAGE, Files::get(PAGE), status_of_page(path)),
    };
    let Some(file) = file else {
        let detail = "the front end is not built, or this file is not part of it".to_owned();
        return problem(StatusCode::NOT_FOUND, detail);
    };
    let tag: String = file.metadata.sha256_hash()[..16]
        .iter()
        .map(|b| format!("{b:02x}"))
        .collect();
    let tag = format!("\"{tag}\"");
    let known = headers
        .get(header::IF_NONE_MATCH)
        .and_then(|known| known.to_str().ok());
    let mut response = match known == Some(tag.as_str()) && status == StatusCode::OK {
        true => StatusCode::NOT_MODIFIED.into_response(),
        false => (status, file.data.into_owned()).into_response(),
    };
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    let cached = match lasting {
        true => "public, max-age=31536000, immutable",
        false => "no-cache",
    };
    let headers = response.headers_mut();
    for (name, value) in [(header::CONTENT_TYPE, kind.as_ref()), (header::ETAG, &tag)] {
        if let Ok(value) = HeaderValue::from_str(value) {
            headers.insert(name, value);
        }
    }
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static(cached));
    response
}

/// The page knows the shelf and each landscape.
fn status_of_page(path: &str) -> StatusCode {
    let landscape = path.strip_prefix("landscapes/");
    match path.is_empty() || landscape.is_some_and(|id| !id.is_empty() && !id.contains('/')) {
        true => StatusCode::OK,
        false => StatusCode::NOT_FOUND,
    }
}
