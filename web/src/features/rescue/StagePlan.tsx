import { told } from "../../ui/preferences";
import { Button } from "antd";
import type { RescueResultDoc, RescueStageDoc } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { begin, type Case } from "./case";
import { CorridorChart } from "./CorridorChart";
import { STAGE_WORDS } from "./words";

/** What is to be done, in order, before anything is begun. */
export function StagePlan({ one, result }: { one: Case; result: RescueResultDoc }) {
  const [first] = result.stages;
  if (!first) return null;
  const unfit = result.gear?.fits === false;
  const ready = result.ask.length === 0 && first.kind !== "inspect" && !unfit && one.document.outcome == null;
  return (
    <section className="stage-plan" aria-label="The stages">
      <div className="stage-plan-head">
        <h2>The stages</h2>
        {ready && (
          <Button
            type="primary"
            onClick={() => {
              begin(first.kind, new Date());
            }}
          >
            Begin: {STAGE_WORDS[first.kind].toLowerCase()}
          </Button>
        )}
        {unfit && first.kind !== "inspect" && <p className="muted">Begin once there is gear that does.</p>}
      </div>
      <ol className="stage-list">
        {result.stages.map((stage, k) => (
          <li key={stage.kind}>
            <StageOutline stage={stage} n={k + 1} />
          </li>
        ))}
      </ol>
    </section>
  );
}

/** One stage as it is planned. */
function StageOutline({ stage, n }: { stage: RescueStageDoc; n: number }) {
  return (
    <>
      <h3>
        <span className="stage-n figures" aria-hidden="true">
          {n}
        </span>{" "}
        {STAGE_WORDS[stage.kind]} <span className="stage-times muted">{stageTimes(stage)}</span>
      </h3>
      <p>{told(stage.message)}</p>
      {stage.curve.length > 0 && <CorridorChart stage={stage} readings={[]} />}
      <details>
        <summary>How, and when to stop</summary>
        <StageDetails stage={stage} />
      </details>
    </>
  );
}

export function StageDetails({ stage }: { stage: RescueStageDoc }) {
  return (
    <>
      <ol className="stage-steps">
        {stage.steps.map((step) => (
          <li key={step}>{told(step)}</li>
        ))}
      </ol>
      {stage.abort_if.length > 0 && (
        <>
          <h4>Stop at once if</h4>
          <ul className="stage-aborts">
            {stage.abort_if.map((abort) => (
              <li key={abort.code + abort.message}>{told(abort.message)}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** How long a stage takes, in words. */
function stageTimes(stage: RescueStageDoc): string {
  const likely = stage.expected_s == null ? undefined : stage.expected_s < 60 ? "seconds" : `about ${showSeconds(stage.expected_s)}`;
  const most = stage.max_s == null ? undefined : `at most ${showSeconds(stage.max_s)}`;
  return [likely, most].filter(Boolean).join(", ");
}

/** A stage's ceilings, the way they are set. */
export function ceilings(stage: RescueStageDoc): string {
  const volts = stage.voltage_v == null ? undefined : `${trimmed(stage.voltage_v, 2)} V`;
  const amps = stage.current_a == null ? undefined : `${trimmed(stage.current_a, 3)} A`;
  return [volts, amps].filter(Boolean).join(" · ");
}
