//! `make prove`: chains by the thousand, and what came of them by kind.

use std::io::Write;

use anyhow::Context;
use clap::Parser;
use rumek_prove::{KINDS, Tally, chain, follow, prove};

/// Answers generated chains and carries each card out on the rig.
#[derive(Parser)]
struct Args {
    /// How many chains.
    #[arg(long, default_value_t = 10_200)]
    chains: usize,
    /// Where the generated numbers begin; the same seed makes the same chains.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Only kinds that contain this.
    #[arg(long, default_value = "")]
    kind: String,
    /// A file for every disagreement with its plan.
    #[arg(long)]
    list: Option<std::path::PathBuf>,
    /// Follows one plan as told instead, and prints what flows where.
    #[arg(long)]
    follow: Option<std::path::PathBuf>,
}

fn main() -> anyhow::Result<()> {
    let args = Args::parse();
    if let Some(path) = &args.follow {
        let text = std::fs::read_to_string(path).with_context(|| format!("cannot read {}", path.display()))?;
        return Ok(std::io::stdout().write_all(follow(serde_json::from_str(&text)?)?.as_bytes())?);
    }
    let kinds: Vec<&str> = KINDS.into_iter().filter(|kind| kind.contains(&args.kind)).collect();
    anyhow::ensure!(!kinds.is_empty(), "no kind of chain contains “{}”; there are: {}", args.kind, KINDS.join("; "));
    let workers = std::thread::available_parallelism().map_or(1, std::num::NonZero::get);
    let proofs = std::thread::scope(|scope| {
        let handles: Vec<_> = (0..workers)
            .map(|worker| {
                let kinds = &kinds;
                scope.spawn(move || {
                    (worker..args.chains)
                        .step_by(workers)
                        .map(|number| {
                            let kind = kinds[number % kinds.len()];
                            let mut rng = fastrand::Rng::with_seed(args.seed.wrapping_mul(1_000_003) + number as u64);
                            prove(kind, chain(kind, &mut rng), &mut rng)
                        })
                        .collect::<Vec<_>>()
                })
            })
            .collect();
        handles.into_iter().filter_map(|handle| handle.join().ok()).collect::<Vec<_>>()
    });
    let mut tally = Tally::default();
    proofs.iter().flatten().for_each(|proof| tally.add(proof));
    let mut out = std::io::stdout().lock();
    writeln!(out, "seed {}\n{}", args.seed, tally.table())?;
    if let Some(path) = args.list {
        std::fs::write(&path, tally.disagreements().join("\n"))
            .with_context(|| format!("cannot write {}", path.display()))?;
    }
    Ok(())
}
