/** A word of the trade: what it means, in plain English. */
export interface Term {
  /** Where it stands in the guide: `/guide#ID`. */
  id: string;
  word: string;
  means: string;
}

/** Every word that may need one. Figures are usual ones; a pack's own data sheet overrules them. */
export const TERMS: readonly Term[] = [
  { id: "absorption", word: "Absorption", means: "The second part of a lead charge: the voltage stands, the current falls by itself for hours." },
  { id: "ah", word: "Ah, mAh", means: "Ampere-hours: how much charge a pack holds. 4000 mAh are 4 Ah: 4 A for one hour." },
  { id: "awg", word: "AWG", means: "Wire gauge. A smaller number is a thicker wire; 12 AWG is about 3.3 mm², 16 AWG about 1.3 mm²." },
  { id: "balancer", word: "Balancer", means: "Brings the cells of a pack to the same voltage. It carries far less than the charger: usually 0.05 to 1 A." },
  { id: "bms", word: "BMS, board", means: "The board in a pack that cuts off when a cell is too high, too low, too warm, or too much flows. It protects; it does not charge." },
  { id: "buck", word: "Buck, boost", means: "A converter module that makes less volts (buck) or more volts (boost) than it is given. Neither does both unless it says so." },
  { id: "capacity-test", word: "Capacity test", means: "A whole discharge from full to the cut-off at a steady current: the Ah that come out are what the pack holds." },
  { id: "c-rate", word: "C, rate", means: "Current as a share of capacity: 1C of a 4 Ah pack is 4 A and fills it in about an hour; 0.5C is 2 A." },
  { id: "cc-cv", word: "CC/CV", means: "How lithium and lead are charged: first a current that is held (CC), then a voltage that is held while the current falls (CV)." },
  { id: "charge-voltage", word: "Charge voltage", means: "What a pack is charged to and held at: 4.20 V a cell for usual lithium, 3.65 V for phosphate, about 14.4 V for a 12 V lead battery." },
  { id: "cut-off", word: "Cut-off relay", means: "A relay that opens at a voltage that is set on it, and so ends a charge that nothing else would end." },
  { id: "dial", word: "Dial", means: "What is set on the supply, by its own display. It differs from what stands at the pack where a display, a diode or a lead lies between." },
  { id: "diode", word: "Series diode", means: "Lets current into the pack and never back. It costs 0.3 to 0.7 V, which must be set on top." },
  { id: "full-cycles", word: "Equivalent full cycles", means: "All Ah that went through a pack, in and out, divided by twice its capacity: two half discharges count as one." },
  { id: "float", word: "Float", means: "A lower voltage at which a lead battery may stay for good. Lithium is never floated." },
  { id: "foldback", word: "Foldback", means: "A supply that gives less current the more it is overloaded: it may never start a flat pack." },
  { id: "gauge-error", word: "Display error", means: "What a display shows less what is true. Measure once against a meter you trust and write it down with the gear." },
  { id: "group", word: "Group", means: "Cells side by side at one place of the row: they act as one larger cell, and the weakest group ends the charge." },
  { id: "hysteresis", word: "Rest", means: "A pack left alone. Its volts fall after a charge and rise after a load for minutes to hours; only then do they say how full it is." },
  { id: "internal-resistance", word: "Resistance, mΩ", means: "What a pack, a lead or a plug loses: 10 mΩ at 10 A cost 0.1 V and make 1 W of heat." },
  { id: "limiter", word: "Limiter", means: "A lamp or a resistor between supply and pack. It limits the current and does not stop the charge." },
  { id: "nominal", word: "Nominal volts", means: "What is printed on a label: the middle of a discharge, not what a pack is charged to. 22.2 V nominal lithium is charged to 25.2 V." },
  { id: "pinch", word: "Pinch", means: "The narrowest place of a chain at a moment: what limits the current just then." },
  { id: "practice", word: "Practice", means: "How hard a pack is charged: gentle for a long life, standard, or in a hurry. Never beyond its label." },
  { id: "precharge", word: "Precharge", means: "A small current, usually C/20 or less, that brings a deeply discharged cell up to where it may be charged." },
  { id: "pwm", word: "PWM stage", means: "Switches the supply on and off quickly. Without a coil the full supply stands at the pack in each pulse: it limits nothing by itself." },
  { id: "s-p", word: "S, P", means: "Cells in series add volts, cells in parallel add capacity. 6S2P: six in series, each two side by side." },
  { id: "sag", word: "Sag", means: "What a supply or battery loses in volts while it delivers." },
  { id: "self-discharge", word: "Self-discharge", means: "What a pack loses by itself: lithium a few per cent a month, lead three to five, nickel a fifth. More than that is a fault." },
  { id: "soc", word: "State of charge", means: "How full a pack is, in percent of what it holds." },
  { id: "spread", word: "Span", means: "Two figures between which the truth very likely lies. A wide one says that something is not known: measure it and it narrows." },
  { id: "stop-current", word: "Stop current", means: "The charge is over when the falling current has come down to this, often C/20." },
  { id: "storage", word: "Storage", means: "Where a pack ages least while nobody uses it: about 3.8 V a cell for usual lithium, full for lead." },
  { id: "terminals", word: "Terminals", means: "The pack's own plus and minus, where a meter says what the pack feels, whatever the supply's display says." },
  { id: "thermal-runaway", word: "Runaway", means: "A battery that heats itself faster than it cools. Lithium then burns and cannot be put out by smothering." },
];
