import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { memo } from "react";
import type { CurvePoint, ResultDoc } from "../../api/client";
import { momentAt } from "../../ui/chart/moment";
import { showSeconds, trimmed } from "../../ui/quantity/parse";

/** Where turns of a knob fill the page there is less room: the curve stands beside the rows. */
const SIZES = { full: { width: 680, height: 96 }, short: { width: 330, height: 84 } };
const LEFT = 44;
const BELOW = 16;
/** When a reading is worth writing down, as shares of the whole. */
const LOOKS = { full: [0, 0.25, 0.5, 0.75, 1], short: [0, 0.5, 1] };
const MANY_TURNS = 6;

/** On paper only: the curve small, and a row for each reading with what is expected and room for what is read. */
export const PrintRun = memo(function PrintRun({ result }: { result: ResultDoc }) {
  const { curve } = result;
  const end_s = curve.at(-1)?.t_s ?? 0;
  if (curve.length < 2 || !result.settings) return null;
  const room = result.nudges.length > MANY_TURNS ? "short" : "full";
  const { width, height } = SIZES[room];
  const volts = curve.map((p) => p.pack_v);
  const amps = curve.map((p) => p.current_a);
  const x = scaleLinear([0, end_s], [LEFT, width - LEFT]);
  const yV = scaleLinear([Math.min(...volts), Math.max(...volts, Math.min(...volts) + 0.1)], [height - BELOW, 4]);
  const yA = scaleLinear([0, Math.max(...amps, 0.1)], [height - BELOW, 4]);
  const drawn = (y: (p: CurvePoint) => number) => line<CurvePoint>().x((p) => x(p.t_s)).y(y)(curve) ?? "";
  const looks = LOOKS[room].flatMap((share) => {
    const at = momentAt(curve, share * end_s);
    return at ? [{ t_s: share * end_s, at }] : [];
  });
  return (
    <section className={room === "short" ? "print-run beside" : "print-run"} aria-hidden="true">
      <svg viewBox={`0 0 ${width} ${height}`}>
        <path className="print-volts" d={drawn((p) => yV(p.pack_v))} />
        <path className="print-amps" d={drawn((p) => yA(p.current_a))} />
        {yV.domain().map((v) => (
          <text key={v} x={LEFT - 4} y={yV(v)} dy="0.32em" textAnchor="end">
            {trimmed(v, 2)} V
          </text>
        ))}
        {yA.domain().map((a) => (
          <text key={a} x={width - LEFT + 4} y={yA(a)} dy="0.32em">
            {trimmed(a, 1)} A
          </text>
        ))}
        {looks.map(({ t_s }) => (
          <text key={t_s} x={x(t_s)} y={height - 3} textAnchor="middle">
            {showSeconds(t_s)}
          </text>
        ))}
      </svg>
      <table>
        <thead>
          <tr>
            <th>After</th>
            <th>Expect</th>
            <th>Clock</th>
            <th>Volts</th>
            <th>Amps</th>
            <th>Warmth</th>
            <th>Note</th>
          </tr>
        </thead>
        <tbody>
          {looks.map(({ t_s, at }) => (
            <tr key={t_s}>
              <td>{showSeconds(t_s)}</td>
              <td>
                {trimmed(at.pack_v, 2)} V, {trimmed(at.current_a, 2)} A
              </td>
              <td />
              <td />
              <td />
              <td />
              <td />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
});
