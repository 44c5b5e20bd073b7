import { money, told } from "../preferences";
import { memo, type ReactNode } from "react";
import type { ResultDoc, Schemas } from "../../api/client";
import { showHours, showSeconds, trimmed } from "../quantity/parse";
import { LIMIT_WORDS } from "../words";
import { Emergency } from "./Emergency";
import { Turns } from "./Turns";
import { Wiring } from "./Wiring";
import "./bench-card.css";

interface Props {
  result: ResultDoc;
  /** Goes to where the settings are changed; absent where the card is only shown. */
  onChange?: () => void;
  /** Begins the charge; absent where the card is only shown. */
  onStart?: () => void;
  /** Whether it was computed for what stood here before the last change: it is no card to go by. */
  before?: boolean;
}

const WHEN = { before: "Before", during: "During", after: "After" } as const;

/** The one page to take along: what to dial, what to check, when it ends. */
export function BenchCard({ result, onChange, onStart, before = false }: Props) {
  const settings = result.settings;
  return (
    <section className={before ? "card dimmed before" : "card"} aria-label={before ? "Before your change" : "Bench card"}>
      <div className="card-head">
        <h2>{before ? "Before your change" : "Bench card"}</h2>
        {before && <span className="muted">not to go by</span>}
        {settings && !before && (
          <span className="card-links">
            {onChange && (
              <button type="button" className="plain-button link" onClick={onChange}>
                Set your own
              </button>
            )}
            <button
              type="button"
              className="plain-button link"
              onClick={() => {
                window.print();
              }}
            >
              Print
            </button>
            {onStart && (
              <button type="button" className="plain-button link" onClick={onStart}>
                Start
              </button>
            )}
          </span>
        )}
      </div>
      <Told result={result} />
    </section>
  );
}

/** All that the card says: drawn anew only for another answer. */
const Told = memo(function Told({ result }: { result: ResultDoc }) {
  return (
    <>
      {result.settings ? <Figures result={result} settings={result.settings} /> : <Withheld result={result} />}
      <Steps steps={result.steps} />
      <Emergency said={result.emergency} />
    </>
  );
});

const VOLTS_WORDS: Record<Schemas["VoltsMeaning"], string> = {
  dialled: "dial",
  never_past: "never past",
  watched_for: "watch for",
  reached: "it reaches",
};
const AMPS_WORDS: Record<Schemas["AmpsMeaning"], string> = { dialled: "dial", turned_up_to: "turn up to", at_most: "at most" };

const AT: Partial<Record<Schemas["Place"], string>> = { source: "on the supply", charger: "on the charger" };

function Figures({ result, settings }: { result: ResultDoc; settings: Schemas["ResultSettingsDoc"] }) {
  const own = result.resolved.settings ?? {};
  const series = result.resolved.pack?.series ?? 1;
  const differs = Math.abs(settings.expect_a - settings.current_a) > 0.005 * settings.current_a;
  // With a charger between, it matters where a figure is dialled.
  const where = (at: Schemas["Place"] | null | undefined) => (result.resolved.charger && at ? ` ${AT[at] ?? ""}` : "");
  const voltsMean = settings.voltage_means ?? "dialled";
  const ampsMean = settings.current_means ?? "dialled";
  const volts = VOLTS_WORDS[voltsMean] + (voltsMean === "dialled" ? where(settings.voltage_at) : "");
  const amps = AMPS_WORDS[ampsMean] + (ampsMean === "dialled" ? where(settings.current_at) : "");
  const trueV = off(settings.dial_voltage_v, settings.true_voltage_v) ? `true ${trimmed(settings.true_voltage_v, 2)} V · ` : "";
  const trueA = off(settings.dial_current_a, settings.current_a) ? `true ${trimmed(settings.current_a, 2)} A · ` : "";
  const source = result.resolved.source;
  const units = source?.units ?? 1;
  // Of several units each is told its own figure; of followers the leader alone is set.
  const whose = source?.wiring === "leader_follower" ? "the leader" : "each unit";
  const unitV = settings.unit_voltage_v != null && off(settings.unit_voltage_v, settings.dial_voltage_v) ? settings.unit_voltage_v : null;
  const unitA = settings.unit_current_a != null && units > 1 && off(settings.unit_current_a, settings.dial_current_a) ? settings.unit_current_a : null;
  // A switch sets no voltage: its card names the one that is watched for.
  const switched = voltsMean === "watched_for";
  const cellV = (switched ? settings.dial_voltage_v : settings.true_voltage_v) / series;
  return (
    <>
      <div className="card-figures">
        <Figure value={trimmedTo(settings.dial_voltage_v, 2)} unit="V" said={own.voltage_v != null}>
          {unitV != null && <strong>{whose} {trimmed(unitV, 2)} V · </strong>}
          {unitV != null ? "together" : volts} · {!switched && trueV}
          {series} × {trimmed(cellV, 3)} V
        </Figure>
        <Figure value={trimmedTo(settings.dial_current_a, 2)} unit="A" said={own.current_a != null}>
          {unitA != null && <strong>{whose} {trimmed(unitA, 2)} A · </strong>}
          {unitA != null ? "together" : amps} · {trueA}
          {settings.current_limited_by === "lead" && "all that the lead and its fuse carry · "}
          {differs ? <strong>expect {trimmed(settings.expect_a, 2)} A</strong> : `expect ${trimmed(settings.expect_a, 2)} A`}
        </Figure>
      </div>
      <dl className="card-ends">
        {settings.source_voltage_v != null && <End term="supply at">{trimmed(settings.source_voltage_v, 2)} V</End>}
        {settings.input_limit_a != null && (
          <End term="input limit">
            {trimmed(settings.input_limit_a, 1)} A{settings.input_limited_by && <span className="muted"> · for the {LIMIT_WORDS[settings.input_limited_by]}</span>}
          </End>
        )}
        {settings.stop_current_a != null && <End term="stop at">{trimmed(settings.stop_current_a, 3)} A{result.resolved.load != null && " into the pack"}, falling</End>}
        {settings.stop_charge_ah != null && <End term="stop after">{trimmed(settings.stop_charge_ah, 2)} Ah in</End>}
        {settings.stop_voltage_v != null && <End term="stop at">{trimmed(settings.stop_voltage_v, 2)} V</End>}
        {settings.absorption_limit_h != null && <End term="held at most">{showHours(settings.absorption_limit_h)}</End>}
        {settings.time_limit_h != null && <End term="at most">{showHours(settings.time_limit_h)}</End>}
        {result.time.total_s != null && <End term="takes about">{timeSpan(result.time)}</End>}
        {result.end.soc_low != null && result.end.soc_high != null && (
          <End term="ends at">
            {trimmed(result.end.soc_low * 100, 0)} to {trimmed(result.end.soc_high * 100, 0)} %
          </End>
        )}
        {result.time.total_s == null && result.end.after_s > 0 && <End term="until then">{showSeconds(result.end.after_s)}</End>}
        <End term="goes in">
          {trimmed(result.delivered.charge_ah, 2)} Ah · {trimmed(result.delivered.energy_wh, 1)} Wh
        </End>
        {result.delivered.cost != null && <End term="costs">{money(result.delivered.cost)}</End>}
        {settings.float_voltage_v != null && <End term="then float at">{trimmed(settings.float_voltage_v, 2)} V</End>}
      </dl>
      <Wiring resolved={result.resolved} />
      <Turns nudges={result.nudges} />
    </>
  );
}

