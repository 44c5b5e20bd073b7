//! A server with a database of its own and a browser on it, both gone with the test.

use std::net::{IpAddr, Ipv4Addr};
use std::time::Duration;

use fantoccini::key::Key;
use fantoccini::{Client, Locator};
use rumek_server::serve::{Options, serve_on};
use rumek_store::Database;
use rumek_testkit::{Browser, TestDatabase, Viewport};
use serde_json::Value;
use tokio::net::TcpListener;
use tokio::sync::oneshot;
use tokio::task::JoinHandle;

pub(crate) const DESK: Viewport = Viewport { width: 1280, height: 800 };
pub(crate) const PHONE: Viewport = Viewport { width: 390, height: 844 };

pub(crate) struct Bench {
    pub(crate) browser: Browser,
    pub(crate) database: TestDatabase,
    address: String,
    end: oneshot::Sender<()>,
    server: JoinHandle<anyhow::Result<()>>,
}

impl Bench {
    /// With the Tern Point demo data, or empty.
    pub(crate) async fn set_up(demo: bool) -> Self {
        let database = TestDatabase::fresh(|url| async move { Ok(Database::connect(&url).await?.migrate().await?) })
            .await
            .unwrap();
        let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await.unwrap();
        let port = listener.local_addr().unwrap().port();
        let options =
            Options { address: IpAddr::V4(Ipv4Addr::LOCALHOST), port, database_url: database.url().to_owned(), demo };
        let (end, ended) = oneshot::channel();
        let server = tokio::spawn(serve_on(listener, options, async {
            let _ = ended.await;
        }));
        let browser = Browser::start(DESK).await.unwrap();
        let bench = Self { browser, database, address: format!("http://127.0.0.1:{port}"), end, server };
        bench.ready().await;
        bench
    }

    /// Waits until the database is in shape and, for the demo, filled.
    async fn ready(&self) {
        self.open("/readyz").await;
        for _ in 0..200 {
            if self.client().source().await.unwrap().contains(">ready<") {
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
            self.client().refresh().await.unwrap();
        }
        panic!("the server does not become ready");
    }

    pub(crate) fn client(&self) -> &Client {
        self.browser.client()
    }

    pub(crate) async fn open(&self, path: &str) {
        self.client().goto(&format!("{}{path}", self.address)).await.unwrap();
    }

    /// Waits for an element.
    pub(crate) async fn see(&self, css: &str) -> fantoccini::elements::Element {
        self.client()
            .wait()
            .at_most(Duration::from_secs(10))
            .for_element(Locator::Css(css))
            .await
            .unwrap_or_else(|error| panic!("{css}: {error}"))
    }

    /// The text of an element; empty where there is none.
    pub(crate) async fn text(&self, css: &str) -> String {
        let script = "return document.querySelector(arguments[0])?.innerText ?? ''";
        let text = self.client().execute(script, vec![css.into()]).await.unwrap();
        text.as_str().unwrap_or_default().replace('\u{a0}', " ")
    }

    /// Waits until the text of an element satisfies something.
    pub(crate) async fn until(&self, css: &str, what: &str, holds: impl Fn(&str) -> bool) -> String {
        let mut text = String::new();
        for _ in 0..200 {
            text = self.text(css).await;
            if holds(&text) {
                return text;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("{css} never {what}: {text}");
    }

    pub(crate) async fn until_says(&self, css: &str, words: &str) -> String {
        self.until(css, &format!("says {words:?}"), |text| text.contains(words)).await
    }

    /// Clicks the first button or link whose text or spoken name begins so.
    pub(crate) async fn press(&self, name: &str) {
        let find = r"return [...document.querySelectorAll('button, a, [role=menuitem], label.ant-segmented-item')].find(
            (e) => e.offsetParent !== null && ((e.getAttribute('aria-label') ?? '').startsWith(arguments[0]) || e.innerText.trim().startsWith(arguments[0])))";
        for _ in 0..100 {
            let found = self.client().execute(find, vec![name.into()]).await.unwrap();
            if !found.is_null() {
                let click = format!(
                    "({}).click()",
                    find.trim_start_matches("return ").replace("arguments[0]", &Value::from(name).to_string())
                );
                self.client().execute(&click, vec![]).await.unwrap();
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("there is no button {name:?}");
    }

    /// Replaces what an input holds, key by key.
    pub(crate) async fn fill(&self, css: &str, text: &str) {
        let input = self.see(css).await;
        input.click().await.unwrap();
        input.send_keys(&format!("{}a{}{}", Key::Control, Key::Null, Key::Backspace)).await.unwrap();
        input.send_keys(text).await.unwrap();
    }

    /// What the page's own rules were broken by; nothing may be.
    pub(crate) async fn assert_no_complaints(&self) {
        assert_eq!(self.browser.complaints().await.unwrap(), Vec::<String>::new());
    }

    pub(crate) async fn clear_up(self) {
        self.browser.close().await.unwrap();
        let _ = self.end.send(());
        self.server.await.unwrap().unwrap();
    }
}
