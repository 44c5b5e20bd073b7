import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useDeferredValue, useEffect, useId, useState } from "react";
import { answered, api, type MatchDoc, type MatchResultDoc, type Schemas } from "../../api/client";
import { keep, readKept } from "../../state/kept";
import { ofFields, shaped } from "../../state/shape";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { explain } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";
import { CHEMISTRY_OPTIONS } from "../../ui/words";
import { type Cell, readCells, readPacks } from "./cellTable";
import { EXAMPLE_CELLS, EXAMPLE_PACKS } from "./exampleCells";
import { percent } from "./standingWords";
import { ShelfTabs } from "./ShelfTabs";
import "../../ui/shelf/shelf.css";
import "./cells.css";
import "./pack.css";

const KEY = "rumek.cells";
/** Where bars begin, as a share of the least cell. */
const FLOOR = 0.85;

interface Typed {
  cells: string;
  packs: string;
  chemistry: Schemas["Chemistry"];
}

const isTyped = shaped<Typed>(
  ofFields({ cells: { type: "string" }, packs: { type: "string" }, chemistry: { enum: CHEMISTRY_OPTIONS.map((one) => one.value) } }, ["cells", "packs", "chemistry"]),
);

const typedBefore = (): Typed => readKept(KEY, isTyped, localStorage) ?? { cells: "", packs: "", chemistry: "li_ion" };

