/** JSON pointers into a document of plain objects and numbers (RFC 6901, without escapes: no field needs one). */

/** Every pointer into a document of a schema: a misspelt one does not compile. Lists are pointed at whole. */
export type Pointer<T> = T extends readonly unknown[]
  ? never
  : T extends object
    ? { [K in keyof T & string]: `/${K}` | Below<K, NonNullable<T[K]>> }[keyof T & string]
    : never;
type Below<K extends string, T> = T extends readonly unknown[] ? never : T extends object ? `/${K}${Pointer<T>}` : never;

/** What a pointer leads to. */
export type At<T, P extends string> = P extends `/${infer K}/${infer Rest}`
  ? K extends keyof T
    ? At<NonNullable<T[K]>, `/${Rest}`>
    : never
  : P extends `/${infer K}`
    ? K extends keyof T
      ? NonNullable<T[K]>
      : never
    : never;

type Node = Record<string, unknown>;

const isNode = (value: unknown): value is Node => typeof value === "object" && value !== null && !Array.isArray(value);
const segments = (pointer: string) => pointer.split("/").slice(1);

export function valueAt(document: unknown, pointer: string): unknown {
  let here = document;
  for (const name of segments(pointer)) here = isNode(here) ? here[name] : undefined;
  return here ?? undefined;
}

/** The document with one value changed; `undefined` takes it out, and with it whatever holds nothing else. */
export function withValue<T>(document: T, pointer: string, value: unknown): T {
  return (change(document, segments(pointer), value) ?? {}) as T;
}

function change(node: unknown, path: string[], value: unknown): unknown {
  const [name, ...rest] = path;
  if (name === undefined) return value;
  const { [name]: child, ...others } = isNode(node) ? node : {};
  const next = change(child, rest, value);
  if (next !== undefined) return { ...others, [name]: next };
  return Object.keys(others).length > 0 ? others : undefined;
}
