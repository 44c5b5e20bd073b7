import { Input, Segmented } from "antd";
import { memo, type ReactNode } from "react";
import type { PackDoc, PlanDoc, Schemas } from "../../api/client";
import { type Editor, textAt } from "../../ui/documents/editor";
import { QuantityField } from "../../ui/documents/fields";
import { PRACTICES, practiceWords } from "../../ui/documents/practices";
import { StepButtons } from "../../ui/StepButtons";
import { isHeld } from "./asked";
import { changeDraft, type Draft, isChanged, step, steps } from "./draft";
import { PlanFile } from "./PlanFile";

interface Props {
  draft: Draft;
  editor: Editor<PlanDoc>;
  onPlans: () => void;
  onImport: () => void;
  summary: ReactNode;
}

/** What the plan is called, how hard it charges, and its file. */
export function PlanTitle({ draft, editor, onPlans, onImport, summary }: Props) {
  const practice = (textAt(editor.document, "/practice") ?? textAt(editor.resolved, "/practice")) as Schemas["Practice"];
  return (
    <div className="plan-title">
      <h1 className="unseen">Plan</h1>
      <Input
        className="plan-name"
        variant="borderless"
        value={draft.document.name ?? ""}
        maxLength={120}
        placeholder="Name this plan"
        aria-label="Name of the plan"
        autoComplete="off"
        onChange={(event) => {
          changeDraft("/name", event.target.value === "" ? undefined : event.target.value);
        }}
      />
      {summary}
      <Practice chemistry={draft.document.pack?.chemistry} value={practice} />
      <QuantityField editor={editor} at="/ambient_c" label="Air temperature" kind="temperature" bare />
      <span className="plan-file">
        <StepButtons steps={steps} of={draft.document.name ?? "this plan"} go={step} />
        <PlanFile stored={draft.id !== undefined} changed={isChanged(draft)} held={isHeld(draft)} onPlans={onPlans} onImport={onImport} />
      </span>
    </div>
  );
}

interface PracticeProps {
  chemistry: PackDoc["chemistry"];
  value: Schemas["Practice"];
}

/** How hard it charges, with what that is in numbers. Drawn anew only where one of them changes. */
const Practice = memo(function Practice({ chemistry, value: chosen }: PracticeProps) {
  return (
    <div className="plan-practice">
      <span className="plan-figures muted" title="Where no label says otherwise">
        {practiceWords(chemistry, chosen) ?? "practice"}
      </span>
      <Segmented<Schemas["Practice"]>
        size="small"
        aria-label="Practice"
        options={PRACTICES.map(({ value, label }) => ({ value, label, title: practiceWords(chemistry, value) ?? label }))}
        value={chosen}
        onChange={(practice) => {
          changeDraft("/practice", practice);
        }}
      />
    </div>
  );
});
