//! Logs of other instruments, and long logs drawn from few readings.

use proptest::prelude::*;
use rstest::rstest;
use rumek_core::codes::{LogColumn, LogColumns, LogUnit};
use rumek_core::formats::{LogLookAskDoc, LogLookDoc, LogMappingDoc, RunReadingDoc, from_value};
use rumek_core::{
    Extremes, LogError, LogHistory, LogReader, LogRow, LogTotals, NEWEST_FIRST, log_cells_fit, log_csv, log_fits,
    look_at_log, thinned_to,
};
use serde_json::{Value, json};

use crate::plan_value;

fn look(text: &str) -> LogLookDoc {
    let ask = json!({ "text": text, "began_at": "2026-11-25T09:00:00Z", "utc_offset_min": 60 });
    look_at_log(&from_value::<LogLookAskDoc>(&ask).unwrap()).unwrap()
}

fn first(look: &LogLookDoc) -> Value {
    serde_json::to_value(look.readings[0].as_ref().unwrap_or_else(|| panic!("{look:?}"))).unwrap()
}

const BANNER: &str = "Shed logger, channel 2\nInterval: 10 s\n\nTime;Voltage;Current;Temp;\nhh:mm:ss;V;A;°C;\n\
    00:00:00;11,94;4,02;21,5;\n00:00:10;11,97;4,01;21,5;\n00:00:20;12,01;4,00;21,6;\n";
const DATED: &str = "\u{feff}Date,Time,Cell 1 (mV),Cell 2 (mV),Cell 3 (mV),Current (mA)\n\
    25.11.2026,23:59:50,3741,3739,3745,-2600\n26.11.2026,00:00:00,3742,3740,3746,-2598\n";
const UNIX: &str = "unix_time_second\tvoltage_volt\tcurrent_ampere\ttest_time_second\tambient_temperature_celsius\n\
    1764061200\t22.512\t2.600\t0\t19\n1764061201.5\t22.514\t2.599\t1.5\t19\n";
const BARE: &str = "0.0 12.61 3.9\n 1.0  12.62 3.9\n 2.0  12.63 3.8\n";
const AMERICAN: &str = "Timestamp,Supply voltage,Supply current,Charger voltage,Capacity (mAh),Temp (F)\n\
    11/25/2026 2:20:05 PM,24.0,1.1,8.31,120,68.0\n11/25/2026 2:20:15 PM,24.0,1.1,8.32,123,68.2\n";

#[rstest]
#[case::banner_units_below_decimal_comma(BANNER, json!({"unix_s": 1_795_597_200.0, "reading": {"terminal_v": 11.94, "terminal_a": 4.02, "temperature_c": 21.5}}))]
#[case::date_apart_millivolts_charging_negative(DATED, json!({"unix_s": 1_795_647_590.0, "reading": {"terminal_a": 2.6, "cell_voltages_v": [3.741, 3.739, 3.745]}}))]
#[case::machine_names_since_1970(UNIX, json!({"unix_s": 1_764_061_200.0, "reading": {"terminal_v": 22.512, "terminal_a": 2.6}}))]
#[case::month_first_several_places_fahrenheit(AMERICAN, json!({"unix_s": 1_795_612_805.0,
    "reading": {"source_v": 24.0, "source_a": 1.1, "charger_v": 8.31, "charger_ah": 0.12, "temperature_c": 20.0}}))]
fn a_file_s_shape_is_found_out(#[case] text: &str, #[case] expected: Value) {
    let look = look(text);
    assert_eq!((&look.missing, &look.bad), (&vec![], &vec![]), "{look:?}");
    assert_eq!(first(&look), expected, "{:?}", look.mapping);
    assert!(look.readings.iter().all(Option::is_some));
}

#[test]
fn a_file_without_names_asks_for_them_and_is_read_once_they_are_said() {
    let found = look(BARE);
    assert_eq!(found.missing, ["No column holds volts or amps."]);
    let mut mapping = serde_json::to_value(&found.mapping).unwrap();
    assert_eq!(
        (&mapping["delimiter"], &mapping["header_lines"], &mapping["time"]),
        (&json!("blanks"), &json!(0), &json!("seconds"))
    );
    mapping["columns"] = json!([{"is": "time"}, {"is": "charger_v", "unit": "V"}, {"is": "charger_a", "unit": "A"}]);
    let ask = json!({ "text": BARE, "mapping": mapping, "began_at": "2026-11-25T09:00:00Z" });
    let look = look_at_log(&from_value::<LogLookAskDoc>(&ask).unwrap()).unwrap();
    assert_eq!(first(&look)["reading"], json!({"charger_v": 12.61, "charger_a": 3.9}));
    assert_eq!((look.readings.len(), look.volts), (3, Some([12.61, 12.63])));
}

#[test]
fn what_the_person_says_of_the_shape_is_kept_and_the_rest_found_out() {
    let text = "1;2;3\n0;12,5;2,1\n10;12,6;2,0\n";
    let ask = json!({ "text": text, "began_at": "2026-11-25T09:00:00Z", "mapping": { "skip_lines": 0, "delimiter": "semicolon" } });
    let told = look_at_log(&from_value::<LogLookAskDoc>(&ask).unwrap()).unwrap().mapping;
    let header: Vec<String> = ["1", "2", "3"].map(str::to_owned).to_vec();
    assert_eq!((told.header, told.header_lines), (Some(header), Some(1)));
    assert_eq!(told.decimal.unwrap().code(), "comma");
}

