/** What a field in the chain is called in sight; its whole name, which contains this one, is spoken. */
const SHORT: Readonly<Record<string, string>> = {
  "Air temperature": "air",
  "Battery's capacity": "capacity",
  "Battery's cells in series": "cells",
  "Battery's state of charge": "charged to",
  Capacity: "capacity",
  "Capacitance of one position": "capacitance",
  "Cells in series": "cells",
  "Charger's most amps": "most amps",
  "Charger's most watts": "most watts",
  Chemistry: "chemistry",
  Energy: "energy",
  "Highest voltage": "voltage",
  "Kind of charger": "kind",
  "Kind of supply": "kind",
  "Load, amps": "amps",
  "Load, watts": "watts",
  "Pack temperature": "temperature",
  "Rated current": "current",
  "Rated power": "power",
  "State of charge now": "charge now",
  "Voltage at rest": "at rest",
  Voltage: "voltage",
  "Volts AC at its load": "volts AC",
};

export const shortName = (label: string): string | undefined => SHORT[label];
