//! `morphogen schema`.

use clap::Args;

use super::Failure;

/// Print the JSON Schema of recipes.
#[derive(Args)]
pub struct Schema {
    /// Print the OpenAPI description of the web service instead
    #[arg(long)]
    openapi: bool,
}

impl Schema {
    pub fn run(self) -> Result<(), Failure> {
        let schema = match self.openapi {
            true => server::openapi_json(),
            false => format!("{:#}\n", recipe::recipe_schema()),
        };
        print!("{schema}");
        Ok(())
    }
}
