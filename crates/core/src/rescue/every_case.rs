//! Every combination of what may be found, decided: total, and never milder where it is worse.

use std::collections::BTreeSet;

use super::found::{Answer, Cells, Picture};
use super::triage::decide;
use crate::formats::{CustomCellDoc, LowFor, PackDoc, PackMark, Problems, ReasonCode, RescuePractice, Sign, Verdict};
use crate::physics::cell::Chemistry;

fn pack(chemistry: Chemistry, series: u32) -> crate::parts::pack::Pack {
    let supercap = chemistry == Chemistry::Supercap;
    let doc = PackDoc {
        chemistry: Some(chemistry),
        series: Some(series),
        capacity_ah: (!supercap).then_some(4.0),
        capacitance_f: supercap.then_some(350.0),
        cell: (chemistry == Chemistry::Custom).then(|| CustomCellDoc {
            nominal_v: Some(3.6),
            full_v: Some(4.1),
            empty_v: Some(3.0),
            precharge_below_v: Some(2.7),
            rescue_floor_v: Some(2.0),
            ..CustomCellDoc::default()
        }),
        ..PackDoc::default()
    };
    crate::parts::pack::read(&doc, "", &mut Problems::default()).unwrap()
}

fn signs() -> Vec<Answer<BTreeSet<Sign>>> {
    let mut all: Vec<Answer<BTreeSet<Sign>>> = Sign::ALL
        .iter()
        .filter(|s| !matches!(s, Sign::None | Sign::Unknown))
        .map(|s| Answer::Known([*s].into()))
        .collect();
    all.push(Answer::Known(BTreeSet::new()));
    all.push(Answer::Unknown);
    all
}

const LOW_FOR: [Answer<LowFor>; 4] =
    [Answer::Known(LowFor::Hours), Answer::Known(LowFor::Days), Answer::Known(LowFor::Weeks), Answer::Unknown];
const BOARD: [Answer<bool>; 3] = [Answer::Known(true), Answer::Known(false), Answer::Unknown];
const PRACTICES: [RescuePractice; 2] = [RescuePractice::Experienced, RescuePractice::Cautious];
/// Volts a cell, falling.
const LEVELS: [f64; 12] = [3.9, 3.1, 2.9, 2.2, 1.8, 1.4, 0.95, 0.7, 0.4, 0.1, 0.0, -0.5];

/// Falling, except that a board that has disconnected hides the cells: what it shows is another finding.
fn comparable(picture: &Picture, higher_v: f64, lower_v: f64) -> bool {
    let floor_v = picture.pack.profile.rescue_floors_v.map_or(0.0, |floors| floors.cautious_v);
    let hidden = |v: f64| picture.bms != Answer::Known(false) && v < floor_v;
    // What stands above full is refused for that.
    hidden(higher_v) == hidden(lower_v) && sound_v(picture, higher_v)
}

/// Whether a cell may stand so high at all.
fn sound_v(picture: &Picture, v: f64) -> bool {
    v <= picture.pack.profile.traits.rests_below_v.unwrap_or(picture.pack.profile.ceiling_v)
}

fn each(mut look: impl FnMut(&Picture)) {
    for &chemistry in Chemistry::ALL {
        for series in [1, 3, 6] {
            let pack = pack(chemistry, series);
            let window = pack.profile.window;
            let degrees = [20.0, window.max_c + 1.0, window.min_c - 1.0, 70.0].map(Answer::Known);
            for temperature_c in degrees.into_iter().chain([Answer::Unknown]) {
                for signs in signs() {
                    for low_for in LOW_FOR {
                        for bms in BOARD {
                            for practice in PRACTICES {
                                look(&Picture {
                                    pack: pack.clone(),
                                    practice,
                                    mark: None,
                                    signs: signs.clone(),
                                    bms: bms.clone(),
                                    temperature_c: temperature_c.clone(),
                                    terminal_v: Answer::Unknown,
                                    reachable: Answer::Unknown,
                                    cells: Answer::Unknown,
                                    low_for: low_for.clone(),
                                    woken: false,
                                    start_v: None,
                                    charger_a: None,
                                    around_c: 20.0,
                                });
                            }
                        }
                    }
                }
            }
        }
    }
}

fn sound(picture: &Picture) -> bool {
    picture.signs == Answer::Known(BTreeSet::new()) && picture.temperature_c == Answer::Known(20.0)
}

