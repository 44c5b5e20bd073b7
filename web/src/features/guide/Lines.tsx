import known from "../../api/lines.json";
import type { Schemas } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";

const { lines } = known;

type Line = Schemas["JudgementLineDoc"];

/** A figure with the kinds it holds for, the way it is past. */
function figureWords({ past, unit }: Line, { of, value }: Line["figures"][number]): string {
  const kinds = of.length > 0 ? ` (${of.join(", ")})` : "";
  return `${past} ${trimmed(value, 3)} ${unit}${kinds}`;
}

/** Every figure Rumek judges by: where it stands, why, what it is based on, and who uses it. */
export function Lines() {
  return (
    <div className="guide-wide" role="region" aria-label="Every line, a table" tabIndex={0}>
      <table className="guide-practices">
        <thead>
          <tr>
            <th scope="col">The line, and why</th>
            <th scope="col">Figure</th>
            <th scope="col">Based on</th>
            <th scope="col">Used in</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.name} id={`line-${line.name}`}>
              <th scope="row">{line.why}</th>
              <td className="figures">
                {line.figures.map((figure) => (
                  <div key={figureWords(line, figure)}>{figureWords(line, figure)}</div>
                ))}
              </td>
              <td>{line.basis}</td>
              <td>{line.rooms.join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
