import { told } from "../../ui/preferences";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Drawer } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, type PackDoc, type PlanDoc, type Schemas, type TestDoc } from "../../api/client";
import { useRows } from "../../api/shelves";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { explain } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { startWith } from "../run/starting";
import { TestEntry } from "./TestEntry";

type By = Schemas["DischargeBy"];

interface Props {
  open: boolean;
  pack: { id: string; version: number; document: PackDoc };
  charge: Schemas["StandingDoc"]["charge"];
  onClose: () => void;
}

const BY = [
  { value: "charger", label: "the charger’s own discharger" },
  { value: "electronic_load", label: "an electronic load" },
  { value: "resistor", label: "a resistor" },
  { value: "lamp", label: "lamps" },
  { value: "source", label: "back into the battery that feeds it" },
] as const satisfies readonly { value: By; label: string }[];

const AFTER = [
  { value: "storage", label: "up to storage" },
  { value: "full", label: "full again" },
  { value: "none", label: "nothing" },
] as const satisfies readonly { value: Schemas["AfterTest"]; label: string }[];

const PHASE_WORDS = { charge: "Charge", rest: "Rest", discharge: "Discharge" } as const;
const PLACE_WORDS: Record<Schemas["TestPlace"], string> = {
  source: "What feeds it",
  charger: "Charger",
  leads: "Leads",
  pack: "Pack",
  sink: "What takes it",
};

/** A capacity test planned for a pack: what takes it down, how long, how hot, and what it should give. */
export function TestPlan({ open, pack, charge, onClose }: Props) {
  const navigate = useNavigate();
  const supplies = useRows("supplies").data ?? [];
  const chargers = useRows("chargers").data ?? [];
  const [by, setBy] = useState<By>("electronic_load");
  const [after, setAfter] = useState<Schemas["AfterTest"]>("none");
  const [full, setFull] = useState<"yes" | "no">((charge?.low ?? 0) > 0.95 ? "yes" : "no");
  const [supply, setSupply] = useState<string>();
  const [charger, setCharger] = useState<string>();
  const [discharge, setDischarge] = useState<Omit<TestDoc["discharge"] & object, "by">>({});
  const source = supplies.find(({ id }) => id === supply)?.document;
  const gear = chargers.find(({ id }) => id === charger)?.document;
  const ask: TestDoc = {
    format: "rumek.test/1",
    pack: { ...pack.document, packs_in_parallel: 1, start: { soc: full === "yes" ? 1 : (charge?.soc ?? 0.2) } },
    ...(source ? { source } : {}),
    ...(gear ? { charger: gear } : {}),
    discharge: { ...discharge, by },
    after,
  };
  const planned = useQuery({
    queryKey: ["test", ask],
    enabled: open,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered(api.POST("/api/test", { body: ask, signal })),
  });
  const set = (field: keyof typeof discharge) => (value: number | undefined) => {
    setDischarge((before) => {
      const next = { ...before };
      if (value === undefined) Reflect.deleteProperty(next, field);
      else next[field] = value;
      return next;
    });
  };
  const quantity = (field: keyof typeof discharge, label: string, kind: Parameters<typeof QuantityInput>[0]["kind"], assumed?: number | null) => (
    <QuantityInput label={label} kind={kind} value={discharge[field]} assumed={assumed ?? undefined} onChange={set(field)} />
  );
  const holds = by === "charger" || by === "electronic_load" || by === "source";
  const resolved = planned.data?.resolved.discharge;
  const named = (rows: readonly { id: string; document: { name?: string | null } }[]) => rows.map(({ id, document }) => ({ value: id, label: document.name ?? "unnamed" }));
  return (
    <Drawer title="A capacity test" size={720} open={open} onClose={onClose} getContainer={overlays}>
      <p>From full to empty once, at a steady current: what comes out is what the pack holds.</p>
      <div className="fields">
        <ChoiceInput label="It is full" value={full} options={[{ value: "yes", label: "yes" }, { value: "no", label: "no: charge it first" }]} onChange={(next) => { if (next) setFull(next); }} />
        <ChoiceInput<By> label="Discharged by" value={by} options={BY} onChange={(next) => { if (next) setBy(next); }} />
        <ChoiceInput label="Afterwards" value={after} options={AFTER} onChange={(next) => { if (next) setAfter(next); }} />
        <ChoiceInput label="Fed by" clearable value={supply} options={named(supplies)} onChange={setSupply} />
        <ChoiceInput label="Charger" clearable value={charger} options={named(chargers)} onChange={setCharger} />
        {holds && quantity("current_a", "Discharge current", "current")}
        {holds && quantity("max_w", "takes at most", "power", by === "electronic_load" ? undefined : gear?.discharge_max_w)}
        {by === "resistor" && quantity("resistance_ohm", "Resistance, Ω", "number")}
        {by === "resistor" && quantity("rated_w", "made for", "power")}
        {by === "lamp" && quantity("lamp_rated_v", "One lamp, volts", "voltage")}
        {by === "lamp" && quantity("lamp_rated_w", "One lamp, watts", "power")}
        {by === "lamp" && quantity("lamps_in_parallel", "Lamps side by side", "count")}
        {quantity("to_v_per_cell", "Down to, a cell", "voltage", resolved?.to_v_per_cell)}
      </div>
      {planned.isError && (
        <p className="field-problem" role="alert">
          {explain(planned.error)}
        </p>
      )}
      {planned.data && !planned.isError && <Planned result={planned.data} />}
      {planned.data && !planned.isError && planned.data.phases.length > 0 && (
        <p className="test-start">
          {full === "yes" ? (
            <Button
              type="primary"
              onClick={() => {
                startWith(dischargeOf(planned.data.resolved), { pack: { id: pack.id, version: pack.version } }, planned.data.resolved.discharge ?? undefined);
                void navigate("/run");
              }}
            >
              Start the discharge
            </Button>
          ) : (
            <span className="muted">Charge it full first, from a plan; then the discharge is started here.</span>
          )}
        </p>
      )}
      <h3>What it gave</h3>
      <TestEntry pack={pack} />
    </Drawer>
  );
}

