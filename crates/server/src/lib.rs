//! server
pub fn openapi_json() -> String { String::new() }
pub struct Config { pub database: String, pub address: std::net::SocketAddr, pub demo: Option<std::path::PathBuf>, pub cache_dir: std::path::PathBuf, pub cache_bytes: usize }
pub struct Server;
impl Server { pub async fn start(_: Config) -> std::io::Result<Self> { todo!() } pub fn address(&self) -> std::net::SocketAddr { todo!() } pub async fn run_until(self, _: impl Future<Output=()>) -> std::io::Result<()> { todo!() } }
