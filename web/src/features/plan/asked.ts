import { valueAt } from "../../ui/documents/pointer";
import type { Ask } from "../../ui/question/Question";
import { currentDraft, type Draft, setDraft } from "./draft";
import type { Asked } from "./kept";

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** Whether a field that a question is about was filled since. */
function isAnswered(ask: Ask, { plan }: Asked, { document }: Draft): boolean {
  const pointers = [ask.pointer, ...ask.choices.map(({ pointer }) => pointer)].filter((pointer) => pointer !== "");
  return pointers.some((pointer) => !same(valueAt(document, pointer), valueAt(plan, pointer)));
}

/** The questions of its line that are still open, the gravest first. */
export function openAsks(draft: Draft | undefined): readonly Ask[] {
  const asked = draft?.asked;
  if (!asked) return [];
  return asked.ask.filter((ask) => !asked.left.includes(ask.question) && !isAnswered(ask, asked, draft));
}

/** Whether an answer to one of them could make the settings harmful: no card, no print, no start, no saving. */
export const isHeld = (draft: Draft | undefined) => openAsks(draft).some(({ holds }) => holds);

/** Puts a question away unanswered. */
export function leaveOpen(ask: Ask) {
  const draft = currentDraft();
  if (!draft?.asked) return;
  setDraft({ ...draft, asked: { ...draft.asked, left: [...draft.asked.left, ask.question] } }, "/left");
}
