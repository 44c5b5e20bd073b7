import { useState } from "react";
import { useParams } from "react-router";
import { Follow } from "./Follow";
import { Logbook } from "./Logbook";
import { LogImport } from "./LogImport";
import { Preflight } from "./Preflight";
import { RunTable } from "./RunTable";
import { keepStarting, starting as kept, type Starting } from "./starting";
import "../../ui/work.css";
import "./run.css";

/** Am I on the predicted line, what do I do now; and what was before. */
export default function RunScreen() {
  const { id } = useParams();
  const [starting, setStarting] = useState(kept);
  const change = (next: Starting | undefined) => {
    keepStarting(next);
    setStarting(next);
  };
  return (
    <div className="runs">
      <Logbook starting={starting} />
      <div className="runs-work">
        {id === "log" ? <LogImport /> : id ? <Follow key={id} id={id} /> : starting ? <Preflight starting={starting} onChange={change} /> : <RunTable />}
      </div>
    </div>
  );
}
