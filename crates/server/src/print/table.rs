//! A result for people, a line each.

use rumek_core::codes::{AmpsMeaning, VoltsMeaning};
use rumek_core::formats::{
    AskDoc, LogResultDoc, MatchResultDoc, RescueResultDoc, RescueStageDoc, ResultDoc, ResultSettingsDoc, RunStateDoc,
    TestResultDoc, UnfinishedDoc,
};
use rumek_core::units::{show_hours, trimmed};

/// Lines of a name and a value.
#[derive(Default)]
struct Table(Vec<String>);

impl Table {
    fn row(&mut self, name: &str, value: impl AsRef<str>) {
        self.0.push(format!("{name:<18}{}", value.as_ref()));
    }

    /// A question, how to find out, and its answers.
    fn question(&mut self, ask: &AskDoc) {
        self.row("Question", &ask.question);
        if !ask.how.is_empty() {
            self.row("How to find out", &ask.how);
        }
        for (n, choice) in ask.choices.iter().enumerate() {
            let leads = if choice.leads_to.is_empty() { String::new() } else { format!(" ({})", choice.leads_to) };
            self.row(&format!("Answer {}", n + 1), format!("{}{leads}", choice.label));
        }
    }
}

/// The one question that decides most, with its answers.
pub(crate) fn open(open: &UnfinishedDoc) -> String {
    let mut table = Table::default();
    let Some(ask) = open.ask.first() else { return String::new() };
    table.question(ask);
    table.0.join("\n") + "\n"
}

/// What a run's readings mean, gravest first, with the one question; when to look next, and when it ends.
pub(crate) fn run(state: &RunStateDoc) -> String {
    let mut table = Table::default();
    for said in &state.said {
        table.row(said.severity.code(), &said.message);
    }
    if let Some(ask) = state.said.iter().find_map(|said| said.ask.as_ref()) {
        table.question(ask);
    }
    let shown = |s: f64| show_hours(s / 3600.0);
    if let Some(next_s) = state.next_look_s {
        table.row("Look", format!("at {}. {}", shown(next_s), state.next_look_why));
    }
    if let (Some(end_s), Some(low_s), Some(high_s)) = (state.end_s, state.end_low_s, state.end_high_s) {
        table.row("Done", format!("at {} ({} to {})", shown(end_s), shown(low_s), shown(high_s)));
    }
    table.row("Charge", format!("{} % · {} Ah", trimmed(state.soc * 100.0, 0), trimmed(state.account.charge_ah, 2)));
    table.0.join("\n") + "\n"
}

/// The whole answer: the chain, what to set, how long, the turns, the checks, the steps.
pub(crate) fn plan(result: &ResultDoc) -> String {
    let mut table = Table::default();
    match &result.settings {
        Some(settings) => set(&mut table, settings, result.resolved.load.is_some()),
        None => table.row("Settings", "none"),
    }
    let chain: Vec<String> = result.stages.iter().map(|s| format!("{} ({})", s.label, s.rating)).collect();
    table.row("Chain", chain.join(" → "));
    if let Some(total_s) = result.time.total_s {
        let shown = |s: Option<f64>| show_hours(s.unwrap_or(total_s) / 3600.0);
        let (low, high) = (shown(result.time.total_low_s), shown(result.time.total_high_s));
        table.row("Time", format!("{} ({low} to {high})", shown(None)));
    }
    table.row("Ends", format!("{} at {} %", result.end.reason.code(), trimmed(result.end.soc * 100.0, 0)));
    if let Some(fill_v) = result.end.fill_voltage_v {
        table.row("Would fill at", format!("{} V", trimmed(fill_v, 2)));
    }
    let delivered = &result.delivered;
    table.row("Goes in", format!("{} Ah, {} Wh", trimmed(delivered.charge_ah, 2), trimmed(delivered.energy_wh, 1)));
    for span in &result.pinch {
        let (from, to) = (show_hours(span.from_s / 3600.0), show_hours(span.to_s / 3600.0));
        table.row("Pinch", format!("{from} to {to}: {}", span.limit.code()));
    }
    if let Some(verdict) = &result.verdict {
        table.row("What would help", verdict);
    }
    for nudge in &result.nudges {
        let set = match (nudge.set_voltage_v, nudge.duty) {
            (Some(v), _) => format!("{} V", trimmed(v, 2)),
            (None, duty) => format!("duty {} %", trimmed(duty.unwrap_or(0.0) * 100.0, 0)),
        };
        let at = show_hours(nudge.at_s / 3600.0);
        table.row("Turn", format!("at {at} to {set}: {} A", trimmed(nudge.current_a, 2)));
    }
    for check in &result.checks {
        table.0.push(format!("{:<8} {}: {}", check.severity.code(), check.code.code(), check.message));
    }
    for (n, step) in result.steps.iter().enumerate() {
        table.0.push(format!("{:>2}. {:<7} {}", n + 1, step.when.code(), step.message));
    }
    table.0.join("\n") + "\n"
}

