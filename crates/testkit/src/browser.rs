//! A headless Chromium driven through its own driver, both ended with the test.

use std::time::Duration;

use anyhow::{Context, Result, bail};
use fantoccini::error::NewSessionError;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::json;

use crate::guard::{Guarded, free_port};

/// The inside of the window, CSS pixels.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Viewport {
    /// Across.
    pub width: u32,
    /// Down.
    pub height: u32,
}

/// A browser with one window.
pub struct Browser {
    client: Client,
    _driver: Guarded,
}

const START: &str = r#"
command -v chromedriver >/dev/null || { echo "chromedriver is not installed: run make setup" >&2; exit 1; }
PROFILE=$(mktemp -d /tmp/rumek-browser-XXXXXX)
TMPDIR=$PROFILE chromedriver --port=$PORT >/dev/null 2>&1 &
DRIVER=$!
"#;

/// The driver ends its browser; the profile is removed once that has let go of it.
const STOP: &str = r#"kill "$DRIVER" 2>/dev/null; wait "$DRIVER" 2>/dev/null
pkill -f -- "--user-data-dir=$PROFILE_DIR" 2>/dev/null; sleep 0.2; rm -rf "$PROFILE" "$PROFILE_DIR""#;

impl Browser {
    /// Starts a browser whose pages are exactly as large as the viewport.
    ///
    /// # Errors
    /// Where Chromium or its driver is missing or does not start.
    pub async fn start(viewport: Viewport) -> Result<Self> {
        let port = free_port()?;
        let profile = format!("/tmp/rumek-profile-{}-{port}", std::process::id());
        let driver = Guarded::start(START, STOP, &[("PORT", &port.to_string()), ("PROFILE_DIR", &profile)])?;
        let capabilities = json!({
            "goog:chromeOptions": {
                "args": [
                    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
                    "--disable-background-networking", "--disable-component-update", "--disable-sync",
                    "--hide-scrollbars", "--force-prefers-reduced-motion", "--force-device-scale-factor=1", "--window-size=1280,800",
                    format!("--user-data-dir={profile}"),
                ]
            },
            "goog:loggingPrefs": { "browser": "ALL" }
        });
        let mut builder = ClientBuilder::new(HttpConnector::new());
        builder.capabilities(capabilities.as_object().cloned().context("capabilities")?);
        let address = format!("http://127.0.0.1:{port}");
        for _ in 0..100 {
            match builder.connect(&address).await {
                Ok(client) => {
                    let browser = Self { client, _driver: driver };
                    browser.resize(viewport).await?;
                    return Ok(browser);
                }
                Err(NewSessionError::Lost(_) | NewSessionError::Failed(_) | NewSessionError::FailedC(_)) => {
                    tokio::time::sleep(Duration::from_millis(100)).await;
                }
                Err(error) => bail!("the browser does not start: {error}"),
            }
        }
        bail!("the browser's driver does not answer on port {port}")
    }

    /// The window's handle.
    #[must_use]
    pub fn client(&self) -> &Client {
        &self.client
    }

    /// Makes the inside of the window exactly so large: the outside includes a frame.
    ///
    /// # Errors
    /// Where the driver does not answer.
    pub async fn resize(&self, wanted: Viewport) -> Result<()> {
        self.client.set_window_size(wanted.width, wanted.height).await?;
        let inner = self.client.execute("return [innerWidth, innerHeight]", vec![]).await?;
        let inner: [u32; 2] = serde_json::from_value(inner)?;
        let size = |wanted: u32, inner: u32| 2 * wanted - inner.min(2 * wanted);
        Ok(self.client.set_window_size(size(wanted.width, inner[0]), size(wanted.height, inner[1])).await?)
    }

    /// What the browser's console has complained of since last asked: script errors, refused
    /// requests and every breach of the page's policy.
    ///
    /// # Errors
    /// Where the driver does not answer.
    pub async fn complaints(&self) -> Result<Vec<String>> {
        let entries = self.client.issue_cmd(ConsoleLog).await?;
        let entries = entries.as_array().cloned().unwrap_or_default();
        Ok(entries
            .iter()
            .filter(|entry| entry["level"] != "INFO" && entry["level"] != "DEBUG")
            .map(|entry| entry["message"].as_str().unwrap_or_default().to_owned())
            .collect())
    }

    /// Grants a page's origin a permission, as the person would when asked.
    ///
    /// # Errors
    /// Where the driver does not answer.
    pub async fn allow(&self, origin: &str, permission: &str) -> Result<()> {
        self.devtools("Browser.grantPermissions", json!({ "origin": origin, "permissions": [permission] })).await
    }

    /// Has the browser do what only its own developer tools can: colours the system chooses, a slower machine.
    ///
    /// # Errors
    /// Where the driver does not answer or knows no such command.
    pub async fn devtools(&self, cmd: &'static str, params: serde_json::Value) -> Result<()> {
        self.client.issue_cmd(Devtools { cmd, params }).await?;
        Ok(())
    }

    /// Ends the session; the driver follows when this is dropped.
    ///
    /// # Errors
    /// Where the driver does not answer.
    pub async fn close(self) -> Result<()> {
        Ok(self.client.close().await?)
    }
}

/// The driver's own command for the console, beside the standard ones.
#[derive(Debug)]
struct ConsoleLog;

impl WebDriverCompatibleCommand for ConsoleLog {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/se/log", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _address: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(json!({ "type": "browser" }).to_string()))
    }
}

/// The driver's own way to the browser's developer tools.
#[derive(Debug)]
struct Devtools {
    cmd: &'static str,
    params: serde_json::Value,
}

impl WebDriverCompatibleCommand for Devtools {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _address: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(json!({ "cmd": self.cmd, "params": self.params }).to_string()))
    }
}