/** Where cells become packs whose groups hold the same: which goes where, and which swap helps most. */
export default function CellsScreen() {
  const [typed, setTyped] = useState(typedBefore);
  const ids = { cells: useId(), packs: useId() };
  useEffect(() => {
    keep(KEY, typed, localStorage);
  }, [typed]);
  const settled = useDeferredValue(typed);
  const read = readCells(settled.cells);
  const asked = readPacks(settled.packs);
  const ask: MatchDoc = { format: "rumek.match/1", chemistry: settled.chemistry, cells: read.cells, packs: asked.packs };
  const ready = read.cells.length > 0 && asked.packs.length > 0;
  const found = useQuery({
    queryKey: ["match", ask],
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered(api.POST("/api/match", { body: ask, signal })),
  });
  const wrong = [...read.wrong, ...asked.wrong];
  return (
    <div className="shelf cells-screen">
      <div className="shelf-head">
        <h1>Cells</h1>
        <ShelfTabs />
      </div>
      <div className="cells-bench">
        <section aria-label="The cells" className="cells-typed">
          <label htmlFor={ids.cells}>Cells, one a line: name, Ah, mΩ, volts now, mV lost a day, where it sits (pack, group), what it is welded to</label>
          <Input.TextArea id={ids.cells} className="figures" rows={12} spellCheck={false} placeholder={"A1 2.91 38 3.71\nA2 2.84 41 3.70"} value={typed.cells} onChange={({ target }) => { setTyped({ ...typed, cells: target.value }); }} />
          <label htmlFor={ids.packs}>Packs to build, one a line</label>
          <Input.TextArea id={ids.packs} rows={2} spellCheck={false} placeholder="Lamp 4S3P" value={typed.packs} onChange={({ target }) => { setTyped({ ...typed, packs: target.value }); }} />
          <ChoiceInput label="Chemistry" value={typed.chemistry} options={CHEMISTRY_OPTIONS.filter(({ value }) => value !== "custom")} onChange={(chemistry) => { if (chemistry) setTyped({ ...typed, chemistry }); }} />
          {typed.cells.trim() === "" && (
            <div className="cells-teach">
              <p>A pack ends its charge and its flight by its weakest group. Write down what each cell gave in its test, say what you want to build, and see which cell goes where, swap by swap, until it is even enough.</p>
              <Button onClick={() => { setTyped({ ...typed, cells: EXAMPLE_CELLS, packs: EXAMPLE_PACKS }); }}>Show 24 cells of the lamp trolley</Button>
            </div>
          )}
          {wrong.length > 0 && (
            <ul className="trouble" role="alert">
              {wrong.slice(0, 6).map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          )}
          {found.isError && ready && (
            <p className="field-problem" role="alert">
              {explain(found.error)}
            </p>
          )}
        </section>
        {found.data && ready && <Matched key={found.data.steps.length} result={found.data} cells={read.cells} />}
      </div>
    </div>
  );
}

/** The packs and what is left over after so many of the swaps, told from how they stand at the end. */
function standing(result: MatchResultDoc, step: number): Pick<MatchResultDoc, "packs" | "left_over"> {
  const swaps = result.steps[step]?.swaps ?? [];
  const last = result.steps.at(-1)?.swaps ?? [];
  const back = new Map<string, string>();
  const at = (id: string) => back.get(id) ?? id;
  // What the last step has put in a place is taken back to the beginning, then forward to this one.
  const swap = ([a = "", b = ""]: readonly string[]) => {
    const [from, to] = [at(a), at(b)];
    back.set(a, to);
    back.set(b, from);
  };
  for (const one of [...last].reverse()) swap(one);
  for (const one of swaps) swap(one);
  // back: where each cell stands now, named by the cell that stands there at the end.
  const standsAt = new Map([...back].map(([cell, place]) => [place, cell]));
  const stands = (id: string) => standsAt.get(id) ?? id;
  return {
    packs: result.packs.map((pack) => ({ ...pack, groups: pack.groups.map((group) => group.map(stands)) })),
    left_over: result.left_over.map(stands),
  };
}

function Matched({ result, cells }: { result: MatchResultDoc; cells: readonly Cell[] }) {
  const [step, setStep] = useState(0);
  const { steps, unfit, joins, notes, proven } = result;
  const chosen = Math.min(step, steps.length - 1);
  const { packs, left_over } = standing(result, chosen);
  const of = new Map(cells.map((cell) => [cell.id ?? "", cell]));
  const holds = cells.map(({ capacity_ah }) => capacity_ah ?? 0);
  // From nothing on all bars look alike: they begin a little below the least.
  const [floor, most] = [FLOOR * Math.min(...holds), Math.max(...holds)];
  const before = steps[chosen - 1]?.swaps ?? [];
  const fresh = (steps[chosen]?.swaps ?? []).slice(before.length);
  const moved = new Set(fresh.flat().map(String));
  const now = steps[chosen];
  return (
    <section aria-label="Put together" className="cells-matched">
      <div className="cells-step">
        <label htmlFor="cells-step">Swaps made</label>
        <input id="cells-step" type="range" min={0} max={Math.max(steps.length - 1, 0)} value={chosen} aria-valuetext={now ? `${now.moves} moves, spread ${spread(now.spread)}` : ""} onChange={({ target }) => { setStep(Number(target.value)); }} />
        <Button size="small" disabled={chosen === 0} onClick={() => { setStep(chosen - 1); }}>
          One back
        </Button>
        <Button size="small" disabled={chosen >= steps.length - 1} onClick={() => { setStep(chosen + 1); }}>
          Next swap
        </Button>
      </div>
      <p className="cells-now" role="status">
        {now ? (
          <>
            <strong className="figures">{spread(now.spread)}</strong> between the groups after {now.moves} {now.moves === 1 ? "move" : "moves"}
            {packs.length > 1 && now.pack_spread != null && `, ${spread(now.pack_spread)} between packs`}
            {now.resistance_spread != null && `; resistance within groups ${percent(now.resistance_spread)}`}
            {chosen === steps.length - 1 && (proven ? ". No arrangement is more even." : ". Hardly any arrangement is more even.")}
          </>
        ) : (
          "Nothing can be built of these cells."
        )}
      </p>
      {fresh.length > 0 && (
        <p>
          Swap{" "}
          {fresh.map(([a, b], n) => (
            <span key={n}>
              {n > 0 && ", then "}
              <strong>{a}</strong> with <strong>{b}</strong>
            </span>
          ))}
          .
        </p>
      )}
      {packs.map((pack) => (
        <div key={pack.name} className="cells-pack">
          <h2>
            {pack.name}
            <span className="muted">{pack.missing > 0 ? ` ${pack.missing} cells are missing` : ` ${trimmed(Math.min(...pack.groups.map((group) => sum(group, of))), 2)} Ah`}</span>
          </h2>
          <ol className="cells-groups">
            {pack.groups.map((group, n) => (
              <li key={n}>
                <div className="cells-bars" aria-hidden="true">
                  {group.map((id) => (
                    <span key={id} className={moved.has(id) ? "cell-bar moved" : "cell-bar"} style={{ height: `${(((of.get(id)?.capacity_ah ?? 0) - floor) / Math.max(most - floor, 1e-9)) * 100}%` }} />
                  ))}
                </div>
                <p className="figures">{trimmed(sum(group, of), 2)} Ah</p>
                <p className="muted cells-names">{group.join(" ")}</p>
              </li>
            ))}
          </ol>
        </div>
      ))}
      <p className="muted">Bars begin at {trimmed(floor, 2)} Ah.</p>
      {left_over.length > 0 && <p>Left over: {left_over.join(", ")}.</p>}
      {unfit.length > 0 && (
        <ul>
          {unfit.map(({ id, message }) => (
            <li key={id}>
              <strong>{id}</strong> is not to be used. {message}
            </li>
          ))}
        </ul>
      )}
      {joins.map(({ pack, group, severity, message, in_series }) => (
        <p key={`${pack} ${group} ${in_series}`} className={`test-${severity}`}>
          <strong>{severity}</strong> {pack}, {in_series ? "in series" : `group ${group}`}. {message}
        </p>
      ))}
      {notes.map((note) => (
        <p key={note} className="muted">{note}</p>
      ))}
      <details>
        <summary>Step by step, as a table</summary>
        <table>
          <thead>
            <tr>
              <th scope="col">Moves</th>
              <th scope="col">Spread</th>
              <th scope="col">Resistance</th>
            </tr>
          </thead>
          <tbody>
            {steps.map((one) => (
              <tr key={one.moves}>
                <td className="figures">{one.moves}</td>
                <td className="figures">{spread(one.spread)}</td>
                <td className="figures">{one.resistance_spread == null ? "" : percent(one.resistance_spread)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}

const spread = (share: number | null | undefined) => (share == null ? "–" : `${trimmed(share * 100, 2)} %`);
const sum = (group: readonly string[], of: ReadonlyMap<string, Cell>) => group.reduce((ah, id) => ah + (of.get(id)?.capacity_ah ?? 0), 0);
