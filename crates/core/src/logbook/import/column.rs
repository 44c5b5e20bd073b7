//! What a column holds, from its name.

use crate::formats::{LogColumn, LogColumnDoc, LogUnit};

/// The Battery Data Format's labels and machine names, and Rumek's own, in small letters.
const KNOWN: [(&str, LogColumn, Option<LogUnit>); 16] = [
    ("unix time / s", LogColumn::Time, None),
    ("unix_time_second", LogColumn::Time, None),
    ("unix_s", LogColumn::Time, None),
    ("test time / s", LogColumn::Time, None),
    ("test_time_second", LogColumn::Time, None),
    ("time_s", LogColumn::Time, None),
    ("voltage / v", LogColumn::TerminalV, Some(LogUnit::V)),
    ("voltage_volt", LogColumn::TerminalV, Some(LogUnit::V)),
    ("current / a", LogColumn::TerminalA, Some(LogUnit::A)),
    ("current_ampere", LogColumn::TerminalA, Some(LogUnit::A)),
    ("charging capacity / ah", LogColumn::ChargerAh, Some(LogUnit::Ah)),
    ("charging_capacity_ah", LogColumn::ChargerAh, Some(LogUnit::Ah)),
    ("surface temperature t1 / degc", LogColumn::Temperature, Some(LogUnit::C)),
    ("temperature_t1_celsius", LogColumn::Temperature, Some(LogUnit::C)),
    ("note", LogColumn::Note, None),
    ("temperature_c", LogColumn::Temperature, Some(LogUnit::C)),
];

/// Words of a temperature that is not the pack's.
const ELSEWHERE: [&str; 8] = ["ambient", "amb", "room", "air", "outside", "board", "mos", "charger"];

/// Words of a temperature that surely is the pack's.
const ON_THE_PACK: [&str; 5] = ["cell", "pack", "batt", "surface", "skin"];

/// Names of the Battery Data Format that look like a quantity Rumek reads and are another.
const OTHERS: [&str; 4] = ["ambient", "internal", "cycle", "step"];

/// Words of a current that comes out of the pack, and of one that goes in.
const OUT: [&str; 6] = ["discharge", "discharging", "discharged", "dsg", "dischg", "idsg"];
const IN: [&str; 5] = ["charge", "charging", "charged", "chg", "ichg"];
/// Words of what stands before the charger.
const BEFORE: [&str; 15] = [
    "supply",
    "source",
    "input",
    "psu",
    "in",
    "mains",
    "ac",
    "solar",
    "pv",
    "eingang",
    "netzteil",
    "entree",
    "entrada",
    "ingresso",
    "zasilanie",
];
/// Names in one word of volts and amps before the charger.
const BEFORE_V: [&str; 8] = ["vin", "uin", "vinput", "vsupply", "usupply", "vsource", "vpsu", "vdcin"];
const BEFORE_A: [&str; 6] = ["iin", "iinput", "isupply", "isource", "ipsu", "idcin"];

/// Names in one word of the pack's volts and amps.
const PACK_V: [&str; 8] = ["vbat", "vbatt", "ubat", "ubatt", "vpack", "upack", "batv", "packv"];
const PACK_A: [&str; 8] = ["ibat", "ibatt", "ipack", "icharge", "ichg", "bata", "packa", "batti"];

/// What the units of a name, or of the line below it, stand for.
fn unit_of(word: &str) -> Option<LogUnit> {
    Some(match word {
        "V" | "v" | "volt" | "volts" => LogUnit::V,
        "mV" | "mv" | "millivolt" => LogUnit::Mv,
        "A" | "a" | "amp" | "amps" | "ampere" => LogUnit::A,
        "mA" | "ma" => LogUnit::Ma,
        "Ah" | "ah" | "AH" => LogUnit::Ah,
        "mAh" | "mah" | "MAH" | "mAH" => LogUnit::Mah,
        word if is_amp_hours(word) => LogUnit::Ah,
        "W" | "w" | "watt" | "watts" => LogUnit::W,
        "C" | "c" | "degC" | "degc" | "celsius" | "℃" => LogUnit::C,
        "F" | "degF" | "degf" | "fahrenheit" => LogUnit::F,
        _ => return None,
    })
}

/// `AmpHr`, `amphours`, `Amperehour`: a charge, written out in one word.
fn is_amp_hours(word: &str) -> bool {
    let word = word.to_lowercase();
    let hours = word.strip_prefix("ampere").or_else(|| word.strip_prefix("amp"));
    hours.is_some_and(|rest| is_hours(rest.strip_prefix('s').unwrap_or(rest)))
}

