//! The list as it is told: each line with its figure, for whom it is, and why.

use super::line::{AnyLine, Past};
use super::list::all;
use crate::codes::Chemistry;
use crate::formats::{JudgementLineDoc, LineFigureDoc, LinesDoc};
use crate::physics::cell::profile;
use crate::units::significant;

/// Every line of judgement, subject by subject.
///
/// # Examples
/// ```
/// let lines = rumek_core::lines().lines;
/// let lethal = lines.iter().find(|line| line.name == "volts.lethal_v").expect("it is one of them");
/// assert_eq!((lethal.figures[0].value, lethal.unit.as_str()), (120.0, "V"));
/// ```
#[must_use]
pub fn told() -> LinesDoc {
    LinesDoc { lines: all().map(document).collect() }
}

fn document(line: &'static dyn AnyLine) -> JudgementLineDoc {
    let figures = Chemistry::ALL.iter().filter_map(|chemistry| {
        let known = profile(*chemistry)?;
        Some((known.name.to_owned(), significant(line.figure(known)?)))
    });
    let figures = if line.by_family() {
        by_figure(figures.collect())
    } else {
        figures.take(1).map(|(_, value)| LineFigureDoc { of: Vec::new(), value }).collect()
    };
    JudgementLineDoc {
        name: line.name().to_owned(),
        figures,
        unit: line.unit().symbol().to_owned(),
        past: match line.past() {
            Past::Above => "above",
            Past::Below => "below",
        }
        .to_owned(),
        basis: line.basis().words().to_owned(),
        rooms: line.rooms().iter().map(|room| room.words().to_owned()).collect(),
        why: line.why().trim().to_owned(),
    }
}

/// Kinds of cell that have the same figure stand together.
fn by_figure(each: Vec<(String, f64)>) -> Vec<LineFigureDoc> {
    let mut figures: Vec<LineFigureDoc> = Vec::new();
    for (name, value) in each {
        match figures.iter_mut().find(|figure| (figure.value - value).abs() < 1e-9) {
            Some(figure) => figure.of.push(name),
            None => figures.push(LineFigureDoc { of: vec![name], value }),
        }
    }
    figures
}