/// A rescue: the verdict, why, what is still asked, the stages.
pub(crate) fn rescue(result: &RescueResultDoc) -> String {
    let mut table = Table::default();
    table.row("Verdict", format!("{}: {}", result.verdict.code(), result.message));
    if let Some(message) = &result.other_practice_message {
        table.row("Other practice", format!("{}: {message}", result.other_practice.code()));
    }
    for reason in &result.reasons {
        table.0.push(format!("{:<8} {}: {}", reason.severity.code(), reason.code.code(), reason.message));
        table.0.extend(reason.would_change.iter().map(|change| format!("{:<8} what would change it: {change}", "")));
    }
    for question in &result.ask {
        table.row("Asked", format!("{} ({})", question.question, question.pointer));
    }
    for fit in result.gear.iter().chain(&result.alternatives) {
        let word = if fit.fits { "does" } else { "does not do" };
        table.row("Gear", format!("{} {word}: {}", fit.name, fit.message));
    }
    for (n, stage) in result.stages.iter().enumerate() {
        rescue_stage(&mut table, n + 1, stage);
    }
    if let Some(donor) = &result.donor {
        table.row("Donor", &donor.message);
    }
    if let Some(disposal) = &result.disposal {
        table.row("Disposal", disposal);
    }
    table.0.join("\n") + "\n"
}

/// A test: its phases, where the energy went, what to mind and to do.
pub(crate) fn test(result: &TestResultDoc) -> String {
    let mut table = Table::default();
    let clock = |s: f64| show_hours(s / 3600.0);
    for phase in &result.phases {
        let amps =
            if phase.current_a > 0.0 { format!(", up to {} A", trimmed(phase.current_a, 2)) } else { String::new() };
        table.row(
            phase.kind.code(),
            format!(
                "{} to {}: {} Ah, {} Wh{amps}",
                clock(phase.from_s),
                clock(phase.to_s),
                trimmed(phase.charge_ah, 2),
                trimmed(phase.energy_wh, 1)
            ),
        );
    }
    if let Some(total_s) = result.total_s {
        let (low, high) = (result.total_low_s.unwrap_or(total_s), result.total_high_s.unwrap_or(total_s));
        table.row("Time", format!("{} ({} to {})", clock(total_s), clock(low), clock(high)));
    }
    if let Some(ah) = result.expected_ah {
        table.row("Should give", format!("{} Ah", trimmed(ah, 2)));
    }
    if let Some(cycles) = result.cycles_possible {
        table.row("Cycles paid", cycles.to_string());
    }
    for row in &result.ledger {
        let wh = |wh: f64| trimmed(wh, 1);
        table.row(
            row.at.code(),
            format!(
                "{} Wh in, {} out, {} heat, {} kept",
                wh(row.in_wh),
                wh(row.out_wh),
                wh(row.heat_wh),
                wh(row.stored_wh)
            ),
        );
    }
    for check in &result.checks {
        table.0.push(format!("{:<8} {}: {}", check.severity.code(), check.code.code(), check.message));
    }
    for (n, step) in result.steps.iter().enumerate() {
        table.0.push(format!("{:>2}. {:<7} {}", n + 1, step.when.code(), step.message));
    }
    table.0.join("\n") + "\n"
}

/// Cells put together: the steps, the packs, what is left over and unfit.
pub(crate) fn cells(result: &MatchResultDoc) -> String {
    let mut table = Table::default();
    let percent =
        |share: Option<f64>| share.map_or("–".to_owned(), |share| format!("{} %", trimmed(share * 100.0, 2)));
    for step in &result.steps {
        table.row(&format!("{} moves", step.moves), format!("spread {}", percent(step.spread)));
    }
    if let Some(step) = result.steps.last() {
        table.0.extend(step.swaps.iter().map(|[a, b]| format!("    {a} with {b}")));
    }
    for pack in &result.packs {
        let ah =
            pack.capacity_ah.map_or(format!("{} cells missing", pack.missing), |ah| format!("{} Ah", trimmed(ah, 3)));
        table.row(&pack.name, format!("{ah}, spread {}", percent(pack.spread)));
        table.0.extend(pack.groups.iter().enumerate().map(|(n, group)| format!("    {}: {}", n + 1, group.join(", "))));
    }
    if !result.left_over.is_empty() {
        table.row("Left over", result.left_over.join(", "));
    }
    for unfit in &result.unfit {
        table.row("Not to be used", format!("{}: {}", unfit.id, unfit.message));
    }
    for join in &result.joins {
        table.row(join.severity.code(), format!("{} group {}: {}", join.pack, join.group, join.message));
    }
    for note in &result.notes {
        table.row("Note", note);
    }
    table.0.join("\n") + "\n"
}

