import { useState } from "react";
import type { Schemas } from "../../api/client";
import { wrongWords } from "./fieldWords";
import { type At, type Pointer, valueAt, withValue } from "./pointer";

/** A document being changed in place, with what the core says of it. */
export interface Editor<T> {
  document: T | undefined;
  /** The same with every default filled in. */
  resolved?: unknown;
  problems: readonly Schemas["FieldProblem"][];
  /** Changes one value; the pointer "" changes all of it. */
  set: (pointer: Pointer<T> | "", value: unknown) => void;
}

/** A document of a form's own, edited in place until it is sent. */
export function useEditor<T extends object>(empty: T, resolved?: unknown): Editor<T> & { document: T } {
  const [document, setDocument] = useState(empty);
  return {
    document,
    resolved,
    problems: [],
    set: (at, value) => {
      setDocument((before) => withValue(before, at, value));
    },
  };
}

/** The part of a document below one pointer, edited as a document of its own. */
export function below<T, P extends Pointer<T>>(editor: Editor<T>, base: P): Editor<At<T, P>> {
  return {
    document: valueAt(editor.document, base) as At<T, P> | undefined,
    resolved: valueAt(editor.resolved, base),
    problems: editor.problems
      .filter((problem) => problem.pointer.startsWith(`${base}/`))
      .map((problem) => ({ ...problem, pointer: problem.pointer.slice(base.length) })),
    set: (pointer, value) => {
      // What a part points at, the whole points at below the part.
      editor.set((base + pointer) as Pointer<T>, value);
    },
  };
}

export const numberAt = (document: unknown, pointer: string) => valueAt(document, pointer) as number | undefined;
export const textAt = (document: unknown, pointer: string) => valueAt(document, pointer) as string | undefined;

/** What is wrong at a field or within it, in words. */
export function problemAt(editor: Pick<Editor<unknown>, "problems">, pointer: string): string | undefined {
  const found = editor.problems.find((p) => p.pointer === pointer || p.pointer.startsWith(`${pointer}/`));
  return found && wrongWords(found);
}
