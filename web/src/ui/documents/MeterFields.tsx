import { Button } from "antd";
import type { ChargerDoc, Schemas, SourceDoc } from "../../api/client";
import { QuantityInput } from "../quantity/QuantityInput";
import { type Editor, problemAt } from "./editor";

type Quantity = Schemas["MeterQuantity"];
/** Supplies and chargers have displays. */
type MeterEditor = Editor<SourceDoc> | Editor<ChargerDoc>;

const WORDS = {
  voltage: { title: "Volts", kind: "voltage" },
  current: { title: "Amps", kind: "current" },
} as const satisfies Record<Quantity, { title: string; kind: "voltage" | "current" }>;

/** What a display shows against what a meter reads, at one or several points. */
export function MeterFields({ editor }: { editor: MeterEditor }) {
  return (
    <fieldset className="meters">
      <legend>Its display against your meter</legend>
      <Points editor={editor} quantity="voltage" />
      <Points editor={editor} quantity="current" />
    </fieldset>
  );
}

function Points({ editor, quantity }: { editor: MeterEditor; quantity: Quantity }) {
  const meters = editor.document?.meters ?? [];
  const place = meters.findIndex((meter) => meter.quantity === quantity);
  const points = meters[place]?.points ?? [];
  const { title, kind } = WORDS[quantity];
  const write = (next: Schemas["MeterPointDoc"][]) => {
    const others = meters.filter((meter) => meter.quantity !== quantity);
    const all = next.length > 0 ? [...others, { quantity, points: next }] : others;
    editor.set("/meters", all.length > 0 ? all : undefined);
  };
  const change = (k: number, point: Schemas["MeterPointDoc"]) => {
    write(points.map((old, n) => (n === k ? { ...old, ...point } : old)));
  };
  return (
    <div className="meter">
      {points.map((point, k) => (
        // The points have no names of their own: their order is what tells them apart.
        <div key={k} className="meter-point">
          <QuantityInput
            label={`${title}, it shows`}
            kind={kind}
            value={point.shown ?? undefined}
            problem={place >= 0 ? problemAt(editor, `/meters/${place}/points/${k}/shown`) : undefined}
            onChange={(shown) => {
              change(k, { shown });
            }}
          />
          <QuantityInput
            label={`${title}, the meter reads`}
            kind={kind}
            value={point.true ?? undefined}
            problem={place >= 0 ? problemAt(editor, `/meters/${place}/points/${k}/true`) : undefined}
            onChange={(read) => {
              change(k, { true: read });
            }}
          />
          <Button
            size="small"
            type="text"
            aria-label={`Take away the reading of ${title.toLowerCase()} ${k + 1}`}
            onClick={() => {
              write(points.filter((_, n) => n !== k));
            }}
          >
            Take away
          </Button>
        </div>
      ))}
      <Button
        size="small"
        type="link"
        onClick={() => {
          write([...points, {}]);
        }}
      >
        Add a reading of {title.toLowerCase()}
      </Button>
    </div>
  );
}
