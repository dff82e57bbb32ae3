//! Headless Chromium, driven over WebDriver.

use std::net::TcpListener;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use anyhow::{Context, Result, bail};
use fantoccini::actions::{InputSource, KeyAction, KeyActions, MouseActions, PointerAction};
use fantoccini::elements::Element;
use fantoccini::error::CmdError;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::json;
use url::Url;

/// How long the interface may take to show something. The tests' build is
/// slower than the real one, and the machine may be busy.
const PATIENCE: Duration = Duration::from_secs(180);
/// How long a window may take to close.
const TO_END: Duration = Duration::from_secs(10);
const LOOK_EVERY: Duration = Duration::from_millis(100);

/// A browser window; gone when dropped.
pub struct Browser {
    driver: Child,
    client: Client,
}

impl Browser {
    /// The key Ctrl, by its WebDriver code (W3C WebDriver, 17.4.2).
    pub const CONTROL: char = '\u{e009}';
    /// The key Shift.
    pub const SHIFT: char = '\u{e008}';
    /// The key Alt.
    pub const ALT: char = '\u{e00a}';
    /// The key Escape.
    pub const ESCAPE: char = '\u{e00c}';

    /// Opens a window that saves downloads in `downloads`. Edges of the land are drawn as
    /// steps: smooth ones take a machine without graphics twice as long.
    ///
    /// # Errors
    /// When Chromium or ChromeDriver are not installed or do not start.
    pub async fn open(downloads: &Path) -> Result<Self> {
        Self::drawing(downloads, &["--webgl-antialiasing-mode=none"]).await
    }

    /// The same with smooth edges, for pictures to look at.
    ///
    /// # Errors
    /// When Chromium or ChromeDriver are not installed or do not start.
    pub async fn open_smooth(downloads: &Path) -> Result<Self> {
        Self::drawing(downloads, &[]).await
    }

    async fn drawing(downloads: &Path, edges: &[&str]) -> Result<Self> {
        let port = TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("chromedriver is missing; ./check installs it")?;
        let mut args = vec![
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--enable-unsafe-swiftshader",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--window-size=1280,900",
        ];
        args.extend(edges);
        let capabilities = json!({
            // A page that draws in software on a busy machine answers late.
            "timeouts": { "script": PATIENCE.as_millis() },
            "goog:chromeOptions": {
                "args": args,
                "prefs": { "download.default_directory": downloads },
            },
        });
        let capabilities = capabilities.as_object().cloned().unwrap_or_default();
        let url = format!("http://127.0.0.1:{port}");
        for _ in 0..100 {
            let mut builder = ClientBuilder::new(HttpConnector::new());
            builder.capabilities(capabilities.clone().into_iter().collect());
            if let Ok(client) = builder.connect(&url).await {
                return Ok(Self { driver, client });
            }
            tokio::time::sleep(LOOK_EVERY).await;
        }
        bail!("the browser does not start")
    }

    /// Goes to a page.
    pub async fn go(&self, url: &str) -> Result<()> {
        Ok(self.client.goto(url).await?)
    }

    /// Loads the page anew.
    pub async fn reload(&self) -> Result<()> {
        Ok(self.client.refresh().await?)
    }

    /// The element that `css` finds, as soon as it is there.
    pub async fn find(&self, css: &str) -> Result<Element> {
        let wait = self.client.wait().at_most(PATIENCE).every(LOOK_EVERY);
        wait.for_element(Locator::Css(css))
            .await
            .with_context(|| format!("there is no {css}"))
    }

    /// Clicks on what `css` finds.
    pub async fn click(&self, css: &str) -> Result<()> {
        self.on(css, async |element| element.click().await).await
    }

    /// Does something with what `css` finds.
    async fn on(
        &self,
        css: &str,
        act: impl AsyncFn(Element) -> Result<(), CmdError>,
    ) -> Result<()> {
        self.on_any(Locator::Css(css), act).await
    }

    /// Does something with what is found; once more when the page has drawn it anew
    /// between finding and using it.
    async fn on_any(
        &self,
        what: Locator<'_>,
        act: impl AsyncFn(Element) -> Result<(), CmdError>,
    ) -> Result<()> {
        const TIMES: usize = 5;
        let found = async || {
            let wait = self.client.wait().at_most(PATIENCE).every(LOOK_EVERY);
            let element = wait.for_element(what).await;
            element.with_context(|| format!("there is no {what:?}"))
        };
        for _ in 1..TIMES {
            match act(found().await?).await {
                Err(error) if error.is_stale_element_reference() => {}
                other => return Ok(other?),
            }
        }
        Ok(act(found().await?).await?)
    }

