import { told } from "../../ui/preferences";
import type { StandingDoc } from "../../api/client";
import { chargeWords, date, healthWords, NEED_WORDS } from "./standingWords";

/** What a pack needs, how full and how healthy it is. */
export function Standing({ standing }: { standing: StandingDoc | null | undefined }) {
  if (!standing) return null;
  const { need, upcoming, charge, health } = standing;
  const next = need.code === "nothing" ? upcoming : undefined;
  return (
    <div className="standing">
      <p className={`need need-${need.code}`}>
        <strong>{NEED_WORDS[need.code]}</strong>
        {need.code !== "nothing" && ` ${told(need.message)}`}
        {need.by && need.code !== "nothing" && ` By ${date(need.by)}.`}
        {next?.by && ` until ${date(next.by)}: ${NEED_WORDS[next.code].toLowerCase()}.`}
      </p>
      {charge && <p>{chargeWords(charge)}</p>}
      {health && <p>{healthWords(standing)}</p>}
    </div>
  );
}
