//! The kinds of step, for the editor.

use axum::Json;
use deliver::{ColourFormat, FieldFormat, Layer};
use recipe::document::{Combine, Product, ReadingSheet, reading_sheets};
use recipe::steps::{Group, KindSheet, Needs};
use recipe::words;
use serde_json::Value;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::state::AppState;

pub(super) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(catalogue))
        .routes(routes!(lists))
        .routes(routes!(combinations))
}

/// A kind of step.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Kind {
    /// Its name in a recipe.
    kind: String,
    /// Its name on screen.
    title: String,
    /// Other words for it, so that a search finds it.
    also_called: &'static [&'static str],
    /// What it is for: `make`, `detail`, `bound`, `move`, `values`, `erode`.
    group: String,
    /// What it leaves for others, by name.
    products: Vec<&'static str>,
    /// How it usually joins what is there already.
    combine: String,
    /// Parameters to begin with.
    #[schema(value_type = Object)]
    defaults: Value,
    /// What it cannot begin without: `file`, `strand` or `strand_or_file`.
    #[schema(value_type = Option<String>)]
    needs: Option<Needs>,
    /// Parameters to begin with when it takes in another strand.
    #[schema(value_type = Object)]
    on_strand: Value,
    /// Whether there is a picture of what it does.
    has_picture: bool,
    /// JSON Schema of the parameters.
    #[schema(value_type = Object)]
    schema: Value,
}

/// List the kinds of step, with the schemas of their parameters.
#[utoipa::path(get, operation_id = "list_kinds", path = "/api/kinds", responses((status = OK, body = Vec<Kind>)))]
async fn catalogue() -> Json<Vec<Kind>> {
    let kind = |sheet: KindSheet| Kind {
        kind: sheet.kind.to_owned(),
        title: sheet.title.to_owned(),
        also_called: sheet.also_called,
        group: sheet.group.name().to_owned(),
        products: sheet.products.iter().map(|left| left.name()).collect(),
        combine: sheet.combine.name().to_owned(),
        defaults: sheet.defaults,
        needs: sheet.needs,
        on_strand: sheet.on_strand,
        has_picture: sheet.example.is_some(),
        schema: sheet.schema,
    };
    Json(recipe::catalogue().kinds.into_iter().map(kind).collect())
}

/// Something with a name in a recipe or a request, and one on screen.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Entry {
    /// Its name in a recipe or a request.
    name: &'static str,
    /// Its name on screen.
    title: &'static str,
}

/// What masks can read.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct ReadingKind {
    /// Its name in a recipe; of a field that steps leave, that one's.
    reading: &'static str,
    /// Its name on screen.
    title: &'static str,
    /// The unit of its values; empty for a share or a count.
    unit: &'static str,
    /// Where its values usually lie, until the land itself says.
    usual: [f32; 2],
    /// Whether it goes from 0 to 1 as masks do, and is one without a range.
    is_share: bool,
    /// What a step before must have left for it to be read.
    needs: Option<&'static str>,
    /// The reading to begin with.
    #[schema(value_type = Object)]
    begins: Value,
    /// JSON Schema of its parameters; none when it has none.
    #[schema(value_type = Option<Object>)]
    schema: Option<Value>,
}

/// The lists that an editor chooses from.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Catalogue {
    /// What kinds of step are for, in the order of work.
    groups: Vec<Entry>,
    /// Fields that steps leave for others.
    fields: Vec<Entry>,
    /// What masks can read.
    readings: Vec<ReadingKind>,
    /// How steps combine with what is below them.
    combines: Vec<String>,
    /// How readings of a mask join the ones before.
    joins: Vec<String>,
    /// What covers can be made of, imported images apart.
    materials: Vec<String>,
    /// How covers blend with what is below them.
    blends: Vec<String>,
    /// What can be delivered.
    layers: Vec<LayerEntry>,
    /// In which formats fields are written.
    field_formats: Vec<Entry>,
    /// In which formats colour without light is written.
    colour_formats: Vec<Entry>,
}

/// A layer that can be delivered.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct LayerEntry {
    /// Its name in a request.
    name: String,
    /// Its name on screen.
    title: String,
    /// Whether it is one number a cell, which a channel of a picture can hold.
    one_number: bool,
}

/// The lists that an editor chooses from.
#[utoipa::path(get, operation_id = "show_catalogue", path = "/api/catalogue", responses((status = OK, body = Catalogue)))]
async fn lists() -> Json<Catalogue> {
    let reading = |sheet: ReadingSheet| ReadingKind {
        reading: sheet.reading,
        title: sheet.title,
        unit: sheet.unit,
        usual: sheet.usual,
        is_share: sheet.is_share,
        needs: sheet.needs.map(Product::name),
        begins: sheet.begins,
        schema: sheet.schema,
    };
    let field = |product: Product| Entry {
        name: product.name(),
        title: product.declared().title,
    };
    Json(Catalogue {
        groups: (Group::ALL.into_iter())
            .map(|group| Entry {
                name: group.name(),
                title: group.title(),
            })
            .collect(),
        fields: Product::fields().map(field).collect(),
        readings: reading_sheets().into_iter().map(reading).collect(),
        combines: words::<Combine>(),
        joins: words::<terrain::mask::Combine>(),
        materials: words::<terrain::ground::MaterialKind>(),
        blends: words::<terrain::ground::Blend>(),
        layers: (Layer::ALL.into_iter())
            .map(|layer| LayerEntry {
                name: layer.name().into_owned(),
                title: layer.title().to_owned(),
                one_number: layer.is_one_number(),
            })
            .collect(),
        field_formats: (FieldFormat::ALL.into_iter())
            .map(|format| Entry {
                name: format.name(),
                title: format.title(),
            })
            .collect(),
        colour_formats: (ColourFormat::ALL.into_iter())
            .map(|format| Entry {
                name: format.name(),
                title: format.title(),
            })
            .collect(),
    })
}

/// Steps that are often used together.
#[derive(serde::Serialize, utoipa::ToSchema)]
struct Combination {
    /// Its name in requests.
    key: &'static str,
    /// Its name on screen.
    title: &'static str,
    /// What it is for.
    about: &'static str,
    /// What steps before it must have left.
    needs: Vec<&'static str>,
    /// The steps; whoever lays them in gives them ids of their own.
    #[schema(value_type = Vec<Object>)]
    steps: Value,
}

/// List steps that are often used together.
#[utoipa::path(get, operation_id = "list_combinations", path = "/api/combinations", responses((status = OK, body = Vec<Combination>)))]
async fn combinations() -> Json<Vec<Combination>> {
    let entry = |combination: &recipe::combinations::Combination| Combination {
        key: combination.key,
        title: combination.title,
        about: combination.about,
        needs: combination.needs().into_iter().map(|t| t.name()).collect(),
        steps: combination.document(),
    };
    Json(
        recipe::combinations::COMBINATIONS
            .iter()
            .map(entry)
            .collect(),
    )
}
