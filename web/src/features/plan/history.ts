import type { Draft } from "./draft";

/** One step back or forth: the plan as it stood. */
interface Steps {
  past: Draft[];
  future: Draft[];
}

const KEY = "rumek.steps";
const MOST = 60;
/** Changes of one field that follow each other so closely are one step. */
const TOGETHER_MS = 1200;

let steps: Steps = stored();
let last: { what: string | undefined; at: number } = { what: undefined, at: 0 };

function stored(): Steps {
  try {
    const read = JSON.parse(sessionStorage.getItem(KEY) ?? "null") as Partial<Steps> | null;
    return { past: read?.past ?? [], future: read?.future ?? [] };
  } catch {
    return { past: [], future: [] };
  }
}

function keep(next: Steps) {
  steps = { past: next.past.slice(-MOST), future: next.future.slice(-MOST) };
  sessionStorage.setItem(KEY, JSON.stringify(steps));
}

/** Notes how the plan stood before a change; `what`: what is changed, so that typing one value is one step. */
export function noteStep(before: Draft, what: string | undefined) {
  const now = Date.now();
  const together = what !== undefined && what === last.what && now - last.at < TOGETHER_MS && steps.future.length === 0;
  last = { what, at: now };
  if (!together) keep({ past: [...steps.past, before], future: [] });
}

/** Takes the last step back, or forth again: the plan as it stood there. */
export function takeStep(way: "back" | "forth", now: Draft): Draft | undefined {
  const from = way === "back" ? steps.past : steps.future;
  const found = from.at(-1);
  if (!found) return undefined;
  last = { what: undefined, at: 0 };
  if (way === "back") keep({ past: from.slice(0, -1), future: [...steps.future, now] });
  else keep({ past: [...steps.past, now], future: from.slice(0, -1) });
  return found;
}

/** Whether there is a step that way. */
export const hasStep = (way: "back" | "forth") => (way === "back" ? steps.past : steps.future).length > 0;

/** For tests: as in a window just opened. */
export function forgetSteps() {
  keep({ past: [], future: [] });
  last = { what: undefined, at: 0 };
}
