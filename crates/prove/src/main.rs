//! `make prove`: chains by the thousand, and what came of them by kind.

use std::io::Write;

use anyhow::Context;
use clap::Parser;
use rumek_prove::{KINDS, ROOMS, RoomTally, Tally, carried, chain, follow, prove};

/// Answers generated chains and carries each card out on the rig.
#[derive(Parser)]
struct Args {
    /// How many chains.
    #[arg(long, default_value_t = 10_200)]
    chains: usize,
    /// Where the generated numbers begin; the same seed makes the same chains.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// How many acts of each other room: rescues, wakings, tests, discharges, levelling, offers.
    #[arg(long, default_value_t = 2_000)]
    acts: usize,
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
    let mut out = std::io::stdout().lock();
    writeln!(out, "seed {}", args.seed)?;
    let kinds: Vec<&str> = KINDS.into_iter().filter(|kind| kind.contains(&args.kind)).collect();
    let rooms: Vec<&str> = ROOMS.into_iter().filter(|kind| kind.contains(&args.kind)).collect();
    anyhow::ensure!(
        !kinds.is_empty() || !rooms.is_empty(),
        "no kind contains “{}”; there are: {}; {}",
        args.kind,
        KINDS.join("; "),
        ROOMS.join("; ")
    );
    let mut disagreements = Vec::new();
    if !kinds.is_empty() && args.chains > 0 {
        let mut tally = Tally::default();
        let proofs = spread(args.chains, args.seed, |number, rng| {
            let kind = kinds[number % kinds.len()];
            prove(kind, chain(kind, rng), rng)
        });
        proofs.iter().for_each(|proof| tally.add(proof));
        writeln!(out, "{}", tally.table())?;
        disagreements.extend_from_slice(tally.disagreements());
    }
    if !rooms.is_empty() && args.acts > 0 {
        let mut tally = RoomTally::default();
        let acts = spread(args.acts * rooms.len(), args.seed, |number, rng| carried(rooms[number % rooms.len()], rng));
        acts.iter().flatten().for_each(|told| tally.add(told));
        writeln!(out, "{}", tally.table())?;
        disagreements.extend_from_slice(tally.disagreements());
    }
    if let Some(path) = args.list {
        std::fs::write(&path, disagreements.join("\n")).with_context(|| format!("cannot write {}", path.display()))?;
    }
    Ok(())
}

/// Does something so many times, each from a seed of its own, on every core there is.
fn spread<T: Send>(times: usize, seed: u64, make: impl Fn(usize, &mut fastrand::Rng) -> T + Sync) -> Vec<T> {
    let workers = std::thread::available_parallelism().map_or(1, std::num::NonZero::get);
    std::thread::scope(|scope| {
        let handles: Vec<_> = (0..workers)
            .map(|worker| {
                let make = &make;
                scope.spawn(move || {
                    (worker..times)
                        .step_by(workers)
                        .map(|number| {
                            let mut rng = fastrand::Rng::with_seed(seed.wrapping_mul(1_000_003) + number as u64);
                            make(number, &mut rng)
                        })
                        .collect::<Vec<_>>()
                })
            })
            .collect();
        handles.into_iter().filter_map(|handle| handle.join().ok()).flatten().collect()
    })
}