#[test]
fn each_line_that_cannot_be_read_is_named_as_an_editor_counts() {
    let text = "Time (s),Voltage (V),Current (A)\n6,12.0,2\n10,12.1\n20,OVERLOAD,2\n5,12.2,2\n40,9999,2\n50,---,\n60,12.3,2\n70,1,2,3,4\n";
    let look = look(text);
    let lines: Vec<u64> = look.bad.iter().map(|bad| bad.line).collect();
    assert_eq!(lines, [3, 4, 5, 6, 7, 9], "{:?}", look.bad);
    assert!(look.bad[1].message.contains("“OVERLOAD” is no reading for “Voltage (V)”"), "{:?}", look.bad[1]);
    assert!(look.bad[2].message.contains("before that of the line above"));
    assert_eq!(look.looked_at, 8);
}

#[test]
fn another_file_s_header_and_an_open_quote_end_the_reading() {
    let mapping = look("Time (s),Voltage (V)\n0,12\n1,12\n").mapping;
    let mut other = LogReader::new(&mapping, 0.0, "Time (s),Amps\n0,2\n".as_bytes()).unwrap();
    assert!(matches!(other.next_row(), Err(LogError::OtherHeader(names)) if names == "Time (s), Amps"));
    let endless = format!("Time (s),Voltage (V)\n0,12\n1,\"12\n{}", "2,12\n".repeat(20_000));
    let mut reader = LogReader::new(&mapping, 0.0, endless.as_bytes()).unwrap();
    assert!(reader.next_row().unwrap().unwrap().is_ok());
    assert!(matches!(reader.next_row(), Err(LogError::OpenQuote(3))));
}

/// The lines of a file by a clock that cannot be read, from 1, and when the others were written, s after the first.
fn by_clock(clocks: &[&str]) -> (Vec<u64>, Vec<f64>) {
    let lines: String = clocks.iter().map(|clock| format!("{clock},12.0\n")).collect();
    let mapping = json!({ "time": "clock", "header_lines": 0, "columns": [{ "is": "time" }, { "is": "terminal_v" }] });
    let mut reader = LogReader::new(&from_value(&mapping).unwrap(), 0.0, lines.as_bytes()).unwrap();
    let (mut bad, mut times) = (Vec::new(), Vec::new());
    while let Some(row) = reader.next_row().unwrap() {
        match row {
            Ok(row) => times.push(row.unix_s),
            Err(wrong) => bad.push(wrong.line),
        }
    }
    (bad, times)
}

#[rstest]
#[case::hours_beyond_any_log("10000:00:00", true)]
#[case::a_year_of_hours("9999:00:00", true)]
#[case::garbled("3000000:00:00", true)]
#[case::larger_than_any("4294967295:00:00", true)]
#[case::hours_ahead("23:59:59", true)]
#[case::hours_back("00:00:01", true)]
#[case::half_an_hour_on("10:30:00", false)]
fn a_clock_that_is_refused_changes_nothing_for_the_lines_after_it(#[case] garbled: &str, #[case] refused: bool) {
    let (bad, times) = by_clock(&["9:59:57", "9:59:58", "9:59:59", garbled, "10:30:01", "10:30:02"]);
    assert_eq!(bad, if refused { vec![4] } else { vec![] }, "{times:?}");
    assert_eq!(times.last().map(|last| last - times[0]), Some(1805.0));
}

#[test]
fn a_pause_of_hours_is_true_where_the_next_line_goes_on_from_there() {
    let (bad, times) = by_clock(&["9:59:57", "9:59:58", "19:00:00", "19:00:01", "19:00:02"]);
    assert_eq!((bad.len(), times.len()), (0, 5));
    let (bad, _) = by_clock(&["0:00:00", "2:00:00", "4:00:00", "6:00:00"]);
    assert!(bad.is_empty(), "a line every two hours: {bad:?}");
}

#[rstest]
#[case::utf_8("Zeit;Spannung (V);T (°C)\n0:00;12,0;21\n".as_bytes().to_vec())]
#[case::older_windows(b"Zeit;Spannung (V);T (\xb0C)\n0:00;12,0;21\n".to_vec())]
#[case::utf_16_with_its_mark([0xff, 0xfe].into_iter().chain("Zeit;Spannung (V);T (°C)\n0:00;12,0;21\n".encode_utf16().flat_map(u16::to_le_bytes)).collect())]
#[case::utf_16_without("Zeit;Spannung (V);T (°C)\n0:00;12,0;21\n".encode_utf16().flat_map(u16::to_le_bytes).collect())]
#[case::the_other_way_round("Zeit;Spannung (V);T (°C)\n0:00;12,0;21\n".encode_utf16().flat_map(u16::to_be_bytes).collect())]
fn a_file_is_looked_at_and_read_in_the_same_characters(#[case] bytes: Vec<u8>) {
    let shown = look(&rumek_core::log_head_text(&bytes, true)).mapping;
    assert_eq!(shown.header.clone().unwrap(), ["Zeit", "Spannung (V)", "T (°C)"]);
    let mut reader = LogReader::new(&shown, 0.0, rumek_core::decoded_log(bytes.as_slice()).unwrap()).unwrap();
    assert_eq!(reader.next_row().unwrap().unwrap().unwrap().reading.terminal_v, Some(12.0));
}

