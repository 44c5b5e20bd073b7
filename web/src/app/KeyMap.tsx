import { Checkbox, Modal } from "antd";
import { useState } from "react";
import { keysOn, switchKeys } from "./keys";
import { overlays } from "../ui/overlays";

const KEYS = [
  ["/", "the quick line"],
  ["Enter, Escape", "in the quick line: keep what it says, or go back to the plan before"],
  ["1 to 4", "in a question: its answers"],
  ["Ctrl S", "save the plan"],
  ["Ctrl Z, Ctrl Shift Z", "undo and redo, outside of a field"],
  ["← →", "on the charge curve: the time cursor"],
  ["Tab, Enter", "every stage, value and button, in the order of the work"],
  ["Escape", "closes what is open"],
  ["?", "this map"],
] as const;

/** The keys, and where licences and formats are found. */
export function KeyMap({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [on, setOn] = useState(keysOn);
  return (
    <Modal title="Keys" open={open} onCancel={onClose} footer={null} getContainer={overlays} destroyOnHidden>
      <dl className="key-map">
        {KEYS.map(([key, what]) => (
          <div key={key}>
            <dt className="figures">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <Checkbox
        checked={on}
        onChange={(event) => {
          switchKeys(event.target.checked);
          setOn(event.target.checked);
        }}
      >
        <span className="figures">/</span> goes to the quick line (not while you type)
      </Checkbox>
      <p className="key-foot">
        <a href="/notices.txt">Licences of what Rumek is built with</a> · <a href="/api/schema/rumek.plan.1.json">the plan format</a>
      </p>
    </Modal>
  );
}