#[test]
fn a_lower_reading_never_gives_a_milder_verdict() {
    each(|picture| {
        if !sound(picture) {
            return;
        }
        let n = picture.pack.series as usize;
        let at = |v: f64| decide(&Picture { terminal_v: Answer::Known(v * n as f64), ..picture.clone() });
        for pair in LEVELS.windows(2) {
            if comparable(picture, pair[0], pair[1]) {
                let (higher, lower) = (at(pair[0]), at(pair[1]));
                assert!(lower.verdict >= higher.verdict, "{pair:?} {picture:?}");
            }
        }
        // One cell lower, the others as they are.
        for others_v in LEVELS.into_iter().filter(|v| sound_v(picture, *v)) {
            let with = |v: f64| {
                let mut each_v = vec![others_v; n];
                each_v[0] = v;
                let cells = Answer::Known(Cells { each_v, per_reading: 1.0 });
                decide(&Picture { cells, ..picture.clone() }).verdict
            };
            for pair in LEVELS.windows(2).filter(|pair| pair[0] <= others_v) {
                assert!(with(pair[1]) >= with(pair[0]), "{pair:?} beside {others_v}: {picture:?}");
            }
        }
    });
}

#[test]
fn worse_signs_longer_and_outside_the_window_never_give_a_milder_verdict() {
    each(|picture| {
        for levelled_v in LEVELS {
            let base = Picture { terminal_v: Answer::Known(levelled_v * picture.series()), ..picture.clone() };
            let verdict = decide(&base).verdict;
            let none = Picture { signs: Answer::Known(BTreeSet::new()), ..base.clone() };
            assert!(decide(&none).verdict <= verdict, "{base:?}");
            if let Answer::Known(signs) = &base.signs {
                let more = signs.iter().copied().chain([Sign::Wet]).collect();
                assert!(decide(&Picture { signs: Answer::Known(more), ..base.clone() }).verdict >= verdict);
            }
            for pair in LOW_FOR.windows(2) {
                let at =
                    |low_for: &Answer<LowFor>| decide(&Picture { low_for: low_for.clone(), ..base.clone() }).verdict;
                assert!(at(&pair[1]) >= at(&pair[0]), "{base:?}");
            }
            let warm = Picture { temperature_c: Answer::Known(20.0), ..base.clone() };
            assert!(decide(&warm).verdict <= verdict, "{base:?}");
            let recovered = decide(&Picture { mark: Some(PackMark::Recovered), ..base.clone() }).verdict;
            assert!(recovered >= verdict);
            assert_eq!(decide(&Picture { mark: Some(PackMark::Retired), ..base.clone() }).verdict, Verdict::Retire);
            let harder =
                decide(&Picture { start_v: Some(levelled_v * picture.series() + 1.0), ..base.clone() }).verdict;
            assert!(harder >= verdict, "{base:?}");
        }
    });
}

#[test]
fn no_practice_overrides_a_refusal_and_the_cautious_one_is_never_bolder() {
    each(|picture| {
        if picture.practice != RescuePractice::Cautious {
            return;
        }
        let n = picture.pack.series as usize;
        for (levelled_v, lowest_v) in LEVELS.iter().flat_map(|a| LEVELS.map(|b| (*a, b))).filter(|(a, b)| b <= a) {
            let mut each_v = vec![levelled_v; n];
            each_v[0] = lowest_v;
            let cautious = Picture { cells: Answer::Known(Cells { each_v, per_reading: 1.0 }), ..picture.clone() };
            let bold = decide(&Picture { practice: RescuePractice::Experienced, ..cautious.clone() });
            let careful = decide(&cautious);
            assert!(bold.verdict <= careful.verdict, "{cautious:?}");
            for code in
                [ReasonCode::Damaged, ReasonCode::Reversed, ReasonCode::GroupBehind, ReasonCode::BelowBothFloors]
            {
                assert_eq!(bold.has(code), careful.has(code));
                if bold.has(code) {
                    assert!(bold.verdict >= Verdict::Inspect);
                }
            }
            if lowest_v < -0.1 {
                assert_eq!(bold.verdict, Verdict::Retire, "{cautious:?}");
            }
        }
    });
}

#[test]
fn what_nobody_can_tell_opens_no_door() {
    each(|picture| {
        let lithium = picture.pack.profile.traits.board;
        for levelled_v in LEVELS {
            let at = |bms: Answer<bool>| {
                decide(&Picture { bms, terminal_v: Answer::Known(levelled_v * picture.series()), ..picture.clone() })
                    .verdict
            };
            let (with, without) = (at(Answer::Known(true)), at(Answer::Known(false)));
            let graver = if lithium { with.max(without) } else { without };
            let unknown = at(Answer::Unknown);
            // Where only one of the two would condemn it, it is found out; nothing flows meanwhile.
            assert!(unknown >= graver.min(Verdict::Inspect), "{levelled_v} {picture:?}");
        }
        if picture.signs == Answer::Unknown || picture.temperature_c == Answer::Unknown {
            assert!(decide(picture).verdict >= Verdict::Inspect);
        }
        assert!(decide(picture).verdict >= Verdict::Inspect, "nothing was read");
    });
}
