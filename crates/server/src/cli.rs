//! The command line: the same binary serves and computes.

use std::io::{ErrorKind, Read, Write};
use std::net::IpAddr;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use anyhow::{Context, Result};
use clap::{Args, Parser, Subcommand};
use rumek_core::formats::{
    LogMappingDoc, MatchDoc, PackDoc, PlanDoc, Problems, Read as ReadDocument, RescueDoc, RunAskDoc, TestDoc,
    from_bytes,
};

use crate::history::{HistoryError, history};
use crate::serve::{self, Options};

/// Plan how to charge a battery: what to set, how long it takes, whether it is safe.
#[derive(Debug, Parser)]
#[command(name = "rumek", version)]
pub struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Serve the web application with your own data.
    Serve(ServeArgs),
    /// Serve it with the demo data.
    Demo(ServeArgs),
    /// Compute a plan document and print the result as JSON.
    Plan {
        /// The document, or - for standard input.
        file: PathBuf,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Read a line of text as a plan and print what it means and what is open as JSON.
    Line {
        /// The line, or - for standard input.
        text: String,
    },
    /// Judge a pack in trouble and print what to do as JSON.
    Rescue {
        /// The document, or - for standard input.
        file: PathBuf,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Say what the readings of a charge mean and print it as JSON.
    Run {
        /// `{ plan, readings, now_s }`, or - for standard input.
        file: PathBuf,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Read a logger's file as a history and print it as JSON.
    Log {
        /// The file, or - for standard input.
        file: PathBuf,
        /// The pack it was logged of, a document; it tells what is full and empty.
        #[arg(long)]
        pack: Option<PathBuf>,
        /// How it is read, a rumek.log-mapping/1; found out where absent.
        #[arg(long)]
        mapping: Option<PathBuf>,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Plan a capacity test and print it as JSON.
    Test {
        /// The document, or - for standard input.
        file: PathBuf,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Say which cell goes into which pack, and which swaps help most, and print it as JSON.
    Match {
        /// The document, or - for standard input.
        file: PathBuf,
        /// Print it for people instead.
        #[arg(long)]
        table: bool,
    },
    /// Print the OpenAPI document; with a folder, write it and the formats' schemas there.
    Openapi {
        /// Where to write them.
        folder: Option<PathBuf>,
    },
}

#[derive(Debug, Args)]
struct ServeArgs {
    /// Where to listen; loopback only.
    #[arg(long, default_value = "127.0.0.1", env = "RUMEK_ADDRESS")]
    address: IpAddr,
    /// The port.
    #[arg(long, default_value_t = 7341, env = "RUMEK_PORT")]
    port: u16,
    /// `postgres://` address of the database.
    #[arg(long, env = "RUMEK_DATABASE_URL", hide_env_values = true)]
    database_url: String,
}

impl ServeArgs {
    fn options(self, demo: bool) -> Options {
        Options { address: self.address, port: self.port, database_url: self.database_url, demo }
    }
}

/// Runs the command line.
///
/// # Errors
/// What failed, in words.
pub async fn run(cli: Cli) -> Result<ExitCode> {
    match cli.command {
        Command::Serve(args) => serve::run(args.options(false)).await?,
        Command::Demo(args) => serve::run(args.options(true)).await?,
        Command::Plan { file, table } => {
            return plan(&file, table);
        }
        Command::Line { text } => {
            let text = if text == "-" { String::from_utf8_lossy(&read(Path::new("-"))?).into_owned() } else { text };
            print(&(pretty(&rumek_core::quick_line::say(text.trim())) + "\n"))?;
        }
        Command::Rescue { file, table } => {
            return compute(
                &file,
                |doc: &RescueDoc| rumek_core::rescue(doc),
                table.then_some(crate::print::table::rescue),
            );
        }
        Command::Run { file, table } => {
            return compute(
                &file,
                |doc: &RunAskDoc| rumek_core::understand(doc),
                table.then_some(crate::print::table::run),
            );
        }
        Command::Log { file, pack, mapping, table } => {
            return log(&file, pack.as_deref(), mapping.as_deref(), table);
        }
        Command::Test { file, table } => {
            return compute(
                &file,
                |doc: &TestDoc| rumek_core::plan_test(doc),
                table.then_some(crate::print::table::test),
            );
        }
        Command::Match { file, table } => {
            return compute(
                &file,
                |doc: &MatchDoc| rumek_core::match_cells(doc),
                table.then_some(crate::print::table::cells),
            );
        }
        Command::Openapi { folder } => openapi(folder.as_deref())?,
    }
    Ok(ExitCode::SUCCESS)
}

/// Exit 0: computed, even where the answer is a stop; 2: bad input.
fn compute<T: ReadDocument, R: serde::Serialize>(
    file: &Path,
    ask: impl Fn(&T) -> Result<R, Problems>,
    table: Option<fn(&R) -> String>,
) -> Result<ExitCode> {
    let answer = read(file).map_err(|error| eprintln!("{}: {error:#}", file.display())).and_then(|bytes| {
        from_bytes::<T>(&bytes).and_then(|document| ask(&document)).map_err(|wrong| eprintln!("{}", pretty(&wrong)))
    });
    let Ok(result) = answer else { return Ok(ExitCode::from(2)) };
    print(&table.map_or_else(|| pretty(&result) + "\n", |table| table(&result)))?;
    Ok(ExitCode::SUCCESS)
}

/// As [`compute`], of a plan; 3: something was not said yet, and is asked.
fn plan(file: &Path, table: bool) -> Result<ExitCode> {
    let document = read(file)
        .map_err(|error| eprintln!("{}: {error:#}", file.display()))
        .and_then(|bytes| from_bytes::<PlanDoc>(&bytes).map_err(|wrong| eprintln!("{}", pretty(&wrong))));
    let Ok(document) = document else { return Ok(ExitCode::from(2)) };
    match rumek_core::answer(&document) {
        Ok(result) => {
            print(&if table { crate::print::table::plan(&result) } else { pretty(&result) + "\n" })?;
            Ok(ExitCode::SUCCESS)
        }
        Err(problems) => match rumek_core::quick_line::unfinished(&document, &problems) {
            Some(open) => {
                print(&if table { crate::print::table::open(&open) } else { pretty(&open) + "\n" })?;
                Ok(ExitCode::from(3))
            }
            None => {
                eprintln!("{}", pretty(&problems));
                Ok(ExitCode::from(2))
            }
        },
    }
}

/// As [`compute`], of a log, which is no document.
fn log(file: &Path, pack: Option<&Path>, mapping: Option<&Path>, table: bool) -> Result<ExitCode> {
    let answer = document::<PackDoc>(pack).and_then(|pack| {
        let mapping = document::<LogMappingDoc>(mapping)?;
        let source: Box<dyn Read> = if file == Path::new("-") {
            Box::new(std::io::stdin())
        } else {
            Box::new(std::fs::File::open(file).map_err(|error| format!("{}: cannot be read: {error}", file.display()))?)
        };
        history(source, mapping.as_ref(), pack.as_ref()).map_err(|wrong| match wrong {
            HistoryError::Problems(problems) => pretty(&problems),
            HistoryError::Log(error) => format!("{}: {error}", file.display()),
        })
    });
    match answer {
        Ok(result) => {
            print(&if table { crate::print::table::log(&result) } else { pretty(&result) + "\n" })?;
            Ok(ExitCode::SUCCESS)
        }
        Err(wrong) => {
            eprintln!("{wrong}");
            Ok(ExitCode::from(2))
        }
    }
}

/// A document that goes with another file; none where none is given.
fn document<T: ReadDocument>(file: Option<&Path>) -> Result<Option<T>, String> {
    let Some(file) = file else { return Ok(None) };
    let bytes = read(file).map_err(|error| format!("{}: {error:#}", file.display()))?;
    from_bytes(&bytes).map(Some).map_err(|wrong: Problems| pretty(&wrong))
}

fn read(file: &Path) -> Result<Vec<u8>> {
    if file == Path::new("-") {
        let mut bytes = Vec::new();
        std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
        return Ok(bytes);
    }
    std::fs::read(file).context("cannot be read")
}

fn pretty<T: serde::Serialize>(value: &T) -> String {
    serde_json::to_string_pretty(value).unwrap_or_default()
}

/// Writes to standard output; somebody who has read enough and closed it is no error.
fn print(text: &str) -> Result<()> {
    match std::io::stdout().lock().write_all(text.as_bytes()) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(()),
    }
}

fn openapi(folder: Option<&Path>) -> Result<()> {
    let document = pretty(&crate::openapi());
    let Some(folder) = folder else {
        return print(&(document + "\n"));
    };
    let write = |name: String, text: String| std::fs::write(folder.join(&name), text + "\n").with_context(|| name);
    write("openapi.json".to_owned(), document)?;
    write("kinds.json".to_owned(), pretty(&rumek_core::kinds()))?;
    write("lines.json".to_owned(), pretty(&rumek_core::lines()))?;
    for (name, schema) in crate::schemas() {
        write(format!("{name}.schema.json"), pretty(&schema))?;
    }
    Ok(())
}
