//! Starting, running and ending the service.

use std::future::Future;
use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

use anyhow::{Context, Result, bail};
use rumek_store::Database;
use tokio::net::TcpListener;
use tokio::signal::unix::{SignalKind, signal};

use crate::api::{App, router};
use crate::{demo, pages};

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
    let migrated = Arc::new(AtomicBool::new(false));
    let shaping = tokio::spawn(shape(database.clone(), Arc::clone(&migrated), options.demo));
    let app = App { database: database.clone(), port: listener.local_addr()?.port(), migrated };
    axum::serve(listener, router(app)).with_graceful_shutdown(end).await?;
    shaping.abort();
    database.close().await;
    Ok(())
}

/// Brings the database to shape, as soon as it answers.
async fn shape(database: Database, migrated: Arc<AtomicBool>, fill: bool) {
    loop {
        let done = async {
            database.migrate().await?;
            if fill { demo::fill(&database).await } else { Ok(()) }
        };
        match done.await {
            Ok(()) => return migrated.store(true, Ordering::Relaxed),
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
