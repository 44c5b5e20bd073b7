//! One cluster a test process, or one for all of them, one database a test, copied from a migrated template.

use std::future::Future;
use std::process::{Command, ExitStatus};
use std::sync::OnceLock;
use std::sync::atomic::{AtomicU32, Ordering};

use anyhow::{Context, Result, anyhow};
use sea_orm::{ConnectOptions, ConnectionTrait, Database, DatabaseConnection, DbBackend, Statement};
use tokio::sync::OnceCell;

use crate::guard::{Guarded, free_port};

const TEMPLATE: &str = "rumek_template";
/// The port of a cluster that several test processes share.
const SHARED: &str = "RUMEK_TEST_CLUSTER";
/// A template is made and copied by one at a time, in whatever process.
const TURN: &str = "SELECT pg_advisory_lock(7341)";

struct Cluster {
    port: u16,
    _guard: Option<Guarded>,
}

/// As root PostgreSQL runs as its own user; otherwise as the one who tests.
pub(crate) const FIND: &str = r#"
BIN=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)
[ -n "$BIN" ] || { echo "PostgreSQL is not installed: run make setup" >&2; exit 1; }
if [ "$(id -u)" = 0 ]; then AS="runuser -u postgres --"; cd /; else AS=""; fi
"#;

const START: &str = r#"
D=$($AS mktemp -d /tmp/rumek-test-XXXXXX)
$AS "$BIN/initdb" -D "$D/data" -U rumek --auth=trust -E UTF8 --locale=C.UTF-8 >"/dev/null"
$AS "$BIN/pg_ctl" -D "$D/data" -l "$D/log" -w -o "-c listen_addresses=127.0.0.1 -p $PORT -c unix_socket_directories='' -c fsync=off -c max_connections=200" start >/dev/null
"#;

const STOP: &str = r#"$AS "$BIN/pg_ctl" -D "$D/data" -m immediate -w stop >/dev/null 2>&1; rm -rf "$D""#;

static CLUSTER: OnceLock<Result<Cluster, String>> = OnceLock::new();
static MIGRATED: OnceCell<()> = OnceCell::const_new();
static COUNT: AtomicU32 = AtomicU32::new(0);

fn cluster() -> Result<&'static Cluster> {
    CLUSTER
        .get_or_init(|| {
            if let Some(port) = std::env::var(SHARED).ok().and_then(|port| port.parse().ok()) {
                return Ok(Cluster { port, _guard: None });
            }
            start().map_err(|error| error.to_string())
        })
        .as_ref()
        .map_err(|message| anyhow!("{message}"))
}

fn start() -> Result<Cluster> {
    let port = free_port()?;
    let guard = Guarded::start(&format!("{FIND}{START}"), STOP, &[("PORT", &port.to_string())])?;
    Ok(Cluster { port, _guard: Some(guard) })
}

/// Runs a command whose test processes share one cluster; gives how it ended.
///
/// # Errors
/// Where PostgreSQL or the command cannot be started.
pub fn with_shared_cluster(mut command: Command) -> Result<ExitStatus> {
    let cluster = start()?;
    command.env(SHARED, cluster.port.to_string()).status().context("starting the command")
}

fn url(port: u16, database: &str) -> String {
    format!("postgres://rumek@127.0.0.1:{port}/{database}")
}

async fn cluster_itself() -> Result<DatabaseConnection> {
    let mut options = ConnectOptions::new(url(cluster()?.port, "postgres"));
    options.max_connections(1).sqlx_logging(false);
    Database::connect(options).await.context("connecting to the test cluster")
}

async fn admin(sql: &str) -> Result<()> {
    let connection = cluster_itself().await?;
    connection.execute_unprepared(sql).await?;
    Ok(connection.close().await?)
}

/// A database of one test's own.
#[derive(Debug)]
pub struct TestDatabase {
    url: String,
    name: String,
}

impl TestDatabase {
    /// Runs a statement in it, past everything that guards it.
    ///
    /// # Errors
    /// What the database says of it.
    pub async fn sql(&self, statement: &str) -> Result<()> {
        let connection = self.connection().await?;
        connection.execute_unprepared(statement).await?;
        Ok(connection.close().await?)
    }

    /// The one number a query answers with.
    ///
    /// # Errors
    /// What the database says of it.
    pub async fn number(&self, query: &str) -> Result<i64> {
        let connection = self.connection().await?;
        let row = connection.query_one_raw(Statement::from_string(DbBackend::Postgres, query)).await?;
        let number = row.context("no row")?.try_get_by_index(0)?;
        connection.close().await?;
        Ok(number)
    }

    async fn connection(&self) -> Result<DatabaseConnection> {
        let mut options = ConnectOptions::new(self.url.clone());
        options.max_connections(1).sqlx_logging(false);
        Database::connect(options).await.context("connecting to the test's database")
    }

    /// A fresh copy of the template, which `migrate` shapes once a process.
    ///
    /// # Errors
    /// Where PostgreSQL cannot be started or `migrate` fails.
    pub async fn fresh<F, Done>(migrate: F) -> Result<Self>
    where
        F: FnOnce(String) -> Done,
        Done: Future<Output = Result<()>>,
    {
        let port = cluster()?.port;
        let turn = cluster_itself().await?;
        turn.execute_unprepared(TURN).await?;
        MIGRATED
            .get_or_try_init(|| async {
                let known = Statement::from_sql_and_values(
                    DbBackend::Postgres,
                    "SELECT 1 FROM pg_database WHERE datname = $1",
                    [TEMPLATE.into()],
                );
                if turn.query_one_raw(known).await?.is_some() {
                    return Ok(());
                }
                admin(&format!("CREATE DATABASE {TEMPLATE}")).await?;
                migrate(url(port, TEMPLATE)).await
            })
            .await?;
        let name = format!("test_{}_{}", std::process::id(), COUNT.fetch_add(1, Ordering::Relaxed));
        // The migration's pool may still be letting go of the template.
        admin(&format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{TEMPLATE}'")).await?;
        admin(&format!("CREATE DATABASE {name} TEMPLATE {TEMPLATE}")).await?;
        // Its turn ends with its connection.
        turn.close().await?;
        Ok(Self { url: url(port, &name), name })
    }

    /// Its address.
    #[must_use]
    pub fn url(&self) -> &str {
        &self.url
    }

    /// Cuts every connection and lets nobody in, as if the database were gone.
    ///
    /// # Errors
    /// Where the cluster does not answer.
    pub async fn lose(&self) -> Result<()> {
        let name = &self.name;
        admin(&format!("ALTER DATABASE {name} ALLOW_CONNECTIONS false")).await?;
        admin(&format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{name}'")).await
    }

    /// Lets connections in again.
    ///
    /// # Errors
    /// Where the cluster does not answer.
    pub async fn bring_back(&self) -> Result<()> {
        admin(&format!("ALTER DATABASE {} ALLOW_CONNECTIONS true", self.name)).await
    }
}
