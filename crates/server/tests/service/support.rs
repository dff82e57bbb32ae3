//! A service of its own for each test.

use std::net::SocketAddr;
use std::path::PathBuf;

use recipe::grow::Budget;
use reqwest::{Client, Response, StatusCode};
use serde_json::{Value, json};
use server::{Archives, Config, Limits, Server};
use sqlx::{Connection, Executor, PgConnection};
use tempfile::TempDir;
use tokio::sync::oneshot;

/// A service on a database of its own, and a client of it.
pub struct Service {
    pub database: String,
    pub address: SocketAddr,
    pub client: Client,
    folder: TempDir,
    stop: Option<oneshot::Sender<()>>,
}

/// An empty database. `./check` starts PostgreSQL and says where it is.
pub async fn new_database() -> String {
    let given = std::env::var("DATABASE_URL")
        .expect("DATABASE_URL must name a PostgreSQL server; ./check sets it");
    let mut connection = PgConnection::connect(&given)
        .await
        .expect("PostgreSQL answers");
    let name = format!("test_{}", uuid::Uuid::now_v7().simple());
    connection
        .execute(sqlx::AssertSqlSafe(format!("create database {name}")))
        .await
        .expect("a new database");
    let (server, _) = given.rsplit_once('/').expect("a database URL");
    format!("{server}/{name}")
}

impl Service {
    /// Starts on an empty database.
    pub async fn start() -> Self {
        Self::on(new_database().await).await
    }

    /// Starts on a database that may have been used before.
    pub async fn on(database: String) -> Self {
        Self::with(database, |_| {}).await
    }

    /// The same, keeping so many archives of exports.
    pub async fn keeping(database: String, archives: Archives) -> Self {
        Self::with(database, |config| config.archives = archives).await
    }

    /// On an empty database, with another budget for work.
    pub async fn allowing(work: Budget) -> Self {
        Self::with(new_database().await, |config| config.work = work).await
    }

    /// On an empty database, with other bounds on connections and on silence.
    pub async fn limited(limits: Limits) -> Self {
        Self::with(new_database().await, |config| config.limits = limits).await
    }

    async fn with(database: String, change: impl FnOnce(&mut Config)) -> Self {
        let folder = TempDir::new().expect("a folder");
        let mut config = Config {
            database: database.clone(),
            address: SocketAddr::from(([127, 0, 0, 1], 0)),
            demo: Some(PathBuf::from(concat!(
                env!("CARGO_MANIFEST_DIR"),
                "/../../demo"
            ))),
            cache_dir: folder.path().to_owned(),
            pictures_ahead: false,
            cache_bytes: 256 << 20,
            work: Budget::default(),
            archives: Archives::default(),
            limits: Limits::default(),
        };
        change(&mut config);
        let server = Server::start(config).await.expect("the service starts");
        let address = server.address();
        let (stop, stopped) = oneshot::channel::<()>();
        tokio::spawn(server.run_until(async move {
            let _ = stopped.await;
        }));
        Self {
            database,
            address,
            client: Client::new(),
            folder,
            stop: Some(stop),
        }
    }

    /// Stops, and starts again on the same database.
    pub async fn restarted(mut self) -> Self {
        if let Some(stop) = self.stop.take() {
            let _ = stop.send(());
        }
        Self::on(self.database.clone()).await
    }

    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
    }

    pub async fn get(&self, path: &str) -> Value {
        let response = self
            .client
            .get(self.url(path))
            .send()
            .await
            .expect("an answer");
        assert_eq!(response.status(), StatusCode::OK, "GET {path}");
        response.json().await.expect("JSON")
    }

    pub async fn post(&self, path: &str, body: &Value) -> Response {
        self.client
            .post(self.url(path))
            .json(body)
            .send()
            .await
            .expect("an answer")
    }

    pub async fn upload(&self, name: &str, bytes: Vec<u8>) -> Response {
        let url = self.url(&format!("/api/assets?name={name}"));
        self.client
            .post(url)
            .body(bytes)
            .send()
            .await
            .expect("an answer")
    }

    /// The id of the demo.
    pub async fn demo(&self) -> String {
        let shelf = self.get("/api/landscapes").await;
        shelf[0]["id"]
            .as_str()
            .expect("the demo is on the shelf")
            .to_owned()
    }

    pub async fn head(&self, landscape: &str) -> Value {
        self.get(&format!("/api/landscapes/{landscape}")).await
    }

    /// Makes a landscape; its id.
    pub async fn make(&self, name: &str, start: Value) -> String {
        let new = json!({ "name": name, "start": start });
        let made = self.post("/api/landscapes", &new).await;
        assert_eq!(made.status(), StatusCode::CREATED);
        let made: Value = made.json().await.expect("JSON");
        made["id"].as_str().expect("an id").to_owned()
    }

    /// Sets one value of the recipe, as an edit of the head.
    pub async fn set(&self, landscape: &str, pointer: &str, value: Value) -> Response {
        let base = self.head(landscape).await["revision"].clone();
        let patch = json!([{ "op": "replace", "path": pointer, "value": value }]);
        let edit = json!({ "base": base, "label": format!("Set {pointer}"), "patch": patch });
        self.post(&format!("/api/landscapes/{landscape}/edits"), &edit)
            .await
    }

    /// How many rows a table has.
    pub async fn count(&self, table: &'static str) -> i64 {
        let mut connection = PgConnection::connect(&self.database)
            .await
            .expect("connects");
        sqlx::query_scalar(sqlx::AssertSqlSafe(format!("select count(*) from {table}")))
            .fetch_one(&mut connection)
            .await
            .expect("a count")
    }

    /// Does something to the database behind the service's back.
    pub async fn execute(&self, statement: &'static str) {
        let mut connection = PgConnection::connect(&self.database)
            .await
            .expect("connects");
        sqlx::query(statement)
            .execute(&mut connection)
            .await
            .expect("it is done");
    }

    pub fn folder(&self) -> &std::path::Path {
        self.folder.path()
    }
}

/// A problem document's words.
pub async fn detail(response: Response) -> String {
    let kind = response.headers()["content-type"]
        .to_str()
        .expect("text")
        .to_owned();
    assert_eq!(kind, "application/problem+json");
    let body: Value = response.json().await.expect("JSON");
    body["detail"].as_str().expect("a detail").to_owned()
}

/// The real elevation model among the test data.
pub const DEM: &[u8] = include_bytes!("../../../formats/tests/data/jacksboro.tif");

/// The height of the first step of the demo.
pub const HEIGHT: &str = "/strands/0/steps/0/do/noise/height_m";
