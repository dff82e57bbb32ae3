//! `morphogen schema`.

use clap::Args;
use terrain::picture::shared_constants;

use super::Failure;

/// Print the JSON Schema of recipes.
#[derive(Args)]
pub struct Schema {
    /// Print the OpenAPI description of the web service instead
    #[arg(long)]
    openapi: bool,
    /// Print what the page's shaders have in common with the core instead
    #[arg(long, conflicts_with = "openapi")]
    shading: bool,
}

impl Schema {
    pub fn run(self) -> Result<(), Failure> {
        let schema = match (self.openapi, self.shading) {
            (true, _) => server::openapi_json(),
            (_, true) => shading(),
            _ => format!("{:#}\n", recipe::recipe_schema()),
        };
        print!("{schema}");
        Ok(())
    }
}

/// The constants as a module of the page.
fn shading() -> String {
    let mut text = String::from("// Made by ./renew from crates/terrain/src/picture/shared.rs.\n");
    for (name, value) in shared_constants() {
        text += &format!("export const {name} = {value};\n");
    }
    text
}