    /// Clicks on the button that reads `text`.
    pub async fn press(&self, text: &str) -> Result<()> {
        let button = format!("//button[normalize-space()='{text}']");
        self.on_any(Locator::XPath(&button), async |button| button.click().await)
            .await
    }

    /// Follows the link whose text has `text` in it.
    pub async fn follow(&self, text: &str) -> Result<()> {
        let link = format!("//a[contains(., '{text}')]");
        self.on_any(Locator::XPath(&link), async |link| link.click().await)
            .await
    }

    /// Opens a menu over the land, by its test id, if it is not open.
    pub async fn open_menu(&self, menu: &str) -> Result<()> {
        let css = crate::test_id(menu);
        let summary = self.find(&css).await?;
        let open = "return document.querySelector(arguments[0]).parentElement.open";
        if self.script(open, vec![json!(css)]).await? != json!(true) {
            summary.click().await?;
        }
        Ok(())
    }

    /// Chooses an entry of a drop-down list by its value, as soon as it has it: some
    /// entries come after the list.
    pub async fn choose(&self, css: &str, value: &str) -> Result<()> {
        self.find(&format!("{css} option[value='{value}']")).await?;
        self.on(css, async |list| list.select_by_value(value).await)
            .await
    }

    /// Replaces what a field holds, and presses Enter.
    pub async fn fill(&self, css: &str, text: &str) -> Result<()> {
        self.write(css, &format!("{text}\u{e007}")).await
    }

    /// Replaces what a field holds.
    pub async fn write(&self, css: &str, text: &str) -> Result<()> {
        // Typed keys, as a person would: select all, then over it.
        self.click(css).await?;
        let keys = format!("\u{e009}a\u{e009}{text}");
        self.on(css, async |field| field.send_keys(&keys).await)
            .await
    }

    /// Gives a file to a file field.
    pub async fn give_file(&self, css: &str, file: &Path) -> Result<()> {
        self.give_files(css, &[file]).await
    }

    /// Gives several files to a file field at once.
    pub async fn give_files(&self, css: &str, files: &[&Path]) -> Result<()> {
        let mut paths = Vec::new();
        for file in files {
            paths.push(file.canonicalize()?.to_string_lossy().into_owned());
        }
        let field = self.find(css).await?;
        Ok(field.send_keys(&paths.join("\n")).await?)
    }

    /// What an element reads.
    pub async fn text(&self, css: &str) -> Result<String> {
        Ok(self.find(css).await?.text().await?)
    }

    /// What an element holds, shown or not.
    pub async fn content(&self, css: &str) -> Result<String> {
        let found = self.find(css).await?;
        Ok(found.prop("textContent").await?.unwrap_or_default())
    }

    /// Waits until `wanted` is true of what an element holds.
    pub async fn until(&self, css: &str, wanted: impl Fn(&str) -> bool) -> Result<String> {
        let start = std::time::Instant::now();
        loop {
            // The element may be drawn anew between finding and reading it.
            let content = self.content(css).await.unwrap_or_default();
            if wanted(&content) {
                return Ok(content);
            }
            if start.elapsed() > PATIENCE {
                let page = self.seen().await;
                bail!("{css} stays at ‘{content}’ {page}");
            }
            tokio::time::sleep(LOOK_EVERY).await;
        }
    }

    /// What else the page shows, for the message of a test that waits in vain.
    async fn seen(&self) -> String {
        let script = "
            const read = (css) => [...document.querySelectorAll(css)].map((e) => e.textContent);
            const held = document.activeElement;
            return {
                said: read('[data-sonner-toast]'),
                open: [...document.querySelectorAll('dialog[open]')].map((e) => e.ariaLabel),
                choices: document.querySelectorAll('dialog[open] li button').length,
                focus: [held.tagName, held.dataset.testid, held.value],
                line: read('footer'),
            };";
        let seen = self.script(script, Vec::new()).await;
        seen.map_or_else(|error| error.to_string(), |seen| seen.to_string())
    }

    /// Waits until nothing fits `css` any more.
    pub async fn until_gone(&self, css: &str) -> Result<()> {
        let start = std::time::Instant::now();
        while !self.client.find_all(Locator::Css(css)).await?.is_empty() {
            if start.elapsed() > PATIENCE {
                bail!("{css} does not go away");
            }
            tokio::time::sleep(LOOK_EVERY).await;
        }
        Ok(())
    }

