//! Between which values 16-bit steps are spread, as options say it.

use deliver::ValueRange;

/// `fit`, `whole`, or two numbers with a colon between them.
pub fn parse_range(text: &str) -> Result<ValueRange, String> {
    match text {
        "fit" => return Ok(ValueRange::Fit),
        "whole" => return Ok(ValueRange::Whole),
        _ => {}
    }
    let numbers = text
        .split_once(':')
        .and_then(|(black, white)| Some((black.parse().ok()?, white.parse().ok()?)));
    match numbers {
        Some((black, white)) if white > black => Ok(ValueRange::Given { black, white }),
        _ => Err("expected fit, whole, or black:white in metres, such as -100:2900".to_owned()),
    }
}
