//! Processes that end with the test process.

use std::io::{BufRead, BufReader};
use std::net::TcpListener;
use std::process::{Child, Command, Stdio};

use anyhow::{Context, Result, bail};

/// A port nobody listens on right now.
///
/// # Errors
/// Where the machine has none.
pub fn free_port() -> Result<u16> {
    Ok(TcpListener::bind(("127.0.0.1", 0))?.local_addr()?.port())
}

/// A shell that runs `start`, says `ready`, waits for its standard input to close and runs `stop`.
pub(crate) struct Guarded {
    child: Child,
}

impl Guarded {
    /// Starts it and waits until it is ready.
    pub(crate) fn start(start: &str, stop: &str, variables: &[(&str, &str)]) -> Result<Self> {
        let script = format!("set -e\n{start}\necho ready\nset +e\nread -r _\n{stop}\n");
        let mut child = Command::new("sh")
            .arg("-c")
            .arg(script)
            .envs(variables.iter().copied())
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .context("starting a shell")?;
        let stdout = child.stdout.take().context("the shell's output")?;
        for line in BufReader::new(stdout).lines() {
            if line? == "ready" {
                return Ok(Self { child });
            }
        }
        bail!("it ended before it was ready: {start}");
    }
}

impl Drop for Guarded {
    fn drop(&mut self) {
        drop(self.child.stdin.take());
        if let Err(error) = self.child.wait() {
            eprintln!("waiting for a guarded process: {error}");
        }
    }
}
