import { useSyncExternalStore } from "react";
import type { LinksDoc, PackDoc, PlanDoc, RescueCaseDoc, RescueDoc, Schemas } from "../../api/client";
import { newId } from "../../api/id";
import type { Stored } from "../../api/shelves";
import { valueAt, withValue } from "../../ui/documents/pointer";
import { keep, readKept } from "../../state/kept";
import { ofDocument, ofFields, shaped } from "../../state/shape";
import { Steps, type Way } from "../../ui/steps";

/** The rescue on the bench. It is kept here at every keystroke and on the server as soon as that can be reached. */
export interface Case {
  id: string;
  /** The version it is based on; absent until it is first kept. */
  version?: number | undefined;
  document: RescueCaseDoc;
  links: LinksDoc;
  /** What was last kept, to tell whether anything changed since. */
  saved?: string | undefined;
}

/** The name it is kept under in this browser. */
export const KEY = "rumek.rescue";
const CASE_FORMAT = "rumek.rescue-case/1";
const FORMAT = "rumek.rescue/1";

const print = (one: Case) => JSON.stringify([one.document, one.links.pack ?? null]);
export const isUnsaved = (one: Case) => one.saved !== print(one);
export const isOver = (one: Case) => one.document.outcome != null;
export const rescueOf = (one: Case): RescueDoc => one.document.rescue ?? { format: FORMAT };

export function newCase(rescue: RescueDoc = {}, links: LinksDoc = {}): Case {
  const name = rescue.pack?.name ?? undefined;
  const document: RescueCaseDoc = { format: CASE_FORMAT, rescue: { practice: "cautious", ...rescue, format: FORMAT } };
  return { id: newId(), document: name ? { ...document, name } : document, links };
}

/** A rescue of a pack from the shelf: what its label says, not how it stood in some plan. */
export function caseOfPack(row: Stored<"packs">): Case {
  return newCase({ pack: label(row.document) }, { pack: { id: row.id, version: row.version } });
}

/** A rescue of the pack in a plan, with what was measured of it and what was to charge it. */
export function caseOfPlan(plan: PlanDoc, links: LinksDoc): Case {
  const { start, temperature_c } = plan.pack ?? {};
  const found: Schemas["FoundDoc"] = {
    terminal_v: start?.rest_voltage_v,
    cell_voltages_v: start?.cell_voltages_v,
    block_voltages_v: start?.block_voltages_v,
    cells_per_block: start?.cells_per_block,
    temperature_c,
  };
  const known = Object.fromEntries(Object.entries(found).filter(([, value]) => value != null));
  const normally = plan.charger ? { handover: plan.charger } : { source: plan.source };
  return newCase({ pack: label(plan.pack ?? {}), found: known, ...normally }, links.pack ? { pack: links.pack } : {});
}

function label({ start: _start, goal: _goal, temperature_c: _now, ...pack }: PackDoc): PackDoc {
  return pack;
}

export function caseOfRow(row: Stored<"rescues">): Case {
  const one = { id: row.id, version: row.version, document: row.document, links: row.links };
  return { ...one, saved: print(one) };
}

const TEXT = { type: "string" } as const;
const RESCUE = { allOf: [ofDocument("RescueCaseDoc"), ofFields({ format: { const: CASE_FORMAT } }, ["format"])] };
const isCase = shaped<Case>(
  ofFields({ id: TEXT, version: { type: "number" }, document: RESCUE, links: ofDocument("LinksDoc"), saved: TEXT }, ["id", "document", "links"]),
);

let current: Case | undefined = readKept(KEY, isCase, sessionStorage, localStorage);
const listeners = new Set<() => void>();

export function setCase(next: Case | undefined) {
  current = next;
  keep(KEY, next, sessionStorage, localStorage);
  for (const listener of listeners) listener();
}

export const currentCase = () => current;

export const useCase = () =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, currentCase);

/** Every change of the rescue on screen. */
export const steps = new Steps<Case>("rumek.case.steps", isCase);

export function change(document: RescueCaseDoc) {
  if (!current) return;
  steps.note(current);
  setCase({ ...current, document });
}

/** Goes a step back or forth; whether there was one. What was kept since stays what it is based on. */
export function step(way: Way): boolean {
  const now = current;
  if (!now) return false;
  const found = steps.take(way, now);
  if (!found) return false;
  setCase(found.id === now.id ? { ...now, document: found.document, links: found.links } : found);
  return true;
}

