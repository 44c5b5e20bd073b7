import { degrees } from "../../ui/preferences";
import { Button } from "antd";
import { useState } from "react";
import type { RescueStageDoc, Schemas } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";
import { clock, clockWords } from "../../ui/clock";
import { type Case, decideAnew, endStage, readingsOf, takeBack, woke } from "./case";
import { CorridorChart } from "./CorridorChart";
import { Known } from "./Known";
import { ReadingForm } from "./ReadingForm";
import { ceilings, StageDetails } from "./StagePlan";
import { useNow } from "../../ui/useNow";
import { useJudgement } from "./useRescue";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { STAGE_WORDS } from "./words";

interface Props {
  one: Case;
  stage: RescueStageDoc;
}

/** A stage being carried out: how long it has been, what the readings mean, what to do next. */
export function StageRun({ one, stage }: Props) {
  const now = useNow();
  const began = one.document.stage_started_at ?? now.toISOString();
  const now_s = Math.max(0, (now.getTime() - Date.parse(began)) / 1000);
  const said = useJudgement(one, now_s).data;
  const kept = readingsOf(one.document);
  const due = said?.next_look_s != null && said.next_look_s <= now_s;
  return (
    <section className="run" aria-label={`Under way: ${STAGE_WORDS[stage.kind]}`}>
      <div className="run-head">
        <h2>{STAGE_WORDS[stage.kind]}</h2>
        <p className="run-clock figures" role="timer" aria-label="Since it began">
          {clockWords(now_s)}
        </p>
        <p className="muted">
          since {clock(began, 0)}
          {stage.max_s != null && `, until ${clock(began, stage.max_s)} at most`}
        </p>
      </div>
      {ceilings(stage) && (
        <p className="run-ceilings">
          never above <b className="figures">{ceilings(stage)}</b>
        </p>
      )}
      <div className={`judged ${said?.state ?? "waiting"}`} role="status" aria-live="polite">
        <p className="judged-word">{said?.message ?? "Asking…"}</p>
        {said?.state === "slow" && said.until_s != null && <p>Give it until {clock(began, said.until_s)}.</p>}
        {said?.next_look_s != null && (
          <p className={due ? "look due" : "look"}>{due ? "Look now." : `Look again at ${clock(began, said.next_look_s)}.`}</p>
        )}
      </div>
      <div className="run-actions">
        {said?.ways.map(({ to }) => (
          <Button
            key={to ?? "end"}
            type={said.state === "slow" ? "default" : "primary"}
            danger={said.state === "abort"}
            onClick={() => {
              if (to === "inspect") decideAnew(kept.at(-1)?.reading ?? {}, said.message, new Date());
              else endStage({ state: said.state, message: said.message }, to ?? undefined, new Date());
            }}
          >
            {wayWords(said.state, to ?? undefined)}
          </Button>
        ))}
      </div>
      {said?.state === "reached" && stage.kind === "wake" && <Woken />}
      {said?.state !== "abort" && !(said?.state === "reached" && stage.kind === "wake") && <ReadingForm key={kept.length} one={one} stage={stage} />}
      {kept.length === 0 && <StageDetails stage={stage} />}
      {stage.curve.length > 0 && <CorridorChart stage={stage} readings={kept.map(({ reading }) => reading ?? {})} now_s={now_s} />}
      {kept.length > 0 && (
        <ul className="readings" aria-label="Readings">
          {[...kept].reverse().map(({ at, reading }) => (
            <li key={at} className="figures">
              <span>{clockWords(reading?.t_s ?? 0)}</span>
              <span>{readingWords(reading ?? {})}</span>
              <button
                type="button"
                className="plain-button known-again"
                aria-label={`Take back the reading at ${clockWords(reading?.t_s ?? 0)}`}
                onClick={() => {
                  takeBack(at ?? "");
                }}
              >
                take back
              </button>
            </li>
          ))}
        </ul>
      )}
      {kept.length > 0 && <StageDetails stage={stage} />}
      <Button
        className="run-break"
        size="small"
        type="text"
        onClick={() => {
          endStage({ state: "waiting", message: "Broken off." }, undefined, new Date());
        }}
      >
        Break it off
      </Button>
      <Known one={one} fixed />
    </section>
  );
}

function wayWords(state: Schemas["JudgeState"], to: Schemas["RescueStageKind"] | undefined): string {
  if (state === "abort") return "It is unplugged";
  if (!to) return "It is done";
  if (to === "inspect") return "Decide anew with these readings";
  return state === "slow" ? `Back: ${STAGE_WORDS[to].toLowerCase()}` : `Go on: ${STAGE_WORDS[to].toLowerCase()}`;
}

/** A board that has woken: what the terminals read decides how it goes on. */
function Woken() {
  const [volts, setVolts] = useState<number>();
  return (
    <form
      className="ask-line"
      onSubmit={(event) => {
        event.preventDefault();
        if (volts !== undefined) woke(volts, new Date());
      }}
    >
      <QuantityInput label="Terminals, supply parted" kind="voltage" value={volts} onChange={setVolts} />
      <Button type="primary" htmlType="submit" disabled={volts === undefined}>
        Go on with this
      </Button>
    </form>
  );
}

export function readingWords(reading: NonNullable<ReturnType<typeof readingsOf>[number]["reading"]>): string {
  const parts = [
    reading.terminal_v != null && `${trimmed(reading.terminal_v, 3)} V`,
    reading.current_a != null && `${trimmed(reading.current_a, 3)} A`,
    reading.temperature_c != null && degrees(reading.temperature_c),
    reading.cell_voltages_v && `cells ${reading.cell_voltages_v.map((v) => trimmed(v, 3)).join(" ")} V`,
    reading.capacity_ah != null && `${trimmed(reading.capacity_ah, 3)} Ah`,
    reading.alarm && "swelling, smell, hiss or smoke",
  ];
  return parts.filter(Boolean).join(" · ");
}
