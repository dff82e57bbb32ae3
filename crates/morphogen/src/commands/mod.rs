//! The subcommands, one file each.

mod explain;
mod grow;
mod read;
mod reference;
mod schema;
mod serve;
mod survey;

use clap::Subcommand;

/// Why a command failed, and so its exit code.
pub enum Failure {
    /// What was given is not right: 2.
    Input(anyhow::Error),
    /// Something went wrong on the way: 1.
    Other(anyhow::Error),
}

impl From<anyhow::Error> for Failure {
    fn from(error: anyhow::Error) -> Self {
        Self::Other(error)
    }
}

#[derive(Subcommand)]
pub enum Command {
    /// Grow a recipe into files
    Grow(grow::Grow),
    /// Explain one place: what each step did there, and why its ground
    Explain(explain::Explain),
    /// Take a reading of a heightfield: slope, aspect or hillshade
    Read(read::Read),
    /// Write the reference of all kinds of step, with a picture of each
    Reference(reference::Reference),
    /// Print the JSON Schema of recipes
    Schema(schema::Schema),
    /// List likely mistakes, and measure the laws of drainage basins
    Survey(survey::Survey),
    /// Open the studio: a web service on this machine
    Serve(serve::Serve),
}

impl Command {
    pub fn run(self) -> Result<(), Failure> {
        match self {
            Command::Grow(grow) => grow.run(),
            Command::Explain(explain) => explain.run(),
            Command::Read(read) => read.run(),
            Command::Reference(reference) => reference.run(),
            Command::Schema(schema) => schema.run(),
            Command::Serve(serve) => serve.run(),
            Command::Survey(survey) => survey.run(),
        }
    }
}
