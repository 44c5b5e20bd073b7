import { degrees, told } from "../../ui/preferences";
import { Button, Checkbox } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ProblemError, type Schemas } from "../../api/client";
import { useSave } from "../../api/shelves";
import { atServer } from "../../api/time";
import { newId } from "../../api/id";
import { explain, useFeedback } from "../../ui/feedback";
import { VoltagesField } from "../../ui/documents/fields";
import { withValue } from "../../ui/documents/pointer";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { trimmed } from "../../ui/quantity/parse";
import { packWords } from "../../ui/words";
import { keepStarting, type Starting, withAnswer } from "./starting";
import { usePreflight } from "./useRun";

interface Props {
  starting: Starting;
  onChange: (starting: Starting | undefined) => void;
}

/** The list before a charge or a discharge: measured values are entered, and one that is off stops it. */
export function Preflight({ starting, onChange }: Props) {
  const list = usePreflight(starting);
  const save = useSave("runs");
  const navigate = useNavigate();
  const feedback = useFeedback();
  const { plan, links, answers } = starting;
  const give = (answer: Schemas["PreflightAnswerDoc"]) => {
    onChange({ ...starting, answers: withAnswer(answers, answer) });
  };
  const begin = async () => {
    try {
      const document = begun(starting);
      const row = await save.mutateAsync({ id: newId(), document, links: links.pack ? { pack: links.pack } : {} });
      keepStarting(undefined);
      onChange(undefined);
      void navigate(`/run/${row.id}`);
    } catch (error) {
      feedback.failed(error);
    }
  };
  const open = list.data?.items.filter((item) => item.ok !== true).length ?? 0;
  return (
    <section className="preflight" aria-label="Before current flows">
      <h1>{plan.name ?? plan.pack?.name ?? packWords(plan.pack ?? {})}</h1>
      <h2>Before current flows</h2>
      {list.error !== null && (
        <p className="trouble" role="alert">
          {list.error instanceof ProblemError ? list.error.problem.detail : explain(list.error)}
        </p>
      )}
      <ol>
        {list.data?.items.map((item, k) => (
          <li key={item.code} className={item.ok == null ? "" : item.ok ? "in-order" : "off"}>
            <span className="preflight-n figures" aria-hidden="true">
              {item.ok === true ? "✓" : k + 1}
            </span>
            <div>
              <Item item={item} answer={answers.find((one) => one.code === item.code)} onGive={give} />
              {item.problem && (
                <p className="field-problem" role="alert">
                  {told(item.problem)}
                </p>
              )}
            </div>
          </li>
        ))}
      </ol>
      <p>Then connect in the order you were told, and begin as soon as current flows.</p>
      <div className="run-actions">
        <Button type="primary" disabled={list.data?.clear !== true} loading={save.isPending} onClick={() => void begin()}>
          Current flows: begin
        </Button>
        <Button
          onClick={() => {
            keepStarting(undefined);
            onChange(undefined);
          }}
        >
          Not now
        </Button>
        {open > 0 && <span className="muted">{open} to go</span>}
      </div>
    </section>
  );
}

/** The run as it begins; the server freezes its plan, its answer and its version with it. */
function begun({ plan, answers, discharge }: Starting): Schemas["RunDoc"] {
  return {
    format: "rumek.run/1",
    name: plan.name ?? plan.pack?.name ?? packWords(plan.pack ?? {}),
    plan,
    ...(discharge && { discharge }),
    preflight: answers,
    started_at: atServer(new Date()).toISOString(),
  };
}

interface ItemProps {
  item: Schemas["PreflightItemDoc"];
  answer: Schemas["PreflightAnswerDoc"] | undefined;
  onGive: (answer: Schemas["PreflightAnswerDoc"]) => void;
}

function Item({ item, answer, onGive }: ItemProps) {
  const { code } = item;
  if (item.kind === "tick")
    return (
      <Checkbox
        checked={answer?.seen === true}
        onChange={(event) => {
          onGive({ code, seen: event.target.checked });
        }}
      >
        {told(item.message)}
      </Checkbox>
    );
  if (item.kind === "cells") return <CellsItem item={item} answer={answer} onGive={onGive} />;
  const shown = (value: number) => (item.kind === "voltage" ? `${trimmed(value, 2)} V` : item.kind === "current" ? `${trimmed(value, 2)} A` : degrees(value));
  const bounds = item.low == null || item.high == null ? undefined : `${shown(item.low)} to ${shown(item.high)}`;
  return (
    <QuantityInput
      label={told(item.message)}
      kind={item.kind}
      value={answer?.value}
      {...(bounds === undefined ? {} : { hint: bounds })}
      onChange={(value) => {
        onGive({ code, value });
      }}
    />
  );
}

function CellsItem({ item, answer, onGive }: ItemProps) {
  const [document, setDocument] = useState<{ cells_v?: number[] }>({ cells_v: answer?.cells_v ?? [] });
  return (
    <VoltagesField
      label={told(item.message)}
      at="/cells_v"
      hint="From the negative end, parted by spaces."
      editor={{
        document,
        problems: [],
        set: (at, value) => {
          setDocument((before) => withValue(before, at, value));
          onGive({ code: item.code, cells_v: value as number[] });
        },
      }}
    />
  );
}