#[test]
fn a_stray_byte_spoils_its_own_field_only() {
    let bytes = b"Time s,Voltage (V),Note\n0,12.0,caf\xc3\xa9\n10,12.1,caf\xe9\n20,12.2,\xff\n".to_vec();
    let shown = look(&rumek_core::log_head_text(&bytes, true));
    let notes: Vec<String> = shown.readings.iter().flatten().filter_map(|row| row.reading.note.clone()).collect();
    assert_eq!(notes[..2], ["café", "café"], "{notes:?}");
    assert_eq!(shown.readings.iter().flatten().count(), 3);
}

#[rstest]
#[case::its_own(json!({"chemistry": "lipo", "series": 4}), false)]
#[case::the_charger_s_input(json!({"chemistry": "lipo", "series": 1}), true)]
#[case::a_smaller_one(json!({"chemistry": "lipo", "series": 14}), true)]
fn volts_that_no_such_pack_has_are_another_s(#[case] pack: Value, #[case] another: bool) {
    let mut totals = LogTotals::of(&from_value(&merge_capacity(pack)).unwrap()).unwrap();
    for n in 0..10 {
        let reading = RunReadingDoc { terminal_v: Some(15.0 + 0.1 * f64::from(n)), ..RunReadingDoc::default() };
        totals.push(&LogRow { unix_s: f64::from(n), reading });
    }
    assert_eq!(totals.another().is_some(), another, "{:?}", totals.another());
}

fn merge_capacity(mut pack: Value) -> Value {
    pack["capacity_ah"] = json!(2);
    pack
}

