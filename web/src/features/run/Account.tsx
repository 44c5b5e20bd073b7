import { money } from "../../ui/preferences";
import type { Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";

type Row = [what: string, was: number | null | undefined, planned: number | null | undefined, shown: (value: number) => string];

const hours = (s: number) => showSeconds(s);
const units = (unit: string, digits: number) => (value: number) => `${trimmed(value, digits)} ${unit}`;

/** What the charge came to, beside what was planned; of a discharge what came out. */
export function Account({ account, way }: { account: Schemas["AccountDoc"]; way: Schemas["RunWay"] }) {
  const charge = way === "charge";
  const held = (total: number | null | undefined, to_cv: number | null | undefined) => (total == null || to_cv == null ? undefined : Math.max(0, total - to_cv));
  const turned = (value: number | null | undefined) => (value != null && way === "discharge" ? -value : value);
  const rows: Row[] = [
    ["rising to its charge voltage", charge ? account.to_cv_s : undefined, account.to_cv_predicted_s, hours],
    ["held there", charge ? held(account.total_s, account.to_cv_s) : undefined, held(account.total_predicted_s, account.to_cv_predicted_s), hours],
    ["in all", account.total_s, account.total_predicted_s, hours],
    [way === "discharge" ? "out of the pack" : "into the pack", turned(account.charge_ah), turned(account.charge_predicted_ah), units("Ah", 2)],
    ["as energy", turned(account.energy_wh), turned(account.energy_predicted_wh), units("Wh", 1)],
    ["from the wall, about", account.mains_wh, account.mains_predicted_wh, units("Wh", 1)],
    ["cost", account.cost, account.cost_predicted, money],
  ];
  const planned = rows.some(([, , plan]) => plan != null);
  return (
    <table className="account">
      <caption>What it came to</caption>
      <thead>
        <tr>
          <th scope="col" aria-label="What" />
          <th scope="col">was</th>
          {planned && <th scope="col">planned</th>}
        </tr>
      </thead>
      <tbody>
        {rows
          .filter(([, was, plan]) => was != null || plan != null)
          .map(([what, was, plan, shown]) => (
            <tr key={what}>
              <th scope="row">{what}</th>
              <td className="figures">{was == null ? "–" : shown(was)}</td>
              {planned && <td className="figures muted">{plan == null ? "–" : shown(plan)}</td>}
            </tr>
          ))}
      </tbody>
    </table>
  );
}