/** Whether a display is off by as much as can be dialled. */
const off = (shown: number, real: number) => Math.abs(shown - real) >= 0.005;

const trimmedTo = (value: number, places: number) => value.toFixed(places);

/** A time with the shortest and longest it may be. */
function timeSpan(time: Schemas["TimeDoc"]): string {
  const total = showSeconds(time.total_s ?? 0);
  const range = timeRange(time);
  return range === total ? total : `${total} (${range})`;
}

function timeRange(time: Schemas["TimeDoc"]): string {
  const [low, high] = [time.total_low_s, time.total_high_s].map((seconds) => showSeconds(seconds ?? time.total_s ?? 0));
  return low === high ? (low ?? "") : `${low} to ${high}`;
}

interface FigureProps {
  value: string;
  unit: string;
  said: boolean;
  children: ReactNode;
}

function Figure({ value, unit, said, children }: FigureProps) {
  return (
    <div className="card-figure">
      <p className="figures">
        <span className="card-number">{value}</span> <span className="card-unit">{unit}</span>
      </p>
      <p className="muted">
        {children}
        {said && <em> · you set this</em>}
      </p>
    </div>
  );
}

function End({ term, children }: { term: string; children: ReactNode }) {
  return (
    <div>
      <dt>{term}</dt>
      <dd>{children}</dd>
    </div>
  );
}

function Withheld({ result }: { result: ResultDoc }) {
  const stops = result.checks.filter((check) => check.severity === "stop" && !check.accepted).length;
  if (stops === 0 && result.resolved.load != null) return <Running result={result} />;
  if (stops === 0) {
    return (
      <p className="card-withheld">
        <strong>Nothing to set.</strong> {told(result.verdict ?? "The pack holds as much as you want already.")}
      </p>
    );
  }
  return (
    <p className="card-withheld">
      <strong>No settings.</strong> {stops === 1 ? "A stop stands" : `${stops} stops stand`} under Checks. Rumek gives settings once{" "}
      {stops === 1 ? "it is" : "they are"} resolved.
    </p>
  );
}

/** A pack on its load: how long, how much, how hard. */
function Running({ result }: { result: ResultDoc }) {
  const { delivered, start, end } = result;
  return (
    <>
      <div className="card-figures">
        <Figure value={showSeconds(end.after_s)} unit="" said={false}>
          from {trimmed(start.soc * 100, 0)} % to {trimmed(end.soc * 100, 0)} %
        </Figure>
      </div>
      <dl className="card-ends">
        <End term="gives">
          {trimmed(Math.abs(delivered.charge_ah), 2)} Ah · {trimmed(Math.abs(delivered.energy_wh), 1)} Wh
        </End>
        <End term="at">{trimmed(Math.abs(start.c_rate), 2)}C at first</End>
        {result.time.total_low_s != null && <End term="likely">{timeRange(result.time)}</End>}
      </dl>
      <p className="card-note">Nothing is charged in this plan: the pack runs its load.</p>
    </>
  );
}

function Steps({ steps }: { steps: Schemas["StepDoc"][] }) {
  const phases = (["before", "during", "after"] as const).map((when) => {
    const inside = steps.filter((step) => step.when === when);
    return { when, inside, first: steps.findIndex((step) => step.when === when) + 1 };
  });
  return (
    <>
      {phases
        .filter(({ inside }) => inside.length > 0)
        .map(({ when, inside, first }) => (
          <div key={when} className="card-phase">
            <h3>{WHEN[when]}</h3>
            <ol start={first}>
              {inside.map((step) => (
                <li key={step.code + step.message}>
                  <span className="tick-box" aria-hidden="true" />
                  {told(step.message)}
                </li>
              ))}
            </ol>
          </div>
        ))}
    </>
  );
}
