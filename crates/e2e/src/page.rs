//! The page's own code, run by itself.

use std::io::Write as _;
use std::process::{Command, Stdio};

use anyhow::{Context, Result, ensure};
use serde_json::{Map, Value, json};

use crate::repository;

/// Runs `body`, a piece of JavaScript, with what it imports (names, and the modules in
/// `web/src` that export them) and its `input`; what it returns.
///
/// # Errors
/// When Node.js is not there, or the code fails.
pub fn ask(imports: &[(&str, &str)], body: &str, input: Value) -> Result<Value> {
    let imports: Map<String, Value> = imports
        .iter()
        .map(|(name, path)| ((*name).to_owned(), json!(path)))
        .collect();
    let mut node = Command::new("node")
        .arg("scripts/ask.mjs")
        .current_dir(repository("web"))
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .context("node is installed with the front end")?;
    let asked = json!({ "imports": imports, "body": body, "input": input });
    let mut stdin = node.stdin.take().context("a pipe")?;
    stdin.write_all(asked.to_string().as_bytes())?;
    drop(stdin);
    let said = node.wait_with_output()?;
    ensure!(
        said.status.success(),
        "{}",
        String::from_utf8_lossy(&said.stderr)
    );
    Ok(serde_json::from_slice(&said.stdout)?)
}
