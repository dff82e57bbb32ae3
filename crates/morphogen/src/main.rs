//! Morphogen: grows landscapes, from the command line or as a web service.

mod commands;
mod gives_back;
mod local_assets;
mod progress;

use std::process::ExitCode;

use clap::Parser;

use commands::{Command, Failure};

/// Grows landscapes from recipes.
///
/// A recipe is a small JSON document. `morphogen grow` turns it into files
/// that other software reads; `morphogen serve` opens the studio in a browser.
#[derive(Parser)]
#[command(version, about, arg_required_else_help = true)]
#[command(after_help = "\
Exit codes: 0 done, 1 something went wrong on the way, 2 the command line, the
recipe or the input file is not right.

Examples:
  morphogen grow demo/hollin-fjord.json --cells 1024 --out out
  morphogen read slope out/height.tif slope.tif
  morphogen serve --database postgres://localhost/morphogen")]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

fn main() -> ExitCode {
    // Where it does not work the program does, with more memory.
    gives_back::with_pages_of_their_own().ok();
    let cli = Cli::parse();
    // Who reads only the beginning of what is printed ends the program without a word, as
    // is usual; a service whose log nobody reads any more goes on.
    if !matches!(cli.command, Command::Serve(_)) {
        sigpipe::reset();
    }
    match cli.command.run() {
        Ok(()) => ExitCode::SUCCESS,
        Err(failure) => {
            let (code, error) = match failure {
                Failure::Input(error) => (2, error),
                Failure::Other(error) => (1, error),
            };
            eprintln!("morphogen: {error:#}");
            ExitCode::from(code)
        }
    }
}
