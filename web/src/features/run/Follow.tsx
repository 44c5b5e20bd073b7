import { told } from "../../ui/preferences";
import { Button } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { ResultDoc, Schemas } from "../../api/client";
import { useRow } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { setDraft } from "../plan/draft";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { atServer } from "../../api/time";
import { useNow } from "../../ui/useNow";
import { Account } from "./Account";
import { Asked } from "./Asked";
import { Set } from "./Set";
import { Events } from "./Events";
import { Finish } from "./Finish";
import { Later } from "./Later";
import { drop, put, retry } from "./outbox";
import { Overlay } from "./Overlay";
import { RunChart } from "./RunChart";
import { Readings } from "./Readings";
import { RunReading } from "./RunReading";
import { Sayings } from "./Sayings";
import { startWith } from "./starting";
import { Take } from "./Take";
import { lasted_s, type Taken, useRun } from "./useRun";
import { clock, clockWords, timeOfDay } from "../../ui/clock";
import { Emergency } from "../../ui/bench-card/Emergency";
import { shownDate } from "../../ui/words";
import type { Point } from "./RunLines";
import { atPack, END_OPTIONS, movedWords, readingWords, runsDown, unsigned } from "./words";

/** A charge or a discharge as it happens: predicted beside read, what it means, when to look next. */
export function Follow({ id }: { id: string }) {
  const now = atServer(useNow());
  const navigate = useNavigate();
  const known = useRow("runs", id).data?.document.started_at;
  const now_s = known ? Math.max(0, (now.getTime() - Date.parse(known)) / 1000) : 0;
  const { run, taken, astray, struck, count, waiting, sent, state, failed } = useRun(id, now_s);
  // The form begins anew with each of one's own readings, not with another's: what is being typed stays.
  const [entered, setEntered] = useState(0);
  if (!run) return <p className="screen-note">{failed ? explain(failed) : "Fetching…"}</p>;
  const { document } = run;
  const began = document.started_at ?? "";
  const lasted = lasted_s(document);
  const ended = lasted !== undefined;
  const shown_s = lasted ?? now_s;
  const last = taken.at(-1);
  const down = runsDown(document);
  const result = document.result as ResultDoc | undefined;
  const planned: Point[] = (down ? result?.discharge?.phase?.curve : result?.curve) ?? [];
  const course = ended ? [] : (state?.course ?? []);
  const refused = waiting.filter((one) => one.refused !== undefined);
  const onWay = waiting.length - refused.length;
  const due = !ended && state?.next_look_s != null && state.next_look_s <= now_s;
  return (
    <article className="follow">
      <div className="run-head">
        <h1>{document.name}</h1>
        <p className="run-clock figures" role="timer" aria-label="Since it began">
          {clockWords(shown_s)}
        </p>
        <p className="muted">
          {ended ? `from ${shownDate(began)}, ${timeOfDay(new Date(began))}` : `since ${clock(began)}`}
        </p>
      </div>
      {ended ? <EndedNote document={document} /> : <Eta state={state} began={began} />}
      {!ended && result?.settings && <Set result={result} settings={result.settings} />}
      {!ended && (
        <div className="run-figures" aria-label="Now">
          <Figure label="predicted now" volts={state?.predicted?.pack_v} amps={down ? out(state?.predicted?.current_a) : state?.predicted?.current_a} />
          <Figure label={last ? `read at ${clock(last.at)}` : "nothing read yet"} {...(last ? atPack(last.reading) : {})} />
        </div>
      )}
      <div role="status" aria-live="polite">
        <ul className="said">
          <Sayings said={state?.said ?? []} />
        </ul>
      </div>
      {!ended && <Asked run={id} said={state?.said ?? []} last={last} sent={sent} />}
      {!ended && state?.next_look_s != null && (
        <p className={due ? "look due" : "look"}>
          {due ? "Look now." : `Look again at ${clock(began, state.next_look_s)}, in ${showSeconds(Math.max(60, state.next_look_s - now_s))}.`} {told(state.next_look_why)}
        </p>
      )}
      {!ended && (
        <RunReading
          key={entered}
          plan={document.plan ?? {}}
          down={down}
          knob={(result?.nudges.length ?? 0) > 0 && result?.nudges[0]?.set_voltage_v != null}
          focus={entered > 0}
          onEnter={(reading) => {
            void put(id, reading, new Date(), sent);
            setEntered(entered + 1);
          }}
        />
      )}
      {!ended && <Emergency said={state?.emergency ?? result?.emergency} />}
      {onWay > 0 && (
        <p className="field-problem" role="status">
          {onWay === 1 ? "One reading waits" : `${onWay} readings wait`} in this browser for the server.
        </p>
      )}
      {refused.map((one) => (
        <p key={one.id} className="field-problem" role="alert">
          {one.ended ? "Not added yet" : "Refused"}: {readingWords(one.reading, down)} ({one.refused}).{" "}
          <Button size="small" onClick={() => void retry(one.id, sent)}>
            {one.ended ? "Add it all the same" : "Send it again"}
          </Button>{" "}
          <Button size="small" onClick={() => void drop(one.id)}>
            Let it go
          </Button>
        </p>
      ))}
      {astray.map((one) => (
        <p key={one.n} className="field-problem">
          Kept, but not placed: {readingWords(one.reading, down)}. The clock it was taken by puts it outside of this run.
        </p>
      ))}
      {(state || taken.length > 0) && <RunChart id={id} began={began} planned={down ? unsigned(planned) : planned} course={down ? unsigned(course) : course} taken={down ? taken.map(outward) : taken} now_s={shown_s} />}
      {state && state.nudges.length > 0 && !ended && (
        <ul className="run-turns" aria-label="Turns to come">
          {state.nudges.slice(0, 4).map((turn) => (
            <li key={turn.at_s} className="figures">
              {clock(began, turn.at_s)}: to {turn.set_voltage_v == null ? `duty ${trimmed((turn.duty ?? 0) * 100, 0)} %` : `${trimmed(turn.set_voltage_v, 2)} V`}, until {trimmed(turn.current_a, 2)} A
            </li>
          ))}
        </ul>
      )}
      {ended && state && <Account way={state.way} account={state.way === "charge" ? { ...state.account, charge_ah: document.charge_ah ?? state.account.charge_ah } : state.account} />}
      {ended && document.plan && (
        <p>
          <Button
            onClick={() => {
              const plan = { ...document.plan, format: "rumek.plan/1" };
              if (document.discharge) startWith(plan, run.links, document.discharge);
              else setDraft({ document: plan, links: run.links });
              void navigate(document.discharge ? "/run" : "/plan");
            }}
          >
            {document.discharge ? "Test it again" : "Plan it again"}
          </Button>
        </p>
      )}
      {ended && <Later key={run.version} run={run} />}
      {state && <Learned state={state} />}
      {ended && state && <Take run={run} state={state} />}
      {ended && <Overlay run={run} />}
      <Events document={document} taken={taken} />
      <Readings run={id} plan={document.plan ?? {}} taken={taken} struck={struck} count={count} sent={sent} />
      {taken.length > 0 && (
        <p className="run-out">
          Take it out: <a href={`/api/runs/${id}/log`} download>as CSV</a> ·{" "}
          <a href={`/api/runs/${id}/log?columns=bdf`} download>
            in Battery Data Format
          </a>
        </p>
      )}
      {!ended && <Finish run={run} state={state} />}
    </article>
  );
}

