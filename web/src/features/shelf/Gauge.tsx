import { useQuery } from "@tanstack/react-query";
import { Input } from "antd";
import { useDeferredValue, useId, useState } from "react";
import { answered, api, type PackDoc, type Schemas } from "../../api/client";
import { explain } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";
import { percent, spanWords } from "./standingWords";

const span = ({ value, low, high }: Schemas["SpanDoc"]) => spanWords(value, low, high, percent);

/** What a bar gauge by volts means for this pack. */
export function Gauge({ pack }: { pack: PackDoc }) {
  const id = useId();
  const [text, setText] = useState("");
  const volts = useDeferredValue(text)
    .split(/[;\s]+/)
    .map((word) => Number(word.replace(",", ".").replace(/v$/i, "")))
    .filter((v) => Number.isFinite(v) && v > 0);
  const meant = useQuery({
    queryKey: ["gauge", pack, volts],
    enabled: volts.length > 0,
    queryFn: ({ signal }) => answered(api.POST("/api/gauge", { body: { pack, thresholds_v: volts }, signal })),
  });
  return (
    <details className="pack-gauge">
      <summary>What does its bar gauge mean?</summary>
      <label htmlFor={id}>The volts from which each block is lit, as its leaflet says or as you saw them:</label>
      <Input id={id} size="small" variant="underlined" className="figures" placeholder="such as 11.1 11.6 12.1 12.5" autoComplete="off" value={text} onChange={(event) => { setText(event.target.value); }} />
      {meant.isError && volts.length > 0 && <p className="field-problem" role="alert">{explain(meant.error)}</p>}
      {meant.data && volts.length > 0 && (
        <>
          <table>
            <thead>
              <tr>
                <th scope="col">From</th>
                <th scope="col">it shows</th>
                <th scope="col">at rest</th>
                <th scope="col">under a load</th>
                <th scope="col">while charging</th>
              </tr>
            </thead>
            <tbody>
              {meant.data.marks.map((mark) => (
                <tr key={mark.voltage_v}>
                  <th scope="row" className="figures">{trimmed(mark.voltage_v, 2)} V</th>
                  <td>{percent(mark.takes_it_for)}</td>
                  <td>{span(mark.at_rest)}</td>
                  <td>{span(mark.under_load)}</td>
                  <td>{span(mark.charging)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {meant.data.says.map((say) => (
            <p key={say}>{say}</p>
          ))}
        </>
      )}
    </details>
  );
}
