//! Where the energy of a test went, place by place: what comes in goes out, turns to heat or stays.

use crate::advice::discharge::{Discharge, Done, lead_heat_wh, rest_energy_wh};
use crate::codes::{DischargeBy, Place, SourceKind, TestPlace};
use crate::formats::{LedgerRowDoc, ResultDoc};
use crate::parts::pack::Pack;
use crate::parts::source::Source;
use crate::units::significant;

/// One place's sums, Wh.
#[derive(Clone, Copy, Debug, Default)]
struct Row {
    into: f64,
    out: f64,
    heat: f64,
}

/// The sums of a test.
pub(super) struct Ledger<'a> {
    pack: &'a Pack,
    /// Whether what feeds it keeps its energy itself.
    battery: bool,
    by: DischargeBy,
    source: Row,
    charger: Row,
    leads: Row,
    cells: Row,
    sink: Row,
    /// What the cells hold more than at first, Wh by their rest voltage.
    stored: f64,
    /// What the source lost inside itself, Wh.
    source_stored: f64,
}

impl<'a> Ledger<'a> {
    pub(super) fn new(pack: &'a Pack, source: Option<&Source>, by: DischargeBy) -> Self {
        Self {
            pack,
            battery: source.is_some_and(|source| source.kind == SourceKind::Battery),
            by,
            source: Row::default(),
            charger: Row::default(),
            leads: Row::default(),
            cells: Row::default(),
            sink: Row::default(),
            stored: 0.0,
            source_stored: 0.0,
        }
    }

    /// A charge by its plan.
    pub(super) fn charge(&mut self, charged: &ResultDoc, start_soc: f64) {
        let delivered = &charged.delivered;
        let heat_at = |places: &[Place]| -> f64 {
            charged.stages.iter().filter(|stage| places.contains(&stage.at)).map(|stage| stage.heat_wh).sum()
        };
        let leads = heat_at(&[Place::InputLead, Place::OutputLead]);
        let out = delivered.source_wh;
        // From the wall more is drawn than leaves the supply; a battery turns some of its own to heat.
        let source_heat = if self.battery { heat_at(&[Place::Source]) } else { (delivered.mains_wh - out).max(0.0) };
        self.source.out += out;
        self.source.heat += source_heat;
        if self.battery {
            self.source_stored -= out + source_heat;
        } else {
            self.source.into += out + source_heat;
        }
        self.leads.into += delivered.energy_wh + leads;
        self.leads.out += delivered.energy_wh;
        self.leads.heat += leads;
        self.charger.into += out;
        self.charger.out += delivered.energy_wh + leads;
        self.charger.heat += out - delivered.energy_wh - leads;
        self.cells.into += delivered.energy_wh;
        let kept = rest_energy_wh(self.pack, start_soc, charged.end.soc);
        self.stored += kept;
        self.cells.heat += delivered.energy_wh - kept;
    }

    /// A discharge; `back` is the share that reaches the source again.
    pub(super) fn discharge(&mut self, asked: &Discharge, done: &Done, back: Option<f64>) {
        let energy = done.run.energy_j / 3600.0;
        let lead = lead_heat_wh(&done.run, asked.lead_ohm);
        let given_up = rest_energy_wh(self.pack, done.run.end.soc, asked.start_soc);
        self.stored -= given_up;
        self.cells.out += energy;
        self.cells.heat += given_up - energy;
        self.leads.into += energy;
        self.leads.out += energy - lead;
        self.leads.heat += lead;
        let arrives = energy - lead;
        match back {
            Some(share) => {
                let back = arrives * share;
                self.charger.into += arrives;
                self.charger.out += back;
                self.charger.heat += arrives - back;
                self.source.into += back;
                // Charged at a moderate rate it keeps nearly all of it; its own loss is told where it is drawn again.
                self.source_stored += back;
            }
            None if self.by == DischargeBy::Charger => {
                self.charger.into += arrives;
                self.charger.heat += arrives;
            }
            None => {
                self.sink.into += arrives;
                self.sink.heat += arrives;
            }
        }
    }

    /// The rows in the order of the chain; those in which nothing happened are left out.
    pub(super) fn rows(&self) -> Vec<LedgerRowDoc> {
        let row = |at: TestPlace, row: Row, stored_wh: f64| LedgerRowDoc {
            at,
            in_wh: significant(row.into),
            out_wh: significant(row.out),
            heat_wh: significant(row.heat),
            stored_wh: significant(stored_wh),
        };
        let rows = [
            row(TestPlace::Source, self.source, if self.battery { self.source_stored } else { 0.0 }),
            row(TestPlace::Charger, self.charger, 0.0),
            row(TestPlace::Leads, self.leads, 0.0),
            row(TestPlace::Pack, self.cells, self.stored),
            row(TestPlace::Sink, self.sink, 0.0),
        ];
        rows.into_iter().filter(|row| row.in_wh.abs() + row.out_wh.abs() > 0.0).collect()
    }
}
