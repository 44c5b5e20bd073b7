import { useQuery } from "@tanstack/react-query";
import { Drawer } from "antd";
import { useState } from "react";
import { answered, api, type PlanDoc, type SizingDoc } from "../../api/client";
import { explain } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { LIMIT_WORDS } from "../../ui/words";
import { byMark } from "../../api/marks";

interface Props {
  plan: PlanDoc;
  /** Its pack on the shelf. */
  pack: { id: string } | null | undefined;
  onClose: () => void;
}

/** The reverse questions of a plan: how big, how many, how thick. */
export function SizingDrawer({ plan, pack, onClose }: Props) {
  const [hours, setHours] = useState<number | undefined>(0.75);
  const [length_m, setLength] = useState<number>();
  const ask = { plan, done_in_min: hours === undefined ? null : hours * 60, length_m: length_m ?? null };
  const sizing = useQuery({
    queryKey: ["sizing", ask, pack?.id],
    networkMode: "always",
    retry: false,
    queryFn: ({ signal }) => answered(api.POST("/api/sizing", { params: { query: byMark(pack) }, body: ask, signal })),
    placeholderData: (previous) => previous,
  });
  return (
    <Drawer title="How big, how many, how thick?" size={560} open onClose={onClose} getContainer={overlays}>
      <div className="fields">
        <QuantityInput label="To be done in" kind="hours" value={hours} onChange={setHours} />
        <QuantityInput label="Leads, one way" kind="length" value={length_m} onChange={setLength} />
      </div>
      {sizing.isError && (
        <p className="trouble" role="alert">
          {explain(sizing.error)}
        </p>
      )}
      {sizing.data && <Answers sizing={sizing.data} dimmed={sizing.isPlaceholderData} />}
    </Drawer>
  );
}

function Answers({ sizing, dimmed }: { sizing: SizingDoc; dimmed: boolean }) {
  return (
    <div className={dimmed ? "sizing dimmed" : "sizing"}>
      {sizing.done_in && (
        <section>
          <h3>A supply and charger big enough</h3>
          <p>{sizing.done_in.message}</p>
        </section>
      )}
      {sizing.packs.length > 0 && (
        <section>
          <h3>Packs at once</h3>
          <p>{sizing.packs_message ?? "Not with this chain: a stop stands."}</p>
          <table>
            <thead>
              <tr>
                <th scope="col">Packs</th>
                <th scope="col">All full in</th>
                <th scope="col">Into each</th>
                <th scope="col">Held by the</th>
              </tr>
            </thead>
            <tbody className="figures">
              {sizing.packs.map((row) => (
                <tr key={row.packs}>
                  <td>{row.packs}</td>
                  <td>{row.refused ? "stopped" : row.total_s == null ? "never" : showSeconds(row.total_s)}</td>
                  <td>{trimmed(row.each_a, 2)} A</td>
                  <td>{LIMIT_WORDS[row.limit]}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {sizing.wires.length > 0 && (
        <section>
          <h3>Wire and fuse</h3>
          {sizing.wires.map((wire) => (
            <p key={wire.at}>{wire.message}</p>
          ))}
        </section>
      )}
      {sizing.field_battery && (
        <section>
          <h3>Charges in the battery</h3>
          <p>{sizing.field_battery.message}</p>
        </section>
      )}
    </div>
  );
}
