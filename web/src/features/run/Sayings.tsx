import { told } from "../../ui/preferences";
import type { Schemas } from "../../api/client";

const MARKS = { stop: "■", caution: "▲", note: "·" } as const;

/** What readings mean, as items of a list. */
export function Sayings({ said }: { said: readonly Schemas["SayingDoc"][] }) {
  return said.map((saying) => (
    <li key={saying.code} className={`check ${saying.severity}`}>
      <span className="check-mark" aria-hidden="true">
        {MARKS[saying.severity]}
      </span>
      <p>{told(saying.message)}</p>
    </li>
  ));
}