/** Once it is kept: the version it is based on from now on, whatever was typed meanwhile. */
export function adopt(sent: Case, row: Stored<"rescues">) {
  if (current?.id !== row.id) return;
  setCase({ ...current, version: row.version, saved: print({ ...sent, version: row.version }) });
}

const CANT_TELL = "/rescue/found/cant_tell";
const TELLS_UNKNOWN = ["/found/bms", "/found/low_for", "/found/signs"];

/** Answers a question; `undefined` opens it again. */
export function answer(pointer: string, value: unknown) {
  if (!current) return;
  const told = (valueAt(current.document, CANT_TELL) as string[] | undefined) ?? [];
  const others = told.filter((one) => one !== pointer);
  const document = withValue(current.document, CANT_TELL, others.length > 0 ? others : undefined);
  change(withValue(document, `/rescue${pointer}`, value));
}

/** "I can't tell": an answer too. */
export function cannotTell(pointer: string) {
  if (!current) return;
  if (TELLS_UNKNOWN.includes(pointer)) {
    answer(pointer, pointer === "/found/signs" ? ["unknown"] : "unknown");
    return;
  }
  const told = (valueAt(current.document, CANT_TELL) as string[] | undefined) ?? [];
  change(withValue(current.document, CANT_TELL, [...told, pointer]));
}

/** Begins a stage now. */
export function begin(stage: Schemas["RescueStageKind"], now: Date) {
  if (current) change({ ...current.document, stage, stage_started_at: now.toISOString() });
}

/** Enters a reading of the stage under way. */
export function enter(reading: Schemas["RescueReadingDoc"], now: Date) {
  const document = current?.document;
  if (!document?.stage || !document.stage_started_at) return;
  const t_s = Math.round((now.getTime() - Date.parse(document.stage_started_at)) / 1000);
  const kept = { stage: document.stage, at: now.toISOString(), reading: { ...reading, t_s } };
  change({ ...document, readings: [...(document.readings ?? []), kept] });
}

export function takeBack(at: string) {
  const document = current?.document;
  if (document) change({ ...document, readings: (document.readings ?? []).filter((one) => one.at !== at) });
}

/** Ends the stage under way; the next one begins at once where there is one. */
export function endStage(
  judgement: { state: Schemas["JudgeState"]; message: string },
  next: Schemas["RescueStageKind"] | undefined,
  now: Date,
) {
  const document = current?.document;
  if (!document?.stage) return;
  const event = { stage: document.stage, at: now.toISOString(), ...judgement };
  const { stage: _stage, stage_started_at: _began, ...rest } = document;
  const ended = { ...rest, history: [...(document.history ?? []), event] };
  change(next ? { ...ended, stage: next, stage_started_at: now.toISOString() } : ended);
}

/** Asks everything anew about the same pack; what was done stays on record. */
export function askAnew(now: Date) {
  if (!current) return;
  const { found: _found, ...rescue } = rescueOf(current);
  const event = { stage: "inspect" as const, at: now.toISOString(), state: "waiting" as const, message: "Asked anew." };
  change({ ...current.document, rescue, history: [...(current.document.history ?? []), event] });
}

/** A board has woken: what the terminals read now is what the cells hold. */
export function woke(terminal_v: number, now: Date) {
  endStage({ state: "reached", message: `Woken; the terminals read ${terminal_v} V.` }, undefined, now);
  answer("/found/terminal_v", terminal_v);
  answer("/found/woken", true);
}

/** What was read at a handover is how the pack was found: that decides anew. */
export function decideAnew(reading: Schemas["RescueReadingDoc"], message: string, now: Date) {
  endStage({ state: "slow", message }, undefined, now);
  if (reading.terminal_v != null) answer("/found/terminal_v", reading.terminal_v);
  if (reading.cell_voltages_v?.length) answer("/found/cell_voltages_v", reading.cell_voltages_v);
}

/** Readings of one stage, oldest first. */
export function readingsOf(document: RescueCaseDoc): Schemas["CaseReadingDoc"][] {
  const began = document.stage_started_at ?? "";
  return (document.readings ?? []).filter((one) => one.stage === document.stage && (one.at ?? "") >= began);
}
