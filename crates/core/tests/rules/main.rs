//! The core's rules, asked through its public doors.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod asked;
mod chain_checks;
mod chain_properties;
mod chains;
mod checks;
mod chemistries;
mod dangers;
mod dice;
mod discharges;
mod documents;
mod engineer;
mod every_code;
mod faulty;
mod gauges;
mod goals;
mod histories;
mod hook_up;
mod lead;
mod lifting;
mod line_walk;
mod logs;
mod matching;
mod obeyed;
mod one_judge;
mod properties;
mod proving;
mod quick_lines;
mod ranges;
mod rescues;
mod rest_and_proof;
mod run_lines;
mod runs;
mod said;
mod sound;
mod standings;
mod sums;
mod thresholds;

use proptest::test_runner::{Config, FileFailurePersistence};
use rumek_core::answer;
use rumek_core::codes::CheckCode;
use rumek_core::formats::{CheckDoc, PlanDoc, Problems, ResultDoc, Severity, from_value};
use serde_json::{Value, json};

/// Lays `patch` over `base`, object by object; null takes a field away.
fn merge(base: &mut Value, patch: &Value) {
    match (base, patch) {
        (Value::Object(base), Value::Object(patch)) => {
            for (name, value) in patch {
                if value.is_null() {
                    base.remove(name);
                } else {
                    merge(base.entry(name).or_insert(Value::Null), value);
                }
            }
        }
        (base, patch) => *base = patch.clone(),
    }
}

/// A sound plan, a balanced 6S LiPo on a bench supply, with a patch over it.
fn plan_value(patch: Value) -> Value {
    let mut value = json!({
        "format": "rumek.plan/1",
        "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "temperature_c": 22, "balancer": "built_in",
                  "start": { "soc": 0.3 } },
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }
    });
    merge(&mut value, &patch);
    value
}

fn plan(patch: Value) -> PlanDoc {
    from_value(&plan_value(patch)).expect("the plan reads")
}

fn ask(patch: Value) -> ResultDoc {
    answer(&plan(patch)).expect("the plan answers")
}

fn problems(patch: Value) -> Problems {
    from_value::<PlanDoc>(&plan_value(patch)).and_then(|plan| answer(&plan)).expect_err("the plan is wrong")
}

fn found(result: &ResultDoc, code: CheckCode) -> Option<&CheckDoc> {
    result.checks.iter().find(|check| check.code == code)
}

fn severity(result: &ResultDoc, code: CheckCode) -> Option<Severity> {
    found(result, code).map(|check| check.severity)
}

/// How generated cases are asked: so many of them (`PROPTEST_CASES` asks for another number), and what
/// failed once is kept beside the tests, in `proptest-regressions`, and asked first from then on.
fn kept(cases: u32, file: &'static str) -> Config {
    let cases = std::env::var("PROPTEST_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(cases);
    Config {
        cases,
        max_global_rejects: 500 * cases,
        failure_persistence: Some(Box::new(FileFailurePersistence::SourceParallel("proptest-regressions"))),
        source_file: Some(file),
        ..Config::default()
    }
}
