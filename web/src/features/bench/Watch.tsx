import { clockOffset } from "../../api/time";
import { useUnderWay } from "../run/useRun";
import { useAlarm } from "./alarm";

/** Watches over every charge going on, whichever screen is open. */
export function Watch() {
  const { all } = useUnderWay();
  useAlarm(
    all.flatMap(({ run, state, look_at }) =>
      look_at === undefined ? [] : [{ id: run.id, name: run.document.name ?? "A charge", why: state?.next_look_why ?? "", at: look_at + clockOffset() }],
    ),
  );
  return null;
}
