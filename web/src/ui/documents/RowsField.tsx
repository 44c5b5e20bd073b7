import { Button } from "antd";
import type { Kind } from "../quantity/parse";
import { QuantityInput } from "../quantity/QuantityInput";
import { type Editor, problemAt } from "./editor";
import { type Pointer, valueAt } from "./pointer";

interface Props<T> {
  editor: Editor<T>;
  /** Where the list stands. */
  at: Pointer<T>;
  columns: readonly { name: string; label: string; kind: Kind }[];
  /** What a row is called, by its place in the list. */
  called: (k: number) => string;
  /** What one more is called. */
  add: string;
}

type Row = Record<string, number | null | undefined>;

/** A list of rows of quantities: each changed in place, taken away, or added. */
export function RowsField<T>({ editor, at, columns, called, add }: Props<T>) {
  const rows = (valueAt(editor.document, at) as Row[] | undefined) ?? [];
  const write = (next: Row[]) => {
    editor.set(at, next.length > 0 ? next : undefined);
  };
  return (
    <>
      {rows.map((row, k) => (
        // They have no names: their order is what tells them apart.
        <div key={k} className="fields list-row">
          {columns.map(({ name, label, kind }) => (
            <QuantityInput
              key={name}
              label={`${label}, ${called(k)}`}
              kind={kind}
              value={row[name] ?? undefined}
              problem={problemAt(editor, `${at}/${k}/${name}`)}
              onChange={(value) => {
                write(rows.map((old, n) => (n === k ? { ...old, [name]: value } : old)));
              }}
            />
          ))}
          <Button
            size="small"
            type="text"
            onClick={() => {
              write(rows.filter((_, n) => n !== k));
            }}
          >
            Take {called(k)} away
          </Button>
        </div>
      ))}
      <Button
        size="small"
        type="link"
        onClick={() => {
          write([...rows, {}]);
        }}
      >
        {add}
      </Button>
    </>
  );
}