/// Lines of a sound log with bytes of them changed, put in, taken out: nothing hangs, nothing panics, and what follows
/// is read. `RUMEK_CASES` asks for more lines.
#[test]
fn lines_that_are_garbled_hang_nothing_and_spoil_no_others() {
    let lines: usize = std::env::var("RUMEK_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(20_000);
    let mut dice = crate::dice::Dice(7);
    let mut text = b"Time,Voltage (V),Current (A),Temp (C)\n".to_vec();
    let mut sound = 0;
    for n in 0..lines {
        let mut line =
            format!("{}:{:02}:{:02},{:.2},2.00,21.0", n / 3600, n / 60 % 60, n % 60, 12.0 + 0.0001 * n as f64)
                .into_bytes();
        if dice.one_in(10) {
            for _ in 0..1 + (dice.next() * 3.0) as usize {
                let at = (dice.next() * line.len() as f64) as usize;
                let byte = [b'0', b'9', b':', b',', b'.', b'-', b'e', 0xff, b' ', (32.0 + dice.next() * 90.0) as u8]
                    [(dice.next() * 10.0) as usize];
                match (dice.next() * 3.0) as u32 {
                    0 => line[at] = byte,
                    1 => line.insert(at, byte),
                    _ => drop(line.remove(at)),
                }
            }
            // A quote that is opened ends the reading, which has its own test.
            line.retain(|byte| *byte != b'"');
        } else {
            sound += 1;
        }
        text.extend(line);
        text.push(b'\n');
    }
    let mapping = look(&String::from_utf8_lossy(&text[..2000])).mapping;
    let began = std::time::Instant::now();
    let mut reader = LogReader::new(&mapping, 0.0, text.as_slice()).unwrap();
    let (mut read, mut longest) = (0, std::time::Duration::ZERO);
    loop {
        let line_began = std::time::Instant::now();
        let Some(row) = reader.next_row().unwrap() else { break };
        longest = longest.max(line_began.elapsed());
        read += usize::from(row.is_ok());
    }
    eprintln!(
        "RATE {read} of {sound} sound of {lines} lines read in {:?}, the longest took {longest:?}",
        began.elapsed()
    );
    assert!(100 * read >= 97 * sound, "{read} of {sound}");
}

#[test]
fn a_clock_without_a_date_goes_on_past_midnight() {
    let look = look("Time,Voltage (V)\n23:59:58,12.0\n23:59:59,12.0\n0:00:01,12.0\n");
    let times: Vec<f64> = look.readings.iter().map(|row| row.as_ref().unwrap().unix_s - 1_795_597_200.0).collect();
    assert_eq!(times, [0.0, 1.0, 3.0]);
    assert!(!look.dated);
}

fn reading(volts: f64, amps: Option<f64>, cells: &[f64], note: &str) -> RunReadingDoc {
    RunReadingDoc {
        terminal_v: Some(volts),
        charger_a: amps,
        cell_voltages_v: (!cells.is_empty()).then(|| cells.to_vec()),
        note: (!note.is_empty()).then(|| note.to_owned()),
        ..RunReadingDoc::default()
    }
}

/// Volts and amps of a reading.
type Point = (Option<f64>, Option<f64>);

proptest! {
    #![proptest_config(crate::kept(64, file!()))]

    /// What Rumek writes it reads back, whatever was noted.
    #[test]
    fn its_own_log_comes_back_as_it_was(
        rows in prop::collection::vec((1u32..5000, 1u32..400_000, prop::option::of(0u32..90_000), "[a-z \",;\n]{0,12}"), 2..30),
        cells in 0usize..4,
    ) {
        let mut unix_s = 1_764_000_000.0;
        let rows: Vec<LogRow> = rows
            .into_iter()
            .map(|(dt, mv, ma, note)| {
                unix_s += f64::from(dt);
                let cells = vec![f64::from(mv % 4000 + 1) / 1000.0; cells];
                LogRow { unix_s, reading: reading(f64::from(mv) / 1000.0, ma.map(|a| f64::from(a) / 1000.0), &cells, note.trim()) }
            })
            .collect();
        let plan = from_value(&plan_value(json!({}))).unwrap();
        let text = log_csv(&plan, None, rows.clone(), LogColumns::Rumek).unwrap();
        let mapping: LogMappingDoc = look(&text).mapping;
        let mut reader = LogReader::new(&mapping, 0.0, text.as_bytes()).unwrap();
        let mut back = Vec::new();
        while let Some(row) = reader.next_row().unwrap() {
            back.push(row.map_err(|bad| TestCaseError::fail(format!("{bad:?} in {text}")))?);
        }
        prop_assert_eq!(back, rows);
    }

    /// Of every stretch the lowest and the highest stay, and no more than asked for.
    #[test]
    fn extremes_stay_however_few_are_kept(
        points in prop::collection::vec((prop::option::of(-100i32..100), prop::option::of(-100i32..100)), 2..3000),
        at_most in 12usize..900,
    ) {
        let points: Vec<Point> =
            points.into_iter().map(|(v, a)| (v.map(f64::from), a.map(f64::from))).collect();
        let mut extremes = Extremes::default();
        points.iter().for_each(|point| extremes.push(*point));
        let levels = extremes.finish();
        let thinned = thinned_to(&points, at_most);
        prop_assert!(thinned.len() <= at_most);
        let level = Extremes::level_for(points.len(), at_most).and_then(|level| levels.get(level));
        prop_assert!(level.is_none_or(|kept| kept.len() <= at_most));
        for kept in levels.iter().chain([&thinned]) {
            prop_assert!(kept.is_sorted() && kept.first() == Some(&0) && kept.last() == Some(&(points.len() - 1)));
            for pick in [|p: &Point| p.0, |p: &Point| p.1] {
                for better in [f64::min, f64::max] {
                    let of_all = points.iter().filter_map(pick).reduce(better);
                    prop_assert_eq!(kept.iter().filter_map(|k| pick(&points[*k])).reduce(better), of_all);
                }
            }
        }
        for pair in levels.windows(2) {
            prop_assert!(pair[1].iter().all(|n| pair[0].contains(n)), "a coarser level keeps what a finer one has");
        }
    }
}

/// A log as some logger writes it, and what its lines hold.
fn written(shape: &Shape) -> (String, Vec<(f64, f64, f64)>) {
    let number = |value: f64, digits: usize| {
        let text = format!("{value:.digits$}");
        if shape.comma { text.replace('.', ",") } else { text }
    };
    let began = 1_795_597_200.0;
    let time = |t_s: f64| match shape.time {
        "unix" => number(began + t_s, 0),
        "ms" => number(t_s * 1000.0, 0),
        "min" => number(t_s / 60.0, 4),
        "clock" => format!("{:02}:{:02}:{:02}", t_s as u32 / 3600, t_s as u32 / 60 % 60, t_s as u32 % 60),
        // 2026-11-25 09:00 UTC, an hour ahead on the wall.
        "iso" => format!("2026-11-25 {:02}:{:02}:{:02}", 10 + t_s as u32 / 3600, t_s as u32 / 60 % 60, t_s as u32 % 60),
        _ => format!("25.11.2026 {:02}:{:02}:{:02}", 10 + t_s as u32 / 3600, t_s as u32 / 60 % 60, t_s as u32 % 60),
    };
    let unit = if shape.time == "ms" || shape.time == "min" { format!(" ({})", shape.time) } else { String::new() };
    let (v, a) = if shape.milli { ("mV", "mA") } else { ("V", "A") };
    let by = if shape.milli { 1000.0 } else { 1.0 };
    let sign = if shape.negative { -1.0 } else { 1.0 };
    let join = |fields: &[String]| fields.join(shape.delimiter) + "\n";
    let mut text = shape.banner.to_owned();
    text += &join(&[format!("Time{unit}"), "State".to_owned(), format!("Voltage [{v}]"), format!("Current [{a}]")]);
    let mut rows = Vec::new();
    for k in 0..shape.lines {
        let t_s = f64::from(k) * 60.0;
        let (volts, amps) = (22.5 + f64::from(k) / 100.0, 2.6 - f64::from(k) / 200.0);
        let digits = if shape.milli { 0 } else { 3 };
        text += &join(&[time(t_s), "CC".to_owned(), number(volts * by, digits), number(sign * amps * by, digits)]);
        rows.push((began + t_s, volts, amps));
    }
    (text, rows)
}

#[derive(Clone, Debug)]
struct Shape {
    delimiter: &'static str,
    comma: bool,
    time: &'static str,
    milli: bool,
    negative: bool,
    banner: &'static str,
    lines: u32,
}

fn shapes() -> impl Strategy<Value = Shape> {
    let delimiters = prop::sample::select(vec![",", ";", "\t", "|"]);
    let times = prop::sample::select(vec!["unix", "ms", "min", "clock", "iso", "day"]);
    let banners = prop::sample::select(vec!["", "Shed logger\n", "# made by hand\nChannel: 2\n\n", "\u{feff}"]);
    (delimiters, any::<bool>(), times, any::<bool>(), any::<bool>(), banners, 3u32..90).prop_map(
        |(delimiter, comma, time, milli, negative, banner, lines)| Shape {
            // A decimal comma between commas cannot be told apart, and nobody writes it.
            comma: comma && delimiter != ",",
            ..Shape { delimiter, comma, time, milli, negative, banner, lines }
        },
    )
}

proptest! {
    #![proptest_config(crate::kept(256, file!()))]

    /// Whatever way it is written in, it is read as it was meant, without a word from anybody.
    #[test]
    fn a_log_written_in_any_way_is_read_as_it_was_meant(shape in shapes()) {
        let (text, rows) = written(&shape);
        let look = look(&text);
        prop_assert!(look.missing.is_empty() && look.bad.is_empty(), "{:?} {:?} in {}", look.missing, look.bad, text);
        prop_assert_eq!(look.looked_at, shape.lines);
        for (read, (unix_s, volts, amps)) in look.readings.iter().zip(rows) {
            let read = read.as_ref().unwrap();
            prop_assert!((read.unix_s - unix_s).abs() < 0.01, "{read:?} at {unix_s} in {text}");
            let (v, a) = (read.reading.terminal_v.unwrap_or(f64::NAN), read.reading.terminal_a.unwrap_or(f64::NAN));
            prop_assert!((v - volts).abs() < 0.006 && (a - amps).abs() < 0.006, "{read:?} in {text}");
        }
    }

    /// Nothing that is dropped on it brings it down, and every line it looked at is accounted for.
    #[test]
    fn whatever_the_file_holds_is_answered(text in "([0-9a-zA-Z:;,.\\t|\" /°-]{0,20}[\\n\\r]{0,2}){0,40}") {
        let ask = json!({ "text": text, "began_at": "2026-11-25T09:00:00Z" });
        if let Ok(look) = look_at_log(&from_value::<LogLookAskDoc>(&ask).unwrap()) {
            let shown = look.readings.iter().flatten().count() + look.bad.len();
            prop_assert!(shown <= look.looked_at as usize && look.lines.len() <= 8);
        }
    }
}

#[rstest]
#[case::with_zone("2026-11-25T10:00:00+01:00", 0.0)]
#[case::in_utc("2026-11-25T09:00:30Z", 30.0)]
#[case::fraction("2026-11-25 10:00:00.250", 0.25)]
#[case::short_year("25.11.26 10:01:00", 60.0)]
#[case::half_of_the_day("11/25/2026 10:00:00 AM", 0.0)]
fn a_date_is_read_in_its_order_and_zone(#[case] written: &str, #[case] after_s: f64) {
    let look = look(&format!("Timestamp;Voltage (V)\n{written};12.0\n{written};12.1\n"));
    let read = look.readings[0].as_ref().unwrap_or_else(|| panic!("{look:?}"));
    assert!((read.unix_s - 1_795_597_200.0 - after_s).abs() < 1e-6, "{read:?}");
    assert!(look.dated);
}

#[test]
fn packs_that_cannot_have_been_it_are_told_from_those_that_may() {
    let pack = |chemistry: &str, series: u32| {
        from_value(&json!({ "chemistry": chemistry, "series": series, "capacity_ah": 4.0 })).unwrap()
    };
    let fits = |pack, volts| log_fits(&pack, volts).unwrap();
    let charged = [21.5, 25.15];
    assert!(fits(pack("lipo", 6), charged).unwrap() < 0.01);
    assert!(fits(pack("lipo", 3), charged).is_none() && fits(pack("lipo", 12), charged).is_none());
    // The higher its full voltage above what was seen, the less likely.
    assert!(fits(pack("lfp", 7), charged) < fits(pack("lfp", 8), charged));
    assert!(log_fits(&from_value(&json!({ "chemistry": "lipo" })).unwrap(), charged).is_err());
}

#[test]
fn a_silence_of_more_than_half_an_hour_is_not_bridged() {
    let over = |silence_s: f64| {
        let mut totals = LogTotals::default();
        for t_s in [0.0, silence_s] {
            let reading = from_value(&json!({ "terminal_v": 12.0, "terminal_a": 2.0 })).unwrap();
            totals.push(&LogRow { unix_s: t_s, reading });
        }
        totals.charge_ah()
    };
    assert!((over(1799.0).unwrap() - 0.9994).abs() < 1e-3, "{:?}", over(1799.0));
    assert!(over(1801.0).is_none_or(|ah| ah.abs() < 1e-9), "{:?}", over(1801.0));
}

#[test]
fn what_a_log_comes_to_is_counted_or_summed_but_not_over_a_silence() {
    let row = |unix_s: f64, reading: Value| LogRow { unix_s, reading: from_value(&reading).unwrap() };
    let mut summed = LogTotals::default();
    for (t_s, a) in [(0.0, 2.0), (1800.0, 2.0), (90_000.0, 2.0), (91_800.0, 1.0)] {
        summed.push(&row(t_s, json!({ "terminal_v": 12.0, "terminal_a": a })));
    }
    assert!((summed.charge_ah().unwrap() - 1.75).abs() < 1e-9, "{:?}", summed.charge_ah());
    assert_eq!((summed.lines, summed.taken), (4, Some((0.0, 91_800.0))));
    let mut counted = LogTotals::default();
    for (t_s, ah) in [(0.0, 0.1), (60.0, 0.5), (120.0, 0.9)] {
        counted.push(&row(t_s, json!({ "charger_a": 9.0, "charger_ah": ah })));
    }
    assert!((counted.charge_ah().unwrap() - 0.8).abs() < 1e-9, "the charger's own count goes first");
    let mut volts = LogTotals::default();
    volts.push(&row(0.0, json!({ "bms_v": 12.0 })));
    assert_eq!(volts.charge_ah(), None);
}

/// A file of twenty lines a minute apart, its current as written and its volts falling or rising.
fn logged(amps: f64, rises: bool) -> String {
    let volts = |k: i32| if rises { 10.8 + 0.05 * f64::from(k) } else { 12.4 - 0.05 * f64::from(k) };
    let lines = (0..20).map(|k| format!("{},{:.3},{amps}\n", 60 * k, volts(k)));
    std::iter::once("Time (s),Voltage (V),Current (A)\n".to_owned()).chain(lines).collect()
}

#[rstest]
#[case::charge(2.0, true, None)]
#[case::charge_written_the_other_way(-2.0, true, Some(true))]
#[case::discharge(-2.0, false, None)]
#[case::discharge_without_a_sign(2.0, false, Some(true))]
fn the_sign_of_a_current_is_turned_only_where_the_volts_say_so(
    #[case] amps: f64,
    #[case] rises: bool,
    #[case] turned: Option<bool>,
) {
    let look = look(&logged(amps, rises));
    assert_eq!(look.mapping.columns.unwrap()[2].negative, turned);
}

/// What the columns of a file are taken for, `-` for one that is not used.
fn columns_of(header: &str, line: &str) -> Vec<String> {
    let look = look(&format!("{header}\n{line}\n{line}\n"));
    let columns = look.mapping.columns.unwrap();
    let said = |column: &rumek_core::formats::LogColumnDoc| match (column.is, column.cell) {
        (Some(LogColumn::Ignored) | None, _) => "-".to_owned(),
        (Some(is), None) => format!("{} {}", is.code(), column.unit.map_or("", LogUnit::code)).trim().to_owned(),
        (Some(is), Some(cell)) => format!("{} {cell}", is.code()),
    };
    columns.iter().map(said).collect()
}

#[rstest]
#[case::amp_hours_in_two_words(
    "Time s,Volts,Amps,Amp-hr",
    "0,12.1,2.0,0.5",
    "time|terminal_v V|terminal_a A|charger_ah Ah"
)]
#[case::amp_hours_in_one_word("Time s,AmpHr,Current_A", "0,0.5,2.0", "time|charger_ah Ah|terminal_a A")]
#[case::amp_hours_written_out("Time s,Ampere hours,Current (A)", "0,0.5,2.0", "time|charger_ah Ah|terminal_a A")]
#[case::amp_hours_with_a_dot("Time s,Q (mA·h),I (A)", "0,500,2.0", "time|charger_ah mAh|terminal_a A")]
#[case::degrees_are_no_time("T / °C,Time stamp,U / V", "21,00:00:10,12.1", "temperature_c °C|time|terminal_v V")]
#[case::room_is_not_the_pack(
    "Time s,Room temp C,Cell temp C,Volts",
    "0,19,27,12.1",
    "time|-|temperature_c °C|terminal_v V"
)]
#[case::the_pack_s_of_two("Time s,Temp 1,Pack temp,Volts", "0,30,27,12.1", "time|-|temperature_c °C|terminal_v V")]
#[case::warmth_of_a_cell("Time s,Cell 1 V,Cell 1 °C", "0,3.7,27", "time|cell_v 1|temperature_c °C")]
#[case::before_the_charger(
    "Time s,InputVoltage(V),OutputVoltage(V),Current(A)",
    "0,15.0,12.1,2",
    "time|source_v V|charger_v V|terminal_a A"
)]
#[case::before_it_in_one_word("Time s,Vin,Vbat,Ibat", "0,15.0,12.1,2", "time|source_v V|terminal_v V|terminal_a A")]
#[case::in_german(
    "Datum;Uhrzeit;Spannung (V);Strom (A)",
    "25.11.2026;14:20:05;12,1;2,0",
    "date|time|terminal_v V|terminal_a A"
)]
#[case::cells_by_their_volts("Time s,V1,V2,V3,Delta", "0,3.7,3.7,3.6,0.1", "time|cell_v 1|cell_v 2|cell_v 3|-")]
#[case::one_volt_column_is_no_cell("Time s,V1,I1", "0,3.7,1.0", "time|-|-")]
#[case::a_room_in_the_other_degrees("Time s,Volts,Temp", "0,12.1,72.3", "time|terminal_v V|temperature_c °F")]
#[case::a_room_in_degrees("Time s,Volts,Temp", "0,12.1,22.3", "time|terminal_v V|temperature_c °C")]
#[case::cells_by_a_letter("Time s,C1,C2,T", "0,3.7,3.7,5", "time|cell_v 1|cell_v 2|-")]
fn a_column_is_what_its_name_says(#[case] header: &str, #[case] line: &str, #[case] expected: &str) {
    assert_eq!(columns_of(header, line).join("|"), expected);
}