/// A log's history: its parts, its tests, its cycles, what its steps show.
pub(crate) fn log(result: &LogResultDoc) -> String {
    let mut table = Table::default();
    let clock = |s: f64| show_hours(s / 3600.0);
    table.row("Readings", format!("{}, {} lines unread", result.readings, result.bad.len()));
    for segment in &result.segments {
        let ended = segment.ended_by.map_or(String::new(), |end| format!(", ended by {}", end.code()));
        let energy = segment.energy_wh.map_or(String::new(), |wh| format!(", {} Wh", trimmed(wh, 2)));
        let (from, to) = (clock(segment.from_s), clock(segment.to_s));
        let ah = trimmed(segment.charge_ah, 3);
        table.row(segment.kind.code(), format!("{from} to {to}: {ah} Ah{energy}{ended}"));
    }
    for test in &result.tests {
        let whole = if test.complete { "whole" } else { "not whole" };
        let corrected = test.corrected_ah.zip(test.corrected_sd_ah).map_or(String::new(), |(ah, sd)| {
            format!(", {} ± {} Ah at 25 °C and the reference rate", trimmed(ah, 3), trimmed(sd, 3))
        });
        table.row("Test", format!("{} Ah, {whole}{corrected}", trimmed(test.capacity_ah, 3)));
        table.0.extend(test.missing.iter().map(|missing| format!("    - {}", missing.message)));
    }
    for cycle in &result.cycles {
        let share =
            |share: Option<f64>| share.map_or("cannot be said".to_owned(), |s| format!("{} %", trimmed(s * 100.0, 1)));
        let (charge, energy) = (share(cycle.charge_efficiency), share(cycle.energy_efficiency));
        table.row("Cycle", format!("Ah out of Ah in: {charge}; Wh: {energy}"));
    }
    for step in &result.resistance {
        let mohm = |mohm: Option<f64>| mohm.map_or("–".to_owned(), |mohm| format!("{} mΩ", trimmed(mohm, 2)));
        table.row(
            "Resistance",
            format!("at {}: {} after 1 s, {} after 10 s", clock(step.at_s), mohm(step.mohm_1s), mohm(step.mohm_10s)),
        );
    }
    for note in &result.notes {
        table.row("Note", note);
    }
    table.0.join("\n") + "\n"
}

fn rescue_stage(table: &mut Table, n: usize, stage: &RescueStageDoc) {
    let time = match (stage.expected_s, stage.max_s) {
        (Some(likely), Some(most)) => {
            format!(" About {}, at most {}.", show_hours(likely / 3600.0), show_hours(most / 3600.0))
        }
        _ => String::new(),
    };
    table.0.push(format!("{n:>2}. {:<10} {}{time}", stage.kind.code(), stage.message));
    table.0.extend(stage.steps.iter().map(|step| format!("    - {step}")));
    table.0.extend(stage.abort_if.iter().map(|abort| format!("    ! stop if {}", abort.message)));
}

fn set(table: &mut Table, s: &ResultSettingsDoc, loaded: bool) {
    // With a load a display shows more.
    let into = if loaded { " into the pack" } else { "" };
    let voltage = match s.voltage_means {
        Some(VoltsMeaning::NeverPast) => "Never past",
        Some(VoltsMeaning::WatchedFor) => "Watch for",
        Some(VoltsMeaning::Reached) => "It reaches",
        Some(VoltsMeaning::Dialled) | None => "Set voltage",
    };
    let current = match s.current_means {
        Some(AmpsMeaning::TurnedUpTo) => "Turn up to",
        Some(AmpsMeaning::AtMost) => "At most",
        Some(AmpsMeaning::Dialled) | None => "Set current",
    };
    let shown = |shown: f64, real: f64, unit: &str| {
        if (shown - real).abs() < 0.005 {
            String::new()
        } else {
            format!(", its display shows {} {unit}", trimmed(shown, 2))
        }
    };
    let volts = trimmed(s.true_voltage_v, 2);
    table.row(voltage, format!("{volts} V{}", shown(s.dial_voltage_v, s.true_voltage_v, "V")));
    let (amps, expect) = (trimmed(s.current_a, 2), trimmed(s.expect_a, 2));
    if let Some((v, a)) = s.unit_voltage_v.zip(s.unit_current_a) {
        table.row("Each unit", format!("{} V, {} A", trimmed(v, 2), trimmed(a, 2)));
    }
    table.row(current, format!("{amps} A{}, expect {expect} A", shown(s.dial_current_a, s.current_a, "A")));
    if let Some(v) = s.source_voltage_v {
        table.row("Supply at", format!("{} V", trimmed(v, 2)));
    }
    if let Some(a) = s.input_limit_a {
        table.row("Input limit", format!("{} A", trimmed(a, 1)));
    }
    if let Some(a) = s.stop_current_a {
        table.row("Stop at", format!("{} A{into}", trimmed(a, 3)));
    }
    if let Some(h) = s.time_limit_h {
        table.row("Stop after", show_hours(h));
    }
}
