import type { Schemas } from "../../api/client";
import { trimmed } from "../quantity/parse";
import { chemistryOf } from "./kinds";

type Practice = Schemas["Practice"];

export const PRACTICES = [
  { value: "gentle", label: "gentle" },
  { value: "standard", label: "standard" },
  { value: "hurry", label: "in a hurry" },
] as const satisfies readonly { value: Practice; label: string }[];

/** A practice of a chemistry in figures, where no label speaks: `1C to 4.2 V a cell`. */
export function practiceWords(chemistry: Schemas["Chemistry"] | null | undefined, practice: Practice): string | undefined {
  const figures = chemistry == null ? undefined : chemistryOf({ chemistry })?.practices.find((one) => one.practice === practice);
  return figures && `${trimmed(figures.c_rate, 3)}C to ${trimmed(figures.full_v, 2)} V a cell`;
}