/** The plan of a test's discharge: its pack and what takes it, no charge. */
function dischargeOf({ pack, source, charger, leads, ambient_c }: TestDoc): PlanDoc {
  return {
    format: "rumek.plan/1",
    name: `${pack?.name ?? "A pack"}: capacity test`,
    ...(pack && { pack }),
    ...(source && { source }),
    ...(charger && { charger }),
    ...(leads && { leads }),
    ...(ambient_c != null && { ambient_c }),
  };
}

function Planned({ result }: { result: Schemas["TestResultDoc"] }) {
  const { phases, checks, steps, ledger, total_s, total_low_s, total_high_s, expected_ah, worn_below_ah, retire_below_ah, cycles_possible, cycle_costs_wh, held_up_by_w } = result;
  return (
    <div className="test-planned">
      {total_s != null && (
        <p className="test-sum" role="status">
          <strong>{showSeconds(total_s)}</strong> in all ({showSeconds(total_low_s ?? total_s)} to {showSeconds(total_high_s ?? total_s)})
          {expected_ah != null && `. As good as its label it gives ${trimmed(expected_ah, 2)} Ah; under ${trimmed(worn_below_ah ?? 0, 2)} Ah it is worn, under ${trimmed(retire_below_ah ?? 0, 2)} Ah to be retired`}
          {cycles_possible != null && `. The battery that feeds it pays ${cycles_possible} such ${cycles_possible === 1 ? "cycle" : "cycles"}`}
          {cycle_costs_wh != null && `, ${trimmed(cycle_costs_wh, 1)} Wh each`}
          {held_up_by_w != null && `; ${trimmed(held_up_by_w, 1)} W hold it up`}.
        </p>
      )}
      <ul className="test-checks">
        {checks.map(({ code, severity, message }) => (
          <li key={code + message} className={`test-${severity}`}>
            <strong>{severity}</strong> {told(message)}
          </li>
        ))}
      </ul>
      {phases.length > 0 && (
        <table>
          <thead>
            <tr>
              <th scope="col">Phase</th>
              <th scope="col">Takes</th>
              <th scope="col">Up to</th>
              <th scope="col">Ah</th>
              <th scope="col">Wh</th>
              <th scope="col">Heat</th>
              <th scope="col">Ends at</th>
            </tr>
          </thead>
          <tbody>
            {phases.map((phase, n) => (
              <tr key={n}>
                <th scope="row">{PHASE_WORDS[phase.kind]}</th>
                <td>{showSeconds(phase.to_s - phase.from_s)}</td>
                <td className="figures">{phase.kind === "rest" ? "" : `${trimmed(phase.current_a, 2)} A`}</td>
                <td className="figures">{phase.kind === "rest" ? "" : trimmed(phase.charge_ah, 2)}</td>
                <td className="figures">{phase.kind === "rest" ? "" : trimmed(phase.energy_wh, 1)}</td>
                <td className="figures">{phase.kind === "discharge" ? `${trimmed(phase.heat_w, 1)} W` : ""}</td>
                <td className="figures">{trimmed(phase.end_v, 2)} V</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {ledger.length > 0 && (
        <details>
          <summary>Where the energy goes</summary>
          <table>
            <thead>
              <tr>
                <th scope="col">Wh</th>
                <th scope="col">in</th>
                <th scope="col">out</th>
                <th scope="col">heat</th>
                <th scope="col">kept</th>
              </tr>
            </thead>
            <tbody>
              {ledger.map((row) => (
                <tr key={row.at}>
                  <th scope="row">{PLACE_WORDS[row.at]}</th>
                  <td className="figures">{trimmed(row.in_wh, 1)}</td>
                  <td className="figures">{trimmed(row.out_wh, 1)}</td>
                  <td className="figures">{trimmed(row.heat_wh, 1)}</td>
                  <td className="figures">{trimmed(row.stored_wh, 1)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
      {steps.length > 0 && (
        <ol className="test-steps">
          {steps.map(({ phase, message }, n) => (
            <li key={n}>
              {n === 0 || steps[n - 1]?.phase !== phase ? <strong>{PHASE_WORDS[phases[phase]?.kind ?? "rest"]}. </strong> : null}
              {told(message)}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}
