import type { Place, Schemas } from "../../api/client";
import { placeOf } from "../../ui/documents/fieldWords";
import { valueAt } from "../../ui/documents/pointer";
import { type Ask, Question } from "../../ui/question/Question";
import { leaveOpen, openAsks } from "./asked";
import type { Draft } from "./draft";
import { fill } from "./fill";
import { sayLine } from "./line";

interface Props {
  draft: Draft;
  /** What the plan itself lacks, where its line asks nothing. */
  unfinished: Schemas["UnfinishedDoc"] | undefined;
  onShow: (place: Place) => void;
}

/** The one open question of the plan on the bench. An answer is written into its line, or fills its field. */
export function Asked({ draft, unfinished, onShow }: Props) {
  const ofLine = openAsks(draft);
  const asks: readonly Ask[] = ofLine.length > 0 ? ofLine : (unfinished?.ask ?? []);
  const [ask] = asks;
  if (!ask) return null;
  const place = placeOf(ask.pointer);
  return (
    <Question
      ask={ask}
      more={asks.length - 1}
      onChoose={({ line, pointer, value }) => {
        if (line !== "") sayLine(line);
        else fill(pointer, value);
      }}
      onType={
        place &&
        (() => {
          onShow(place);
        })
      }
      onLeave={
        ofLine.length > 0 && !ask.holds && !unfinished
          ? () => {
              leaveOpen(ask);
            }
          : undefined
      }
    />
  );
}

/** What was taken for granted, what was not understood, and what was asked and left open. */
export function Granted({ draft }: { draft: Draft }) {
  const { asked, document } = draft;
  if (!asked) return null;
  const assumed = asked.assumed.filter(({ pointer }) => JSON.stringify(valueAt(document, pointer)) === JSON.stringify(valueAt(asked.plan, pointer)));
  const said = [
    ...assumed.map(({ because }) => because),
    ...(asked.lost.length > 0 ? [`Not understood, and not used: ${asked.lost.map((text) => `“${text}”`).join(", ")}.`] : []),
    ...asked.left.map((question) => `Left open: ${question}`),
  ];
  if (said.length === 0) return null;
  return (
    <ul className="query-notes">
      {said.map((text) => (
        <li key={text} className="query-note">
          {text}
        </li>
      ))}
    </ul>
  );
}
