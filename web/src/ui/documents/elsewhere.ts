import { type Kind, parse, show } from "../quantity/parse";

interface Place {
  at: string;
  kind: Kind;
  label: string;
}

/** Fields that stand beside each other and say the same, or nearly, in another unit. */
const TOGETHER: readonly (readonly Place[])[] = [
  [
    { at: "/rated_c_rate", kind: "rate", label: "Rated charge rate" },
    { at: "/rated_charge_a", kind: "current", label: "or charge current" },
  ],
  [
    { at: "/capacity_ah", kind: "charge", label: "Capacity" },
    { at: "/energy_wh", kind: "energy", label: "or energy" },
  ],
  [
    { at: "/max_current_a", kind: "current", label: "Rated current" },
    { at: "/max_power_w", kind: "power", label: "Rated power" },
  ],
  [
    { at: "/output_max_a", kind: "current", label: "Output, most amps" },
    { at: "/output_max_w", kind: "power", label: "Output, most watts" },
    { at: "/output_max_v", kind: "voltage", label: "Output, highest" },
  ],
  [
    { at: "/input_max_a", kind: "current", label: "Input, most amps" },
    { at: "/input_max_w", kind: "power", label: "Input, most watts" },
    { at: "/input_max_v", kind: "voltage", label: "Input up to" },
  ],
  [
    { at: "/load/current_a", kind: "current", label: "It draws" },
    { at: "/load/power_w", kind: "power", label: "or" },
  ],
  [
    { at: "/awg", kind: "gauge", label: "Wire, AWG" },
    { at: "/area_mm2", kind: "area", label: "Wire, mm²" },
  ],
];

/** Only what names its unit belongs elsewhere: `25` alone may be meant here. */
const NAMES_UNIT = /[a-zµω²]\s*$/i;

/** The field that a text which is wrong in this one belongs to, and what it means there; none of another family of fields. */
export function elsewhere(at: string, text: string): { at: string; value: number; said: string } | undefined {
  if (!NAMES_UNIT.test(text)) return undefined;
  const group = TOGETHER.find((places) => places.some((place) => place.at === at));
  for (const place of group ?? []) {
    if (place.at === at) continue;
    const read = parse(place.kind, text);
    if ("value" in read) return { at: place.at, value: read.value, said: `${show(place.kind, read.value)} stands under “${place.label}” now.` };
  }
  return undefined;
}