#[test]
fn the_header_of_an_older_program_is_the_one_that_a_browser_showed() {
    let shown = look("Time (s),Voltage – pack (V)\n0,12.0\n60,12.1\n").mapping;
    let sent = b"Time (s),Voltage \x96 pack (V)\n0,12.0\n60,12.1\n";
    let mut reader = LogReader::new(&shown, 0.0, sent.as_slice()).unwrap();
    assert!(reader.next_row().unwrap().unwrap().is_ok());
}

#[rstest]
#[case(7, 8, false)]
#[case(8, 8, true)]
#[case::a_logger_of_fewer_channels(8, 6, true)]
fn a_log_of_more_cells_than_the_pack_has_is_another_pack_s(
    #[case] series: u32,
    #[case] cells: usize,
    #[case] fits: bool,
) {
    let pack = from_value(&json!({ "chemistry": "lipo", "series": series })).unwrap();
    assert_eq!(log_cells_fit(&pack, cells), fits);
}

/// A charge at 3 A for an hour, a line every so many seconds, its time written as told.
fn charged(every_s: u32, header: &str, written: impl Fn(u32) -> String) -> Vec<String> {
    let line = |t_s: u32| format!("{},{:.3},3.0", written(t_s), 22.2 + 2.8 * f64::from(t_s) / 3600.0);
    std::iter::once(header.to_owned()).chain((0..=3600 / every_s).map(|k| line(k * every_s))).collect()
}