fn is_hours(word: &str) -> bool {
    matches!(word.to_lowercase().as_str(), "h" | "hr" | "hrs" | "hour" | "hours")
}

/// The name taken apart: words in small letters, and a unit where it says one. Amps with hours right behind them,
/// as in `Amp-hr` or `A·h`, are a charge.
fn taken_apart(name: &str) -> (Vec<String>, Option<LogUnit>) {
    let parts: Vec<&str> =
        name.split(|c: char| !(c.is_alphanumeric() || c == '℃')).filter(|part| !part.is_empty()).collect();
    let charge =
        parts.windows(2).find_map(|pair| match unit_of(pair[0]).or_else(|| unit_of(&pair[0].to_lowercase())) {
            Some(LogUnit::A) if is_hours(pair[1]) => Some(LogUnit::Ah),
            Some(LogUnit::Ma) if is_hours(pair[1]) => Some(LogUnit::Mah),
            _ => None,
        });
    let unit = charge.or_else(|| parts.iter().rev().find_map(|part| unit_of(part)));
    let mut words: Vec<String> = parts.iter().map(|part| part.to_lowercase()).collect();
    // `InputVoltage` is two words: each of them is looked at as well.
    let humped = parts.iter().filter(|part| unit_of(part).is_none()).flat_map(|part| humps(part));
    words.extend(humped.collect::<Vec<_>>());
    (words, unit)
}

/// The words of `InputVoltage` or `cellVoltage1`, each where it begins with a capital after a small letter.
fn humps(part: &str) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    let mut small = false;
    for letter in part.chars() {
        if words.is_empty() || small && letter.is_uppercase() {
            words.push(String::new());
        }
        if let Some(word) = words.last_mut() {
            word.extend(letter.to_lowercase());
        }
        small = letter.is_lowercase();
    }
    if words.len() > 1 { words.into_iter().filter(|word| word.chars().count() > 1).collect() } else { Vec::new() }
}

/// A number right after a word, or at its end: `cell 3`, `cell_3`, `c3`, `zelle3`.
fn cell_of(words: &[String]) -> Option<u32> {
    let named = |word: &str| matches!(word, "cell" | "c" | "cells" | "zelle");
    words.iter().enumerate().find_map(|(k, word)| {
        let digits = word.find(|c: char| c.is_ascii_digit());
        match digits {
            Some(0) if k > 0 && named(&words[k - 1]) => word.parse().ok(),
            Some(at) if at > 0 && named(&word[..at]) => word[at..].parse().ok(),
            _ => None,
        }
    })
}

