//! `morphogen completions` and `morphogen man`.

use std::path::PathBuf;

use anyhow::Context;
use clap::{Args, CommandFactory};
use clap_complete::Shell;

use super::Failure;
use crate::Cli;

/// Print what a shell needs to complete this program's options.
#[derive(Args)]
pub struct Completions {
    /// Which shell
    shell: Shell,
}

impl Completions {
    pub fn run(self) -> Result<(), Failure> {
        let mut command = Cli::command();
        clap_complete::generate(
            self.shell,
            &mut command,
            "morphogen",
            &mut std::io::stdout(),
        );
        Ok(())
    }
}

/// Write the manual pages of this program and its commands.
#[derive(Args)]
pub struct Man {
    /// Folder for the pages; made when it is not there
    #[arg(long)]
    out: PathBuf,
}

impl Man {
    pub fn run(self) -> Result<(), Failure> {
        let out = &self.out;
        std::fs::create_dir_all(out)
            .and_then(|()| clap_mangen::generate_to(Cli::command(), out))
            .with_context(|| out.display().to_string())?;
        Ok(())
    }
}