    /// Waits until every picture whose middle is in view within `css` is there; what a list
    /// scrolls out of its sight is not in view.
    ///
    /// # Errors
    /// When one does not come.
    pub async fn pictures(&self, css: &str) -> Result<()> {
        let missing = "return [...document.querySelectorAll(`${arguments[0]} img`)]
            .filter((image) => {
                const { left, right, top, bottom } = image.getBoundingClientRect();
                const seen = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
                return image.parentElement.contains(seen) && image.naturalWidth === 0;
            }).length";
        let start = std::time::Instant::now();
        loop {
            let missing = self.script(missing, vec![json!(css)]).await?;
            if missing == json!(0) {
                return Ok(());
            }
            if start.elapsed() > PATIENCE {
                bail!("{missing} pictures in {css} do not come");
            }
            tokio::time::sleep(LOOK_EVERY).await;
        }
    }

    /// Waits until the land is shown in full; which revision it is of.
    pub async fn grown(&self) -> Result<String> {
        self.until("[data-testid=complete]", |text| {
            text.starts_with("complete")
        })
        .await
    }

    /// Waits until the land is shown in full at another revision than `before`.
    pub async fn grown_since(&self, before: &str) -> Result<String> {
        let newer = |text: &str| text.starts_with("complete") && text != before;
        self.until("[data-testid=complete]", newer).await
    }

    /// Presses a key, with modifiers held.
    pub async fn key(&self, modifiers: &[char], key: char) -> Result<()> {
        let mut keys = KeyActions::new("keyboard".to_owned());
        for &value in modifiers {
            keys = keys.then(KeyAction::Down { value });
        }
        keys = keys
            .then(KeyAction::Down { value: key })
            .then(KeyAction::Up { value: key });
        for &value in modifiers.iter().rev() {
            keys = keys.then(KeyAction::Up { value });
        }
        Ok(self.client.perform_actions(keys).await?)
    }

    /// Holds a key down until it has repeated `times`, and lets it go.
    pub async fn repeat(&self, key: char, times: usize) -> Result<()> {
        let mut keys = KeyActions::new("keyboard".to_owned());
        for _ in 0..times {
            keys = keys.then(KeyAction::Down { value: key });
        }
        let keys = keys.then(KeyAction::Up { value: key });
        Ok(self.client.perform_actions(keys).await?)
    }

    /// Holds a key down, or lets it go.
    pub async fn hold(&self, key: char, down: bool) -> Result<()> {
        let action = if down {
            KeyAction::Down { value: key }
        } else {
            KeyAction::Up { value: key }
        };
        Ok(self
            .client
            .perform_actions(KeyActions::new("keyboard".to_owned()).then(action))
            .await?)
    }

    /// Drags with the mouse from an element's middle, by `steps` of
    /// (`dx`, `dy`) pixels, and lets go if `release`.
    pub async fn drag(&self, css: &str, steps: &[(f64, f64)], release: bool) -> Result<()> {
        self.drag_from(css, (0.5, 0.5), steps, release).await
    }

    /// The same from a place of an element, given as shares of its width and height.
    pub async fn drag_from(
        &self,
        css: &str,
        (across, down): (f64, f64),
        steps: &[(f64, f64)],
        release: bool,
    ) -> Result<()> {
        self.find(css).await?;
        // In view, and where it then is in the window: a panel may be scrolled.
        let script = "const element = document.querySelector(arguments[0]);
            element.scrollIntoView({ block: 'nearest' });
            const box = element.getBoundingClientRect();
            return [box.x, box.y, box.width, box.height];";
        let place = self.client.execute(script, vec![json!(css)]).await?;
        let [x, y, width, height]: [f64; 4] = serde_json::from_value(place)?;
        let (mut x, mut y) = (x + across * width, y + down * height);
        let to = |x: f64, y: f64, ms: u64| PointerAction::MoveTo {
            duration: Some(Duration::from_millis(ms)),
            x,
            y,
        };
        let mut mouse = MouseActions::new("mouse".to_owned())
            .then(to(x, y, 0))
            .then(PointerAction::Down { button: 0 });
        for (dx, dy) in steps {
            (x, y) = (x + dx, y + dy);
            mouse = mouse.then(to(x, y, 60));
        }
        if release {
            mouse = mouse.then(PointerAction::Up { button: 0 });
        }
        Ok(self.client.perform_actions(mouse).await?)
    }

    /// Plays what a pen has done on an element: places as shares of its width and height,
    /// and how hard it was pressed, 0 to 1.
    ///
    /// # Errors
    /// As [`Browser::find`].
    pub async fn pen_stroke(&self, css: &str, recorded: &[(f64, f64, f64)]) -> Result<()> {
        let (x, y, width, height) = self.find(css).await?.rectangle().await?;
        let last = recorded.len() - 1;
        for (k, (across, down, pressure)) in recorded.iter().enumerate() {
            let event = |kind: &str, buttons: u8| {
                json!({
                    "type": kind, "x": x + across * width, "y": y + down * height,
                    "button": "left", "buttons": buttons, "clickCount": 1,
                    "pointerType": "pen", "force": pressure,
                })
            };
            let kinds: &[(&str, u8)] = match k {
                0 => &[("mousePressed", 1)],
                k if k == last => &[("mouseMoved", 1), ("mouseReleased", 0)],
                _ => &[("mouseMoved", 1)],
            };
            for (kind, buttons) in kinds {
                self.devtools("Input.dispatchMouseEvent", event(kind, *buttons))
                    .await?;
            }
            tokio::time::sleep(Duration::from_millis(30)).await;
        }
        Ok(())
    }

