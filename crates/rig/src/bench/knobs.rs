//! Knobs that are turned, switches, and displays that are read.

use rumek_core::codes::{MeterAt, MeterQuantity, Place, Wiring};

use super::{APART_V, Bench};
use crate::parts::{Kind, Regulator, Works};

impl Bench {
    /// What a display shows while something is so; the plan's own comparison before the device's.
    #[must_use]
    pub fn shows(&self, at: Place, quantity: MeterQuantity, so: f64) -> f64 {
        self.correction(at, quantity).map_or(so, |(gain, offset)| (so - offset) / gain)
    }

    /// What is so while a display shows something.
    #[must_use]
    pub fn is_so(&self, at: Place, quantity: MeterQuantity, shown: f64) -> f64 {
        self.correction(at, quantity).map_or(shown, |(gain, offset)| gain * shown + offset)
    }

    /// `so = gain · shown + offset`.
    fn correction(&self, at: Place, quantity: MeterQuantity) -> Option<(f64, f64)> {
        let device = match at {
            Place::Charger => self.plan.charger.as_ref().and_then(|doc| doc.meters.as_ref()),
            _ => self.plan.source.as_ref().and_then(|doc| doc.meters.as_ref()),
        };
        let meter_at = if at == Place::Charger { MeterAt::Charger } else { MeterAt::Source };
        let own =
            self.plan.meters.iter().flatten().find(|doc| doc.at == Some(meter_at) && doc.quantity == Some(quantity));
        let meter = own.or_else(|| device.into_iter().flatten().find(|doc| doc.quantity == Some(quantity)))?;
        let points: Vec<(f64, f64)> =
            meter.points.iter().flatten().filter_map(|point| Some((point.shown?, point.r#true?))).collect();
        match points.as_slice() {
            [] => None,
            [(shown, so)] => Some((so / shown, 0.0)),
            [(shown0, so0), .., (shown1, so1)] => {
                let gain = (so1 - so0) / (shown1 - shown0);
                Some((gain, so0 - gain * shown0))
            }
        }
    }

    /// Turns the volts of a supply or a charger, true volts.
    pub fn turn_volts(&mut self, at: Place, volts: f64) {
        if at == Place::Charger {
            if let Some(regulator) = self.regulator() {
                regulator.volts = volts;
            }
            return;
        }
        let in_series = self.plan.source.as_ref().is_some_and(|doc| doc.wiring == Some(Wiring::Series));
        let n = self.supplies.len() as f64;
        for (k, number) in self.supplies.clone().into_iter().enumerate() {
            if let Kind::Supply(supply) = &mut self.circuit.part_mut(number).kind {
                supply.volts = if in_series { volts / n } else { volts - APART_V * k as f64 };
            }
        }
    }

    /// What the volts of a supply or a charger stand at, true volts; all units of a supply together.
    #[must_use]
    pub fn set_volts(&self, at: Place) -> Option<f64> {
        let volts = |number: &usize| match &self.circuit.parts()[*number].kind {
            Kind::Supply(supply) => Some(supply.volts),
            Kind::Regulator(regulator) => Some(regulator.volts),
            _ => None,
        };
        if at == Place::Charger {
            return self.charger.as_ref().and_then(volts);
        }
        let in_series = self.plan.source.as_ref().is_some_and(|doc| doc.wiring == Some(Wiring::Series));
        if in_series { self.supplies.iter().map(volts).sum() } else { self.supplies.first().and_then(volts) }
    }

    /// Turns the current limit of every unit of a supply, or of a charger, true amps.
    pub fn turn_amps(&mut self, at: Place, amps: f64) {
        if at == Place::Charger {
            if let Some(regulator) = self.regulator() {
                regulator.limit_a = amps;
            }
            return;
        }
        for number in self.supplies.clone() {
            if let Kind::Supply(supply) = &mut self.circuit.part_mut(number).kind {
                supply.limit_a = amps.min(supply.rated_a.unwrap_or(f64::INFINITY));
            }
        }
    }

    /// Turns a switch's share of the time, 0…1.
    pub fn turn_duty(&mut self, share: f64) {
        if let Some(Regulator { works: Works::Duty { duty, .. }, .. }) = self.regulator() {
            *duty = share;
        }
    }

    /// A switch's share of the time, 0…1.
    #[must_use]
    pub fn duty(&self) -> Option<f64> {
        match &self.circuit.parts()[self.charger?].kind {
            Kind::Regulator(Regulator { works: Works::Duty { duty, .. }, .. }) => Some(*duty),
            _ => None,
        }
    }

    /// Tells a charger how much it may draw, A.
    pub fn limit_input(&mut self, amps: f64) {
        if let Some(Regulator { keeps: Some(keeps), .. }) = self.regulator() {
            keeps.input_a = keeps.input_a.min(amps);
        }
    }

    fn regulator(&mut self) -> Option<&mut Regulator> {
        match &mut self.circuit.part_mut(self.charger?).kind {
            Kind::Regulator(regulator) => Some(regulator),
            _ => None,
        }
    }

    /// Switches every supply and charger on, or off.
    pub fn switch(&mut self, on: bool) {
        for number in 0..self.circuit.parts().len() {
            match &mut self.circuit.part_mut(number).kind {
                Kind::Supply(supply) => supply.on = on,
                Kind::Regulator(regulator) => regulator.on = on,
                _ => {}
            }
        }
        self.circuit.start();
        self.circuit.settle();
    }
}