/// The Ah of the one charge that a file holds, and how it was read.
fn history(lines: &[String]) -> (f64, rumek_core::formats::LogResultDoc) {
    let text = lines.iter().flat_map(|line| [line.as_str(), "\n"]).collect::<String>();
    let mapping = look(&text).mapping;
    let mut reader = LogReader::new(&mapping, 0.0, text.as_bytes()).unwrap().with_any_clock();
    let mut history = LogHistory::new(None).unwrap();
    while let Some(row) = reader.next_row().unwrap() {
        let row = row.unwrap();
        history.push(row.unix_s, &row.reading);
    }
    let result = history.finish(mapping, None);
    let [segment] = result.segments.as_slice() else { panic!("{result:?}") };
    assert_eq!(segment.kind.code(), "charge", "{result:?}");
    (segment.charge_ah, result)
}

#[rstest]
#[case::time_gone_by("Elapsed time,Voltage,Current", |t: u32| format!("{}h {}m {}s", t / 3600, t / 60 % 60, t % 60))]
#[case::no_name_says_time("Recorded at,Battery voltage,Charge current", |t: u32| format!("2026-11-27T{:02}:{:02}:{:02}+01:00", 22 + t / 3600, t / 60 % 60, t % 60))]
#[case::since_1970("logged,vbat,ibat", |t: u32| format!("{}", 1_795_777_200 + t))]
#[case::by_the_minute_of_the_day("Clock,Voltage,Current", |t: u32| format!("{:02}:{:02}", (23 + t / 3600) % 24, t / 60 % 60))]
#[case::minutes_and_seconds("Time,Voltage,Current", |t: u32| format!("{:02}:{:02}", t / 60, t % 60))]
#[case::minutes_and_seconds_of_a_log_cut_off("Time,Voltage,Current", |t: u32| format!("{:02}:{:02}", 12 + t / 60, t % 60))]
fn a_time_is_read_as_loggers_write_it(#[case] header: &str, #[case] written: fn(u32) -> String) {
    let (ah, result) = history(&charged(60, header, written));
    assert!((ah - 3.0).abs() < 0.001, "{ah} Ah: {:?}", result.mapping);
}

