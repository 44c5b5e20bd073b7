//! Starting, running and ending the service.

use std::future::{Future, IntoFuture};
use std::net::{IpAddr, SocketAddr};
use std::sync::atomic::Ordering;
use std::time::Duration;

use anyhow::{Context, Result, bail};
use rumek_store::{Database, Hint, StoreError};
use tokio::net::TcpListener;
use tokio::signal::unix::{SignalKind, signal};
use tokio::sync::broadcast;

use crate::api::router;
use crate::app::App;
use crate::demo;
use crate::http::pages;
use crate::routes::shelf;

/// How long a request under way may still take once the service ends, and its connections to close.
const GRACE: Duration = Duration::from_secs(2);

/// What is served, and where.
#[derive(Clone, Debug)]
pub struct Options {
    /// Where to listen; loopback only.
    pub address: IpAddr,
    /// The fixed port.
    pub port: u16,
    /// `postgres://` address of the database.
    pub database_url: String,
    /// Whether to fill an empty database with the demo data.
    pub demo: bool,
}

/// Serves until Ctrl-C or SIGTERM.
///
/// # Errors
/// An address other than loopback, a busy port, a binary without pages.
pub async fn run(options: Options) -> Result<()> {
    if !options.address.is_loopback() {
        bail!(
            "Rumek listens on this machine only ({} is not loopback): it asks for no password, so it must not be reachable from others.",
            options.address
        );
    }
    if !pages::present() {
        bail!("this binary carries no pages: build the web part first (make build)");
    }
    let at = SocketAddr::new(options.address, options.port);
    let listener = TcpListener::bind(at)
        .await
        .with_context(|| format!("port {} is busy: another Rumek, or another program, is using it", options.port))?;
    let name = if options.demo { "the Tern Point demo data" } else { "your own data" };
    println!("Rumek is ready with {name}: http://{at}/   (Ctrl-C stops it)");
    serve_on(listener, options, interrupted()).await
}

/// Serves on a bound listener until `end`.
///
/// # Errors
/// An unreadable database address, or a failing listener.
pub async fn serve_on(
    listener: TcpListener,
    options: Options,
    end: impl Future<Output = ()> + Send + 'static,
) -> Result<()> {
    let database = Database::connect(&options.database_url).await?;
    let app = App::new(database.clone(), listener.local_addr()?.port());
    let shaping = tokio::spawn(shape(app.clone(), options.demo));
    let listening = tokio::spawn(hear(database.clone(), app.hints.clone()));
    let worths = tokio::spawn(shelf::keep_up(app.clone()));
    let closing = app.closing.clone();
    let ended = app.closing.clone();
    let serving = axum::serve(listener, router(app)).with_graceful_shutdown(async move {
        end.await;
        closing.cancel();
    });
    tokio::select! {
        served = serving.into_future() => served?,
        // Whoever is in the middle of something has a moment to finish; what is not finished then
        // is taken back by the database.
        () = async { ended.cancelled().await; tokio::time::sleep(GRACE).await } => {}
    }
    shaping.abort();
    listening.abort();
    worths.abort();
    // Whatever ends with them lets go of its connection; one that does not is not waited for.
    let _ = tokio::time::timeout(GRACE, database.close()).await;
    Ok(())
}

/// Passes on what the database tells of changes; without an open page nobody hears it.
async fn hear(database: Database, hints: broadcast::Sender<Hint>) {
    database
        .listen(|hint| {
            let _ = hints.send(hint);
        })
        .await;
}

/// Brings the database to shape, as soon as it answers.
async fn shape(app: App, fill: bool) {
    let database = &app.database;
    loop {
        let done = async {
            database.migrate().await?;
            if fill { demo::fill(database).await } else { Ok(()) }
        };
        match done.await {
            Ok(()) => return app.migrated.store(true, Ordering::Relaxed),
            // Nothing of it is understood here: nothing is read and nothing is written.
            Err(error @ StoreError::Newer) => {
                tracing::error!(%error, "start that version, or a newer one; nothing was changed");
                return app.newer.store(true, Ordering::Relaxed);
            }
            Err(error) => {
                tracing::warn!(%error, "the database is not ready; trying again");
                tokio::time::sleep(Duration::from_secs(2)).await;
            }
        }
    }
}

async fn interrupted() {
    let terminate = async {
        match signal(SignalKind::terminate()) {
            Ok(mut stream) => {
                stream.recv().await;
            }
            Err(_) => std::future::pending().await,
        }
    };
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        () = terminate => {}
    }
    println!("Rumek is stopping.");
}