const out = (amps: number | null | undefined) => (amps == null ? amps : Math.abs(amps));

/** A reading of a discharge, its currents without their signs. */
function outward(one: Taken): Taken {
  const { terminal_a, bms_a, charger_a } = one.reading;
  return { ...one, reading: { ...one.reading, terminal_a: out(terminal_a) ?? null, bms_a: out(bms_a) ?? null, charger_a: out(charger_a) ?? null } };
}

function Figure({ label, volts, amps }: { label: string; volts?: number | null | undefined; amps?: number | null | undefined }) {
  return (
    <div>
      <p className="run-figure figures">
        {volts == null ? "–" : trimmed(volts, 2)} <small>V</small> {amps == null ? "–" : trimmed(amps, 2)} <small>A</small>
      </p>
      <p className="muted">{label}</p>
    </div>
  );
}

function Eta({ state, began }: { state: Schemas["RunStateDoc"] | undefined; began: string }) {
  if (!state) return <p className="run-eta">Computing…</p>;
  if (state.end_s == null)
    return (
      <p className="run-eta">
        As it goes, it does not get there · {trimmed(state.soc * 100, 0)} % now · {movedWords(state.account.charge_ah)}
      </p>
    );
  const range =
    state.end_low_s == null || state.end_high_s == null ? "" : ` (${clock(began, state.end_low_s)} to ${clock(began, state.end_high_s)})`;
  return (
    <p className="run-eta">
      done at <b>{clock(began, state.end_s)}</b>
      {range} · {trimmed(state.soc * 100, 0)} % now · {movedWords(state.account.charge_ah)}
    </p>
  );
}

/** What the readings have taught of the pack. */
function Learned({ state }: { state: Schemas["RunStateDoc"] }) {
  const { fit } = state;
  if (fit.readings === 0) return null;
  return (
    <p className="muted learned">
      From {fit.readings} {fit.readings === 1 ? "reading" : "readings"}: began at {trimmed(fit.start_soc * 100, 0)} ± {trimmed(fit.start_soc_sd * 100, 0)} %,{" "}
      {trimmed(fit.resistance_mohm, 0)} ± {trimmed(fit.resistance_sd_mohm, 0)} mΩ, {trimmed(fit.capacity_ah, 2)} ± {trimmed(fit.capacity_sd_ah, 2)} Ah.{" "}
      {trimmed(fit.learned * 100, 0)} % of what was uncertain is settled.
    </p>
  );
}

function EndedNote({ document }: { document: Schemas["RunDoc"] }) {
  const how = END_OPTIONS.find(({ value }) => value === document.end)?.label;
  const parts = [
    `Ended at ${clock(document.ended_at ?? "")}${how === undefined ? "" : `, ${how}`}.`,
    document.charge_ah != null && (document.charge_ah < 0 ? `${trimmed(-document.charge_ah, 2)} Ah came out.` : `${trimmed(document.charge_ah, 2)} Ah went in.`),
    document.rest_voltage_v != null && `It rests at ${trimmed(document.rest_voltage_v, 2)} V.`,
    document.note,
    document.log_name && `Brought in from “${document.log_name}”.`,
  ];
  return <p className="run-eta">{parts.filter(Boolean).join(" ")}</p>;
}