#[rstest]
#[case::rising(|t: u32| f64::from(t), "as_written")]
#[case::a_clock(|t: u32| f64::from(1_795_777_200 + t), "as_written")]
fn a_file_whose_newest_line_stands_first_is_read_from_its_end(#[case] at: fn(u32) -> f64, #[case] sign: &str) {
    let mut lines = charged(10, "Time,Voltage,Current", |t| format!("{}", at(t)));
    lines[1..].reverse();
    let (ah, result) = history(&lines);
    assert!((ah - 3.0).abs() < 0.001, "{ah} Ah");
    assert_eq!((result.sign.code(), result.bad.len()), (sign, 0));
    assert!(result.notes.iter().any(|note| note.starts_with("Its newest line stands first")), "{:?}", result.notes);
    // Line by line, into a run, it cannot be turned round.
    let text = lines.iter().flat_map(|line| [line.as_str(), "\n"]).collect::<String>();
    assert_eq!(look(&text).missing, [NEWEST_FIRST]);
}

#[rstest]
#[case::nine_of_ten(9, true)]
#[case::as_many_as_one_in_eight_the_other_way(7, false)]
fn a_clock_set_anew_now_and_then_is_no_file_turned_round(#[case] of_ten: usize, #[case] turned: bool) {
    // Of every so many steps one goes up.
    let moments: Vec<f64> = (0..80).map(|k| 10_000.0 - 10.0 * k as f64 + 15.0 * (k / (of_ten + 1)) as f64).collect();
    let text = moments.iter().map(|t| format!("{t},12.0,2.0\n")).collect::<String>();
    let missing = look(&format!("Time,Voltage,Current\n{text}")).missing;
    assert_eq!(missing.contains(&NEWEST_FIRST.to_owned()), turned, "{missing:?}");
}

