import { Button, Switch } from "antd";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { useRows } from "../../api/shelves";
import { atServer } from "../../api/time";
import { clock } from "../../ui/clock";
import { Emergency } from "../../ui/bench-card/Emergency";
import { explain } from "../../ui/feedback";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { useNow } from "../../ui/useNow";
import { packWords } from "../../ui/words";
import { setCase } from "../rescue/case";
import { Sayings } from "../run/Sayings";
import { stateWords, wentOut } from "../run/words";
import { logbookQuery, type UnderWay, useSent, useUnderWay } from "../run/useRun";
import { tellMe, useTold } from "./alarm";
import { countdown } from "./countdown";
import { Workshop } from "./Workshop";
import "./bench.css";

const LATELY = 4;

/** What is charging, when must I look next, what needs me. */
export default function BenchScreen() {
  const now = atServer(useNow()).getTime();
  useSent();
  const { all, failed, fetched } = useUnderWay();
  const first = all[0]?.look_at;
  useEffect(() => {
    const plain = document.title;
    if (first !== undefined) document.title = `${countdown(first - now).text} · Rumek`;
    return () => {
      document.title = plain;
    };
  });
  return (
    <div className="bench">
      <header className="bench-head">
        <h1>Bench</h1>
        <p className="muted" role="status">
          {!fetched ? (failed ? explain(failed) : "Fetching…") : going(all.map(({ run }) => wentOut(run.document)))}
        </p>
        <Told />
      </header>
      {fetched && all.length === 0 && <Idle />}
      <ul className="bench-runs" aria-label="Going on">
        {all.map((one) => (
          <Charge key={one.run.id} one={one} now={now} />
        ))}
      </ul>
      <div className="bench-below">
        <InTrouble />
        <Lately />
        <Workshop />
      </div>
    </div>
  );
}

/** How many charges and discharges are going on. */
function going(out: boolean[]): string {
  if (out.length === 0) return "Nothing is charging.";
  const what = out.every(Boolean) ? "discharge" : out.some(Boolean) ? "run" : "charge";
  return out.length === 1 ? `One ${what} is going on.` : `${out.length} ${what}s are going on.`;
}

function Charge({ one, now }: { one: UnderWay; now: number }) {
  const { run, taken, waiting, state, look_at } = one;
  const { document } = run;
  const began = document.started_at ?? "";
  const last = taken.at(-1);
  const grave = state?.said.filter(({ severity }) => severity !== "note") ?? [];
  const count = look_at === undefined ? undefined : countdown(look_at - now);
  const refused = waiting.filter((w) => w.refused !== undefined).length;
  return (
    <li className={count?.due ? "bench-run due" : "bench-run"}>
      <Link to={`/run/${run.id}`} className="bench-name">
        <b>{document.name ?? "unnamed"}</b>
        <span className="muted">{packWords(document.plan?.pack ?? {})}</span>
      </Link>
      <p className="bench-count">
        <b className="figures" role="timer" aria-label={`${document.name ?? "unnamed"}: until the next look`}>
          {count ? count.text : state ? "–" : "…"}
        </b>
        <span>
          {count && !count.due && <span className="muted">to your next look. </span>}
          {count?.late !== undefined && `Late by ${count.late}. `}
          {state?.next_look_why || (state ? "Nothing more to look for." : "Computing…")}
        </span>
      </p>
      <p className="bench-facts">
        <span>
          <b className="figures">{state ? `${trimmed(state.soc * 100, 0)} %` : "–"}</b> {last ? "when last read" : "at its start"}
        </span>
        <span>
          {state?.end_s == null ? "as it goes, it does not get there" : <>done at <b className="figures">{clock(began, state.end_s)}</b></>}
        </span>
        <span className="muted">{last ? `read ${showSeconds(Math.max(60, (now - Date.parse(last.at)) / 1000))} ago` : `nothing read since ${clock(began)}`}</span>
      </p>
      {(grave.length > 0 || waiting.length > 0) && (
        <ul className="bench-needs">
          <Sayings said={grave} />
          {waiting.length > refused && <li className="field-problem">{waiting.length - refused} of its readings wait in this browser for the server.</li>}
          {refused > 0 && <li className="field-problem">{refused} of its readings were refused: see the run.</li>}
        </ul>
      )}
      <Emergency said={state?.emergency} />
    </li>
  );
}

function Told() {
  const on = useTold();
  const [limits, setLimits] = useState<string>();
  return (
    <div className="bench-told">
      <Switch
        size="small"
        checked={on}
        aria-labelledby="tell-me"
        onChange={(wanted) => {
          void tellMe(wanted).then(setLimits);
        }}
      />
      <span id="tell-me">Tell me when to look, by sound and notification</span>
      {limits !== undefined && (
        <p className="muted" role="status">
          {limits}
        </p>
      )}
    </div>
  );
}

function Idle() {
  const navigate = useNavigate();
  return (
    <section className="bench-idle">
      <p>
        Here stands every charge that is going on, the one that needs you first, with a countdown to your next look. Begin one
        from a plan: <b>Start</b>, on its bench card. Stay within reach of whatever charges.
      </p>
      <p className="bench-actions">
        <Button type="primary" onClick={() => void navigate("/plan")}>
          Plan a charge
        </Button>
        <Button onClick={() => void navigate("/shelf")}>Put your packs on the shelf</Button>
        <Button onClick={() => void navigate("/rescue")}>A pack is in trouble</Button>
        <Button onClick={() => void navigate("/guide")}>New here? The guide</Button>
      </p>
    </section>
  );
}

/** Packs being brought back. */
function InTrouble() {
  const navigate = useNavigate();
  const cases = (useRows("rescues").data ?? []).filter((row) => row.document.outcome == null);
  if (cases.length === 0) return null;
  return (
    <section aria-label="Packs in trouble">
      <h2>Packs in trouble</h2>
      <ul>
        {cases.map((row) => (
          <li key={row.id}>
            <button
              type="button"
              className="plain-button bench-link"
              onClick={() => {
                setCase({ id: row.id, version: row.version, document: row.document, links: row.links });
                void navigate("/rescue");
              }}
            >
              <b>{row.document.name ?? packWords(row.document.rescue?.pack ?? {})}</b>
              <span className="muted">{row.document.stage == null ? "not begun" : "being carried out"}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The last few charges of the logbook. */
function Lately() {
  const listed = useQuery(logbookQuery({}));
  const ended = (listed.data ?? []).filter(({ run }) => run.document.ended_at != null).slice(0, LATELY);
  if (ended.length === 0) return null;
  return (
    <section aria-label="Lately">
      <h2>Lately</h2>
      <ul>
        {ended.map(({ run }) => (
          <li key={run.id}>
            <Link to={`/run/${run.id}`} className="bench-link">
              <b>{run.document.name ?? "unnamed"}</b>
              <span className="muted">{stateWords(run.document)}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
