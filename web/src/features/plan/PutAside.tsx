import { clock } from "../../ui/clock";
import { Button } from "antd";
import { useState } from "react";
import { packWords } from "../../ui/words";
import { type Aside, useAside } from "./aside";
import { type Draft, setDraft } from "./draft";

const nameOf = ({ document }: Draft) => document.name ?? ((document.pack && packWords(document.pack)) || "A plan without a name");

/** Says once that an unsaved plan was put aside, and takes it up again with one press. */
export function PutAside() {
  const last = useAside()[0];
  const [seen, setSeen] = useState(last?.at);
  if (!last || last.at === seen) return null;
  return (
    <p className="put-aside" role="status">
      “{nameOf(last.draft)}” was not saved; it is put aside, under Plans.{" "}
      <Button
        size="small"
        onClick={() => {
          setDraft(last.draft);
        }}
      >
        Back to it
      </Button>{" "}
      <Button
        size="small"
        type="text"
        onClick={() => {
          setSeen(last.at);
        }}
      >
        Leave it there
      </Button>
    </p>
  );
}

/** Every plan that was put aside unsaved, to be taken up again or thrown away. */
export function AsideList({ onTake, onDrop }: { onTake: (one: Aside) => void; onDrop: (one: Aside) => void }) {
  const list = useAside();
  if (list.length === 0) return null;
  return (
    <section aria-label="Not saved">
      <h3 className="list-head">Put aside, not saved</h3>
      <ul className="plan-list-aside">
        {list.map((one) => (
          <li key={one.at}>
            <button
              type="button"
              className="plain-button plan-open"
              onClick={() => {
                onTake(one);
              }}
            >
              <strong>{nameOf(one.draft)}</strong>
              <span className="muted">{clock(one.at)}</span>
            </button>
            <span className="plan-actions">
              <Button
                size="small"
                type="text"
                danger
                aria-label={`Throw away ${nameOf(one.draft)}`}
                onClick={() => {
                  onDrop(one);
                }}
              >
                Throw away
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <h3 className="list-head">Saved</h3>
    </section>
  );
}