/// What a column holds, as far as its name and the unit below it tell.
pub(super) fn meaning(name: &str, unit_below: &str) -> LogColumnDoc {
    let plain = name.trim().to_lowercase();
    let column = |is: LogColumn, unit: Option<LogUnit>| LogColumnDoc { is: Some(is), unit, ..LogColumnDoc::default() };
    if let Some((_, is, unit)) = KNOWN.iter().find(|(known, ..)| *known == plain) {
        return column(*is, *unit);
    }
    let own = LogColumn::from_code(&plain).filter(|is| !matches!(is, LogColumn::Ignored | LogColumn::CellV));
    let (words, said) = taken_apart(name);
    let unit = taken_apart(unit_below).1.or(said);
    if let Some(is) = own {
        return column(is, unit);
    }
    let has = |names: &[&str]| words.iter().any(|word| names.contains(&word.as_str()));
    if words.first().is_some_and(|word| OTHERS.contains(&word.as_str())) {
        return column(LogColumn::Ignored, None);
    }
    let starts = |stem: &str| words.iter().any(|word| word.starts_with(stem));
    let volts = matches!(unit, Some(LogUnit::V | LogUnit::Mv));
    let amps = matches!(unit, Some(LogUnit::A | LogUnit::Ma));
    // A letter C before a number names a cell, behind everything it is degrees.
    let last = words.last().and_then(|word| unit_of(word));
    let degrees = matches!(unit_of(unit_below.trim_start_matches('°').trim()).or(last), Some(LogUnit::C | LogUnit::F));
    let warmth = starts("temp") || degrees && !volts && !amps;
    if warmth && has(&ELSEWHERE) {
        return column(LogColumn::Ignored, None);
    }
    let out = has(&OUT) && !has(&IN);
    if (starts("power") || starts("watt") || has(&["leistung"]) || unit == Some(LogUnit::W)) && !volts && !amps {
        // What comes out, or stands before the charger, is not what goes into the pack.
        let elsewhere = out || has(&BEFORE) || starts("fact");
        return if elsewhere { column(LogColumn::Ignored, None) } else { column(LogColumn::PowerW, Some(LogUnit::W)) };
    }
    if let Some(cell) = cell_of(&words).filter(|n| (1..=100).contains(n) && !amps && !warmth) {
        let unit = unit.filter(|_| volts).or(Some(LogUnit::V));
        return LogColumnDoc { cell: Some(cell), ..column(LogColumn::CellV, unit) };
    }
    if has(&["date", "day", "datum", "fecha", "jour", "giorno"]) && !has(&["time", "uhrzeit", "hora", "heure"]) {
        return column(LogColumn::Date, None);
    }
    let timely = has(&[
        "elapsed", "clock", "datetime", "t", "ts", "epoch", "uptime", "seconds", "sec", "date", "zeit", "uhrzeit",
        "hora", "heure", "ora", "tijd", "czas",
    ]);
    if starts("time") || timely && !volts && !amps && !warmth {
        return column(LogColumn::Time, None);
    }
    if matches!(unit, Some(LogUnit::Ah | LogUnit::Mah)) || has(&["capacity"]) {
        if words.first().is_some_and(|word| word == "discharging") {
            return column(LogColumn::Ignored, None);
        }
        return column(LogColumn::ChargerAh, unit.or(Some(LogUnit::Ah)));
    }
    if starts("temp") || matches!(unit, Some(LogUnit::C | LogUnit::F)) && !volts && !amps {
        return column(LogColumn::Temperature, unit.or(Some(LogUnit::C)));
    }
    if starts("note") || starts("comment") || starts("remark") {
        return column(LogColumn::Note, None);
    }
    // Where it was read, as far as the name says; else nearest to the pack.
    let placed = |[bms, source, charger, terminal]: [LogColumn; 4]| {
        if has(&["bms"]) {
            bms
        } else if has(&BEFORE) || has(&BEFORE_V) || has(&BEFORE_A) {
            source
        } else if has(&["charger", "output", "out"]) {
            charger
        } else {
            terminal
        }
    };
    if volts || starts("volt") || starts("spannung") || has(&["u", "v"]) || has(&PACK_V) || has(&BEFORE_V) {
        let is = placed([LogColumn::BmsV, LogColumn::SourceV, LogColumn::ChargerV, LogColumn::TerminalV]);
        return column(is, unit.filter(|_| volts).or(Some(LogUnit::V)));
    }
    if amps || starts("current") || starts("amp") || starts("strom") || has(&["i"]) || has(&PACK_A) || has(&BEFORE_A) {
        let is = placed([LogColumn::BmsA, LogColumn::SourceA, LogColumn::ChargerA, LogColumn::TerminalA]);
        let is = if out && is != LogColumn::SourceA { LogColumn::DischargeA } else { is };
        return column(is, unit.filter(|_| amps).or(Some(LogUnit::A)));
    }
    column(LogColumn::Ignored, None)
}

/// Each quantity once: of several columns that seem to hold the same, the first that says so; of several times the
/// one since 1970, of several temperatures the one that names the pack.
pub(super) fn once_each(columns: &mut [LogColumnDoc], header: &[String]) {
    let unix = header.iter().position(|name| name.to_lowercase().starts_with("unix"));
    let on_the_pack = |name: &str| ON_THE_PACK.iter().any(|word| name.to_lowercase().contains(word));
    let nearest = columns
        .iter()
        .zip(header)
        .position(|(column, name)| column.is == Some(LogColumn::Temperature) && on_the_pack(name));
    use LogColumn as C;
    // Watts tell nothing that amps do not.
    if columns.iter().any(|column| matches!(column.is, Some(C::TerminalA | C::DischargeA | C::BmsA | C::ChargerA))) {
        columns.iter_mut().filter(|column| column.is == Some(C::PowerW)).for_each(|column| {
            *column = LogColumnDoc { is: Some(C::Ignored), ..LogColumnDoc::default() };
        });
    }
    for k in 0..columns.len() {
        let (before, rest) = columns.split_at_mut(k);
        let Some(this) = rest.first_mut() else { continue };
        let same = |other: &LogColumnDoc| other.is == this.is && other.cell == this.cell;
        let repeats = this.is != Some(LogColumn::Ignored) && before.iter().any(same);
        let lesser = match this.is {
            Some(LogColumn::Time) => unix.is_some_and(|unix| unix != k),
            Some(LogColumn::Temperature) => nearest.is_some_and(|nearest| nearest != k),
            _ => false,
        };
        if repeats || lesser {
            *this = LogColumnDoc { is: Some(LogColumn::Ignored), ..LogColumnDoc::default() };
        }
    }
}
