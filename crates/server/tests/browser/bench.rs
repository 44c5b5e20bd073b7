//! A server with a database of its own and a browser on it, both gone with the test.

use std::net::{IpAddr, Ipv4Addr};
use std::time::Duration;

use fantoccini::key::Key;
use fantoccini::{Client, Locator};
use rumek_server::serve::{Options, serve_on};
use rumek_store::Database;
use rumek_testkit::{Browser, TestDatabase, Viewport};
use serde_json::Value;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::oneshot;
use tokio::task::JoinHandle;

pub(crate) const DESK: Viewport = Viewport { width: 1280, height: 800 };
pub(crate) const PHONE: Viewport = Viewport { width: 390, height: 844 };

pub(crate) struct Bench {
    pub(crate) browser: Browser,
    pub(crate) database: TestDatabase,
    options: Options,
    server: Option<Running>,
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
        let server = Some(run(listener, options.clone()));
        let browser = Browser::start(DESK).await.unwrap();
        let bench = Self { browser, database, options, server };
        bench.ready().await;
        bench
    }

    /// Waits until the database is in shape and, for the demo, filled.
    async fn ready(&self) {
        let port = self.options.port;
        for _ in 0..200 {
            let mut stream = TcpStream::connect((Ipv4Addr::LOCALHOST, port)).await.unwrap();
            let ask = format!("GET /readyz HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nConnection: close\r\n\r\n");
            stream.write_all(ask.as_bytes()).await.unwrap();
            let mut answer = String::new();
            stream.read_to_string(&mut answer).await.unwrap();
            if answer.starts_with("HTTP/1.1 200") {
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("the server does not become ready");
    }

    pub(crate) fn client(&self) -> &Client {
        self.browser.client()
    }

    pub(crate) async fn open(&self, path: &str) {
        self.client().goto(&format!("http://127.0.0.1:{}{path}", self.options.port)).await.unwrap();
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
        let click = r"const found = [...document.querySelectorAll('button, a, [role=menuitem], label.ant-segmented-item, label.ant-checkbox-wrapper, summary')].find(
            (e) => e.offsetParent !== null && ((e.getAttribute('aria-label') ?? '').startsWith(arguments[0]) || e.innerText.trim().startsWith(arguments[0])));
            found?.click();
            return found !== undefined";
        for _ in 0..100 {
            if self.client().execute(click, vec![name.into()]).await.unwrap() == true {
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

    /// Replaces what the input with this label holds.
    pub(crate) async fn fill_labelled(&self, label: &str, text: &str) {
        let find = format!(
            "const labels = [...document.querySelectorAll('label')].filter((l) => l.offsetParent !== null); const said = (l) => l.innerText.trim(); \
             return (labels.find((l) => said(l) === {label}) ?? labels.find((l) => said(l).startsWith({label})))?.htmlFor ?? ''",
            label = Value::from(label)
        );
        let id = self.until_script(&find, "_").await;
        self.fill(&format!("[id='{id}']"), text).await;
    }

    /// Chooses an option of the list with this spoken name.
    pub(crate) async fn choose(&self, list: &str, option: &str) {
        let script = r"const list = [...document.querySelectorAll('[role=combobox]')].find((e) => e.getAttribute('aria-label') === arguments[0]
                || [...document.querySelectorAll('label')].some((l) => l.innerText.trim() === arguments[0] && l.htmlFor === e.id));
            if (!list) return 'none';
            list.dispatchEvent(new MouseEvent('mousedown', { bubbles: true }));
            return 'open'";
        for _ in 0..100 {
            if self.client().execute(script, vec![list.into()]).await.unwrap() == "open" {
                break;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        let pick = r"const found = [...document.querySelectorAll('.ant-select-item-option')].find((e) => e.offsetParent !== null && e.innerText.trim().startsWith(arguments[0]));
            if (!found) return 'none';
            found.click();
            return 'picked'";
        for _ in 0..100 {
            if self.client().execute(pick, vec![option.into()]).await.unwrap() == "picked" {
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("{list:?} has no option {option:?}");
    }

    /// Waits until a script returns a text that contains something.
    pub(crate) async fn until_script(&self, script: &str, words: &str) -> String {
        let mut last = String::new();
        for _ in 0..200 {
            match self.client().execute(script, vec![]).await {
                Ok(said) => {
                    said.as_str().unwrap_or_default().clone_into(&mut last);
                    if last.contains(words) {
                        return last;
                    }
                }
                // A page that is still coming has not what the script asks for.
                Err(error) => last = error.to_string(),
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("{script} never says {words:?}: {last}");
    }

    /// Types into whatever has the focus.
    pub(crate) async fn type_keys(&self, keys: &str) {
        let active = self.client().active_element().await.unwrap();
        active.send_keys(keys).await.unwrap();
    }

    /// Presses Tab until the element with this name has the focus.
    pub(crate) async fn tab_to(&self, name: &str) {
        let focused = "const e = document.activeElement; return e.getAttribute('aria-label') ?? e.innerText ?? ''";
        for _ in 0..80 {
            self.type_keys(&Key::Tab.to_string()).await;
            if self.client().execute(focused, vec![]).await.unwrap().as_str().is_some_and(|text| text.contains(name)) {
                return;
            }
        }
        panic!("Tab never comes to {name:?}");
    }

    /// Grants a permission to our pages, as the person would.
    pub(crate) async fn allow(&self, permission: &str) {
        self.browser.allow(&format!("http://127.0.0.1:{}", self.options.port), permission).await.unwrap();
    }

    /// Lets transitions end.
    pub(crate) async fn settle(&self) {
        tokio::time::sleep(Duration::from_millis(500)).await;
    }

    /// What the page's own rules were broken by; nothing may be.
    pub(crate) async fn assert_no_complaints(&self) {
        self.assert_no_complaints_but(&[]).await;
    }

    /// The same, where a test itself provokes answers of some status.
    pub(crate) async fn assert_no_complaints_but(&self, provoked: &[&str]) {
        let mut complaints = self.browser.complaints().await.unwrap();
        complaints.retain(|text| !provoked.iter().any(|status| text.contains(&format!("status of {status}"))));
        assert_eq!(complaints, Vec::<String>::new());
    }

    pub(crate) async fn stop_server(&mut self) {
        if let Some((end, server)) = self.server.take() {
            let _ = end.send(());
            server.await.unwrap().unwrap();
        }
    }

    /// Starts the server again at the same address.
    pub(crate) async fn start_server(&mut self) {
        let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, self.options.port)).await.unwrap();
        self.server = Some(run(listener, self.options.clone()));
    }

    pub(crate) async fn clear_up(mut self) {
        self.stop_server().await;
        self.browser.close().await.unwrap();
    }
}

type Running = (oneshot::Sender<()>, JoinHandle<anyhow::Result<()>>);

fn run(listener: TcpListener, options: Options) -> Running {
    let (end, ended) = oneshot::channel();
    let server = tokio::spawn(serve_on(listener, options, async {
        let _ = ended.await;
    }));
    (end, server)
}
