import type { Schemas } from "../../api/client";

type Verdict = Schemas["Verdict"];
type StageKind = Schemas["RescueStageKind"];

/** What each verdict is called, as something to do. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  charge: "Charge it",
  precharge: "Bring it up gently",
  wake: "Wake its board",
  inspect: "Find out first",
  retire: "Retire it",
};

export const VERDICT_MARKS: Record<Verdict, string> = { charge: "●", precharge: "▲", wake: "▲", inspect: "■", retire: "■" };

export const STAGE_WORDS: Record<StageKind, string> = {
  inspect: "Find out",
  wake: "Wake",
  precharge: "Precharge",
  handover: "Hand over",
  charge: "First charge",
  rest: "Rest",
  prove: "Prove",
};

export const OUTCOME_WORDS: Record<Schemas["RescueOutcome"], string> = {
  recovered: "recovered",
  sound: "sound after all",
  retired: "retired",
};

export const SIGN_OPTIONS = [
  { value: "swollen", label: "swollen" },
  { value: "leaking", label: "leaking or crusted" },
  { value: "hot", label: "warm, nothing connected" },
  { value: "dented", label: "dented" },
  { value: "crushed", label: "crushed or pierced" },
  { value: "smell", label: "a smell" },
  { value: "wet", label: "has been in water" },
  { value: "frozen", label: "frozen" },
  { value: "low_electrolyte", label: "plates stand dry" },
] as const satisfies readonly { value: Schemas["Sign"]; label: string }[];

/** What only a lead battery with caps shows. */
export const ACID_SIGNS: readonly Schemas["Sign"][] = ["frozen", "low_electrolyte"];

export const BMS_OPTIONS = [
  { value: "present", label: "It has one" },
  { value: "absent", label: "It has none" },
] as const satisfies readonly { value: Schemas["BmsFound"]; label: string }[];

export const LOW_FOR_OPTIONS = [
  { value: "hours", label: "Since today" },
  { value: "days", label: "Some days" },
  { value: "weeks", label: "Weeks or more" },
] as const satisfies readonly { value: Schemas["LowFor"]; label: string }[];