    /// Clicks on a place of an element, given as shares of its width and height.
    ///
    /// # Errors
    /// As [`Browser::find`].
    pub async fn click_at(&self, css: &str, across: f64, down: f64) -> Result<()> {
        let (x, y, width, height) = self.find(css).await?.rectangle().await?;
        let mouse = MouseActions::new("mouse".to_owned())
            .then(PointerAction::MoveTo {
                duration: Some(Duration::from_millis(60)),
                x: x + across * width,
                y: y + down * height,
            })
            .then(PointerAction::Down { button: 0 })
            .then(PointerAction::Up { button: 0 });
        Ok(self.client.perform_actions(mouse).await?)
    }

    /// Lets the mouse button go.
    pub async fn release_mouse(&self) -> Result<()> {
        let up = PointerAction::Up { button: 0 };
        Ok(self
            .client
            .perform_actions(MouseActions::new("mouse".to_owned()).then(up))
            .await?)
    }

    /// A picture of the window, as PNG.
    pub async fn screenshot(&self) -> Result<Vec<u8>> {
        Ok(self.client.screenshot().await?)
    }

    /// Makes the page so many pixels wide and high, and draws it so many times as large.
    pub async fn resize(&self, width: u32, height: u32, zoom: f64) -> Result<()> {
        let size = json!({
            "width": width, "height": height, "deviceScaleFactor": zoom, "mobile": false,
        });
        self.devtools("Emulation.setDeviceMetricsOverride", size)
            .await
    }

    /// Has the page believe what the system prefers, such as `prefers-color-scheme`.
    pub async fn prefers(&self, feature: &str, value: &str) -> Result<()> {
        let features = json!({ "features": [{ "name": feature, "value": value }] });
        self.devtools("Emulation.setEmulatedMedia", features).await
    }

    /// Says something to the browser that WebDriver has no word for.
    async fn devtools(&self, command: &'static str, parameters: serde_json::Value) -> Result<()> {
        let asked = Devtools {
            command,
            parameters,
        };
        self.client.issue_cmd(asked).await?;
        Ok(())
    }

    /// Runs a script in the page.
    pub async fn script(
        &self,
        code: &str,
        arguments: Vec<serde_json::Value>,
    ) -> Result<serde_json::Value> {
        Ok(self.client.execute(code, arguments).await?)
    }

    /// Sets how the page of a landscape, `…/landscapes/<id>`, is looked at when it
    /// is opened next, as the page keeps it itself.
    pub async fn look_next(&self, page: &str, view: &serde_json::Value) -> Result<()> {
        let landscape = page.rsplit('/').next().unwrap_or_default();
        let script = "localStorage.setItem(`view of ${arguments[0]}`, arguments[1])";
        let arguments = vec![json!(landscape), json!(view.to_string())];
        self.script(script, arguments).await?;
        Ok(())
    }

    /// Closes the window.
    pub async fn close(self) -> Result<()> {
        Ok(self.client.clone().close().await?)
    }
}

/// A command of Chromium's own.
#[derive(Debug)]
struct Devtools {
    command: &'static str,
    parameters: serde_json::Value,
}

impl WebDriverCompatibleCommand for Devtools {
    fn endpoint(
        &self,
        base_url: &Url,
        session_id: Option<&str>,
    ) -> std::result::Result<Url, url::ParseError> {
        let session = session_id.unwrap_or_default();
        base_url.join(&format!("session/{session}/goog/cdp/execute"))
    }

    fn method_and_body(&self, _: &Url) -> (http::Method, Option<String>) {
        let body = json!({ "cmd": self.command, "params": self.parameters });
        (http::Method::POST, Some(body.to_string()))
    }
}

impl Drop for Browser {
    /// The driver alone would leave Chromium drawing on, beside the tests that follow
    /// a failed one.
    fn drop(&mut self) {
        let client = self.client.clone();
        let ended = std::thread::spawn(move || {
            let runtime = tokio::runtime::Builder::new_current_thread()
                .enable_all()
                .build()?;
            let end = async { tokio::time::timeout(TO_END, client.close()).await };
            std::io::Result::Ok(runtime.block_on(end).is_ok())
        });
        let _ = ended.join();
        let _ = self.driver.kill();
        let _ = self.driver.wait();
    }
}
