import { money, told } from "../../ui/preferences";
import { Button } from "antd";
import type { ResultDoc } from "../../api/client";
import { explain } from "../../ui/feedback";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { summary } from "../plan/Summary";
import type { Chain } from "./chain";

interface Props {
  chain: Chain;
  /** Which line in the chart is its own. */
  mark: number;
  result: ResultDoc | undefined;
  error: Error | null | undefined;
  /** What it is compared with; absent for the first. */
  first: ResultDoc | undefined;
  onTake: (() => void) | undefined;
}

/** One chain: how long, how dear, how hot, what to mind. */
export function Column({ chain, mark, result, error, first, onTake }: Props) {
  return (
    <article className="compare-column">
      <h2>
        <svg className="compare-key" viewBox="0 0 30 8" aria-hidden="true">
          <path className={`line-${mark}`} d="M0,4 H30" />
        </svg>
        {chain.name}
      </h2>
      {error && (
        <p className="trouble" role="alert">
          {explain(error)}
        </p>
      )}
      {result && <Figures result={result} first={first} />}
      {onTake && (
        <Button size="small" onClick={onTake}>
          Plan with this chain
        </Button>
      )}
    </article>
  );
}

function Figures({ result, first }: { result: ResultDoc; first: ResultDoc | undefined }) {
  const { time, delivered } = result;
  const chain = result.stages.filter((stage) => stage.at !== "pack" && stage.at !== "load").map((stage) => stage.label);
  const grave = result.checks.filter((check) => check.severity !== "note");
  return (
    <>
      <p className="muted">{chain.join(" → ")}</p>
      <p className="compare-summary">{summary(result).join(" · ")}</p>
      {result.settings && <dl className="compare-figures">
        <Figure term="Time" value={time.total_s} first={first?.time.total_s} show={showSeconds} />
        <Figure term="Out of the supply" value={delivered.source_wh} first={first?.delivered.source_wh} show={(wh) => `${trimmed(wh, 0)} Wh`} />
        <Figure term="From the wall" value={delivered.mains_wh || null} first={first?.delivered.mains_wh} show={(wh) => `${trimmed(wh, 0)} Wh`} />
        <Figure term="Heat" value={delivered.heat_wh} first={first?.delivered.heat_wh} show={(wh) => `${trimmed(wh, 1)} Wh`} />
        <Figure term="Cost" value={delivered.cost} first={first?.delivered.cost} show={money} />
      </dl>}
      {result.verdict && <p>{told(result.verdict)}</p>}
      <ul className="compare-checks">
        {grave.map((check) => (
          <li key={check.code + check.at} className={check.severity}>
            <strong>{check.severity}:</strong> {told(check.message)}
          </li>
        ))}
        {grave.length === 0 && <li className="muted">No stop, no caution.</li>}
      </ul>
    </>
  );
}

interface FigureProps {
  term: string;
  value: number | null | undefined;
  first: number | null | undefined;
  show: (value: number) => string;
}

/** A figure, and how much more or less it is than the first chain's. */
function Figure({ term, value, first, show }: FigureProps) {
  if (value == null) return null;
  const more = first == null ? 0 : value - first;
  const small = first == null || Math.abs(more) < 0.005 * Math.max(Math.abs(first), 1e-9);
  return (
    <div>
      <dt>{term}</dt>
      <dd className="figures">
        {show(value)} {!small && <span className="muted">({more > 0 ? "+" : "−"}{show(Math.abs(more))})</span>}
      </dd>
    </div>
  );
}
