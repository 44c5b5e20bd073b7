//! A cluster that writes to disk and can be killed.

use std::process::Command;

use anyhow::{Result, ensure};

use crate::cluster::FIND;
use crate::guard::free_port;

/// A PostgreSQL of one test's own, with its safety on; it goes with the value.
#[derive(Debug)]
pub struct DurableCluster {
    folder: String,
    port: u16,
}

const MAKE: &str = r#"D=$($AS mktemp -d /tmp/rumek-durable-XXXXXX)
$AS "$BIN/initdb" -D "$D/data" -U rumek --auth=trust -E UTF8 --locale=C.UTF-8 >/dev/null
echo "$D""#;
const START: &str = r#"for n in 1 2 3 4 5 6 7 8 9 10; do
    $AS "$BIN/pg_ctl" -D "$D/data" -l "$D/log" -w -o "-c listen_addresses=127.0.0.1 -p $PORT -c unix_socket_directories=''" start >/dev/null && exit 0
    sleep 0.3
done
cat "$D/log" >&2; exit 1"#;
/// The server and everything it started, at once and without a word.
const KILL: &str = r#"P=$(head -1 "$D/data/postmaster.pid"); C=$(pgrep -P "$P" | tr '\n' ' '); kill -9 $P $C"#;
const REMOVE: &str = r#"$AS "$BIN/pg_ctl" -D "$D/data" -m immediate -w stop >/dev/null 2>&1; rm -rf "$D""#;

impl DurableCluster {
    /// Makes one and starts it.
    ///
    /// # Errors
    /// Where PostgreSQL is missing or does not start.
    pub fn start() -> Result<Self> {
        let port = free_port()?;
        let folder = run(MAKE, "", port)?;
        let cluster = Self { folder, port };
        cluster.start_again()?;
        Ok(cluster)
    }

    /// The address of its one database.
    #[must_use]
    pub fn url(&self) -> String {
        format!("postgres://rumek@127.0.0.1:{}/postgres", self.port)
    }

    /// Kills it as a power cut would end it.
    ///
    /// # Errors
    /// Where it does not run.
    pub fn kill(&self) -> Result<()> {
        run(KILL, &self.folder, self.port).map(|_| ())
    }

    /// Starts it again with what is on disk.
    ///
    /// # Errors
    /// Where it does not start.
    pub fn start_again(&self) -> Result<()> {
        run(START, &self.folder, self.port).map(|_| ())
    }
}

impl Drop for DurableCluster {
    fn drop(&mut self) {
        if let Err(error) = run(REMOVE, &self.folder, self.port) {
            eprintln!("{error}");
        }
    }
}

fn run(script: &str, folder: &str, port: u16) -> Result<String> {
    let script = format!("{FIND}\n{script}");
    let output = Command::new("sh").args(["-c", &script]).env("D", folder).env("PORT", port.to_string()).output()?;
    ensure!(output.status.success(), "{script}: {}", String::from_utf8_lossy(&output.stderr));
    Ok(String::from_utf8_lossy(&output.stdout).trim().to_owned())
}