#[rstest]
#[case::seven_steps_down(8, false)]
#[case::eight(9, true)]
fn a_few_lines_are_not_enough_to_call_a_file_turned_round(#[case] lines: u32, #[case] turned: bool) {
    let text: String = (0..lines).map(|k| format!("{},12.0,2.0\n", 1000 - 10 * k)).collect();
    let missing = look(&format!("Time,Voltage,Current\n{text}")).missing;
    assert_eq!(missing.contains(&NEWEST_FIRST.to_owned()), turned, "{missing:?}");
}

#[rstest]
#[case::since_1970(1_000_000_001, "unix_seconds")]
#[case::from_the_beginning(999_999_990, "seconds")]
fn seconds_of_a_date_are_told_from_seconds_gone_by(#[case] last: u32, #[case] written: &str) {
    let text = format!("Time,Voltage\n{},12.0\n{last},12.1\n", last - 10);
    assert_eq!(look(&text).mapping.time.unwrap().code(), written);
}

#[rstest]
#[case::nine_of_ten(9, true)]
#[case::eight_of_ten(8, false)]
fn a_column_without_a_name_is_the_time_where_nearly_all_of_it_is(#[case] moments: u32, #[case] found: bool) {
    let text: String = (0..10)
        .map(|k| {
            let at = if k < moments { format!("10:00:{:02}", 5 * k) } else { "pause".to_owned() };
            format!("{at},12.{k},2.0\n")
        })
        .collect();
    let mapping = look(&format!("Seen,Voltage,Current\n{text}")).mapping;
    assert_eq!(mapping.columns.unwrap()[0].is.map(|is| is.code()), Some(if found { "time" } else { "ignored" }));
}

#[rstest]
#[case::the_last_hour_of_a_day("23:59", "clock_minutes")]
#[case::no_hour_of_a_day("24:00", "clock")]
fn hours_and_minutes_of_a_day_end_with_it(#[case] last: &str, #[case] written: &str) {
    let text = format!("Time,Voltage\n23:40,12.0\n23:50,12.1\n{last},12.2\n");
    assert_eq!(look(&text).mapping.time.unwrap().code(), written);
}

/// A discharge of 2 h at 6 A, a rest and a charge of 1 h at 5 A, a line a minute, each written in its own way.
fn there_and_back(header: &str, fields: fn(f64, f64) -> String) -> String {
    let line = |k: u32| {
        let amps = if k < 10 {
            0.0
        } else if k < 130 {
            -6.0
        } else if k < 160 {
            0.0
        } else if k < 220 {
            5.0
        } else {
            0.0
        };
        let soc = 0.95 - 6.0 / 20.0 * f64::from(k.clamp(10, 130) - 10) / 60.0
            + 5.0 / 20.0 * f64::from(k.clamp(160, 220) - 160) / 60.0;
        format!("{},{}\n", 60 * k, fields(13.0 + 0.4 * soc + 0.02 * amps, amps))
    };
    format!("Time (s),{header}\n{}", (0..240).map(line).collect::<String>())
}

#[rstest]
#[case::a_column_each("Voltage (V),Charge current (A),Discharge current (A)", |v, a: f64| format!("{v:.3},{:.2},{:.2}", a.max(0.0), (-a).max(0.0)))]
#[case::out_first("Voltage (V),Discharge A,Charge A", |v, a: f64| format!("{v:.3},{:.2},{:.2}", (-a).max(0.0), a.max(0.0)))]
#[case::the_one_that_comes_out_below_nothing("Voltage (V),Charging current [A],Discharging current [A]", |v, a: f64| format!("{v:.3},{:.2},{:.2}", a.max(0.0), a.min(0.0)))]
#[case::one_for_both("Voltage (V),Charge/Discharge current (A)", |v: f64, a: f64| format!("{v:.3},{a:.2}"))]
#[case::watts("Voltage (V),Power (W)", |v: f64, a: f64| format!("{v:.3},{:.3}", v * a))]
#[case::watts_and_amps("Voltage (V),Current (A),Power (W)", |v: f64, a: f64| format!("{v:.3},{a:.2},{:.0}", 1.2 * v * a))]
fn what_goes_in_and_what_comes_out_are_both_read(#[case] header: &str, #[case] fields: fn(f64, f64) -> String) {
    let text = there_and_back(header, fields);
    let mapping = look(&text).mapping;
    let mut reader = LogReader::new(&mapping, 0.0, text.as_bytes()).unwrap();
    let mut history = LogHistory::new(None).unwrap();
    while let Some(row) = reader.next_row().unwrap() {
        let row = row.unwrap();
        history.push(row.unix_s, &row.reading);
    }
    let result = history.finish(mapping, None);
    let found: Vec<(&str, f64)> =
        result.segments.iter().map(|one| (one.kind.code(), (one.charge_ah * 10.0).round() / 10.0)).collect();
    assert_eq!(
        found,
        [("rest", 0.0), ("discharge", 12.0), ("rest", 0.0), ("charge", 5.0), ("rest", 0.0)],
        "{:?}",
        result.mapping
    );
}
