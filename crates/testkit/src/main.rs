//! Runs a command whose test processes share one throw-away PostgreSQL cluster.

use std::process::{Command, ExitCode};

use anyhow::{Context, Result};

fn main() -> Result<ExitCode> {
    let mut words = std::env::args_os().skip(1);
    let mut command = Command::new(words.next().context("which command?")?);
    command.args(words);
    let ended = rumek_testkit::with_shared_cluster(command)?;
    Ok(ended.code().and_then(|code| u8::try_from(code).ok()).map_or(ExitCode::FAILURE, ExitCode::from))
}
