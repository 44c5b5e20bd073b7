import type { CurvePoint } from "../../api/client";
import { showSeconds, trimmed } from "../quantity/parse";
import { LIMIT_WORDS } from "../words";

/** The curve in rows, for who would rather read or hear it. */
export function CurveTable({ curve }: { curve: CurvePoint[] }) {
  return (
    <div className="curve-table" tabIndex={0} role="region" aria-label="Charge curve as a table">
      <table className="figures">
        <thead>
          <tr>
            {["Time", "Volts", "Amps", "Watts", "SoC", "Limited by"].map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {curve.map((point) => (
            <tr key={point.t_s}>
              <td>{showSeconds(point.t_s)}</td>
              <td>{trimmed(point.pack_v, 3)}</td>
              <td>{trimmed(point.current_a, 3)}</td>
              <td>{trimmed(point.power_w, 1)}</td>
              <td>{trimmed(point.soc * 100, 1)} %</td>
              <td>{LIMIT_WORDS[point.limit]}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
