import { keep, readKept } from "../state/kept";

/** Back and forth over changes of a thing: each step keeps it as it stood. */
export type Way = "back" | "forth";

interface Kept<T> {
  past: T[];
  future: T[];
}

const MOST = 60;
/** Changes of one field that follow each other so closely are one step. */
const TOGETHER_MS = 1200;

/** The steps of one thing; with a key they outlive a reload of this window. */
export class Steps<T> {
  private kept: Kept<T>;
  private last: { what: string | undefined; at: number } = { what: undefined, at: 0 };

  constructor(
    private readonly key?: string,
    isOne: (value: unknown) => value is T = (value): value is T => value !== undefined,
  ) {
    const areAll = (value: unknown): value is T[] => Array.isArray(value) && value.every((one) => isOne(one));
    const isKept = (value: unknown): value is Kept<T> =>
      typeof value === "object" && value !== null && "past" in value && "future" in value && areAll(value.past) && areAll(value.future);
    this.kept = (key && readKept(key, isKept, sessionStorage)) || { past: [], future: [] };
  }

  private keep({ past, future }: Kept<T>) {
    this.kept = { past: past.slice(-MOST), future: future.slice(-MOST) };
    if (this.key) keep(this.key, this.kept, sessionStorage);
  }

  /** Notes how it stood before a change; `what`: what is changed, so that typing one value is one step. */
  note(before: T, what?: string) {
    const now = Date.now();
    const { past, future } = this.kept;
    const together = what !== undefined && what === this.last.what && now - this.last.at < TOGETHER_MS && future.length === 0;
    this.last = { what, at: now };
    if (!together) this.keep({ past: [...past, before], future: [] });
  }

  /** A step back, or forth again: as it stood there. */
  take(way: Way, now: T): T | undefined {
    const { past, future } = this.kept;
    const found = (way === "back" ? past : future).at(-1);
    if (found === undefined) return undefined;
    this.last = { what: undefined, at: 0 };
    if (way === "back") this.keep({ past: past.slice(0, -1), future: [...future, now] });
    else this.keep({ past: [...past, now], future: future.slice(0, -1) });
    return found;
  }

  has(way: Way): boolean {
    return (way === "back" ? this.kept.past : this.kept.future).length > 0;
  }

  forget() {
    this.keep({ past: [], future: [] });
    this.last = { what: undefined, at: 0 };
  }
}
