//! Ratings passed: what, by how much, how long.

use rumek_core::codes::Place;

/// Which rating.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Rating {
    /// What a pack may be charged with, A.
    PackAmps,
    /// What its board lets in, A.
    BoardAmps,
    /// What a cell may stand at, V.
    CellVolts,
    /// The temperatures a pack may be charged at, °C.
    PackTemperature,
    /// What a deeply discharged cell may be charged with, A.
    DeepCellAmps,
    /// What a wire carries, A.
    WireAmps,
    /// What a fuse carries, A.
    FuseAmps,
    /// A supply's amps.
    SourceAmps,
    /// A supply's watts.
    SourceWatts,
    /// A regulator's output amps.
    OutputAmps,
    /// A regulator's output watts.
    OutputWatts,
    /// A regulator's input amps.
    InputAmps,
    /// A regulator's input watts.
    InputWatts,
    /// A regulator's input volts, too high.
    InputVolts,
    /// What a lamp stands, V.
    LampVolts,
    /// What a resistor sheds, W.
    ResistorWatts,
    /// A supply let go, or what it feeds starved it: nothing is charged.
    LetGo,
}

/// One passing.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Passing {
    /// Where.
    pub at: Place,
    /// Which rating.
    pub rating: Rating,
    /// The most it came to.
    pub value: f64,
    /// What it may come to.
    pub rated: f64,
    /// When it began, s.
    pub from_s: f64,
    /// For how long in all, s.
    pub for_s: f64,
}

/// Every rating passed so far.
#[derive(Clone, Debug, Default)]
pub struct Passings(Vec<Passing>);

impl Passings {
    /// Notes a value against its rating, over a step that ended at `t_s`. Figures are told to two digits and read
    /// to one in a hundred: only what is more than that over is passed.
    pub(crate) fn note(&mut self, at: Place, rating: Rating, value: f64, rated: f64, t_s: f64, h: f64) {
        const READ: f64 = 0.01;
        if value <= rated + READ * rated.abs() + 1e-3 {
            return;
        }
        match self.0.iter_mut().find(|one| one.at == at && one.rating == rating) {
            Some(one) => {
                one.value = one.value.max(value);
                one.for_s += h;
            }
            None => self.0.push(Passing { at, rating, value, rated, from_s: (t_s - h).max(0.0), for_s: h }),
        }
    }

    /// Those that lasted: a blink warms nothing.
    pub fn lasting(&self) -> impl Iterator<Item = &Passing> {
        const BLINK_S: f64 = 0.5;
        self.0.iter().filter(|one| one.for_s >= BLINK_S || one.rating == Rating::LetGo)
    }
}
