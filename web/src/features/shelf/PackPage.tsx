import { Button, Segmented } from "antd";
import { useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { explain } from "../../ui/feedback";
import { OnceOpened } from "../../ui/OnceOpened";
import { PackDrawing } from "../../ui/shelf/PackDrawing";
import { trimmed } from "../../ui/quantity/parse";
import { packWords } from "../../ui/words";
import { caseOfPack, setCase } from "../rescue/case";
import { Gauge } from "./Gauge";
import { type Against, HealthChart, HealthTable } from "./HealthChart";
import { History } from "./History";
import { PackLabel } from "./PackLabel";
import { planWith } from "./planWith";
import { Known } from "./Known";
import { RestLine } from "./RestLine";
import { chargeWords, date, healthWords, percent, reachesWords, spanWords } from "./standingWords";
import { Standing } from "./Standing";
import { TestEntry } from "./TestEntry";
import { TestPlan } from "./TestPlan";
import { usePackPage } from "../../api/packPage";
import "../../ui/shelf/shelf.css";
import "../../ui/work.css";
import "./pack.css";

/** A pack's own page: what it is worth, how that came, and what is next. */
export default function PackPage() {
  const { id } = useParams();
  const found = usePackPage(id);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [against, setAgainst] = useState<Against>("date");
  const [open, setOpen] = useState<"test" | "history">();
  if (found.isLoading) return <p className="screen-note">Fetching…</p>;
  if (!found.data)
    return (
      <div className="shelf-empty" role="alert">
        <p>{explain(found.error)}</p>
        <Button onClick={() => void found.refetch()}>Ask again</Button> <Link to="/shelf">To the shelf</Link>
      </div>
    );
  const { pack, standing, records, runs, unread } = found.data;
  const { document } = pack;
  const name = document.name ?? packWords(document);
  const close = () => {
    setOpen(undefined);
  };
  return (
    <article className="pack-page">
      <header className="pack-head">
        <p>
          <Link to="/shelf">Shelf</Link>
        </p>
        <h1>{name}</h1>
        <p className="muted">
          {packWords(document)}
          {(document.tags ?? []).map((tag) => (
            <span key={tag} className="tag">
              {tag}
            </span>
          ))}
        </p>
        <div className="shelf-actions">
          <Button type="primary" size="small" onClick={() => { planWith(pack); void navigate("/plan"); }}>
            Plan a charge
          </Button>
          <Button size="small" onClick={() => { setOpen("test"); }}>
            Plan a capacity test
          </Button>
          <Button size="small" onClick={() => { setOpen("history"); }}>
            History from a log
          </Button>
          <Button size="small" type="text" onClick={() => { void navigate(`/shelf/${pack.id}/edit`, { state: { from: pathname } }); }}>
            Edit
          </Button>
          <Button size="small" type="text" onClick={() => { setCase(caseOfPack(pack)); void navigate("/rescue"); }}>
            Rescue
          </Button>
          <Button size="small" type="text" onClick={() => { window.print(); }}>
            Print its label
          </Button>
        </div>
      </header>
      {unread.map(({ id: row, kind, why }) => (
        <p key={row} className="pack-unread" role="alert">
          This {kind} cannot be read and counts for nothing here: {kind === "run" ? <Link to={`/run/${row}`}>open the run</Link> : why}
        </p>
      ))}
      <section className="pack-standing" aria-label="What it is worth now">
        <div className="shelf-drawing" aria-hidden="true">
          <PackDrawing pack={document} charge={standing.charge ?? null} />
        </div>
        <Standing standing={{ ...standing, charge: null, health: null }} />
        <dl>
          <dt>Now</dt>
          <dd>
            {chargeWords(standing.charge)}
            {standing.charge && (
              <span className="muted">
                {" "}
                known {date(standing.charge.known_at)}; loses about {trimmed((standing.charge.loses_a_month[0] ?? 0) * 100, 1)} % a month
                {standing.charge.low_from && `; flat ${date(standing.charge.low_from)} at the earliest`}
                {standing.charge.low_by && `, ${date(standing.charge.low_by)} at the latest`}
              </span>
            )}
          </dd>
          <dt>Health</dt>
          <dd>
            {healthWords(standing)}
            {standing.capacity_ah && <span className="muted"> {spanWords(standing.capacity_ah.value, standing.capacity_ah.low, standing.capacity_ah.high, (ah) => `${trimmed(ah, 2)} Ah`)} at 25 °C</span>}
          </dd>
          {standing.resistance_mohm && (
            <>
              <dt>Resistance</dt>
              <dd>
                {spanWords(standing.resistance_mohm.value, standing.resistance_mohm.low, standing.resistance_mohm.high, (mohm) => `${trimmed(mohm, 1)} mΩ`)} at 25 °C
                {standing.hardening && <span className="muted"> grows by {trimmed(standing.hardening.per_year.value * 100, 0)} % a year</span>}
              </dd>
            </>
          )}
          <dt>Used</dt>
          <dd>{trimmed(standing.full_cycles, 0)} equivalent full cycles</dd>
          {standing.fading && (
            <>
              <dt>Fades</dt>
              <dd>{spanWords(-standing.fading.per_year.value, -standing.fading.per_year.high, -standing.fading.per_year.low, (share) => `${trimmed(share * 100, 1)} %`)} of its label a year</dd>
            </>
          )}
          <dt>Comes to</dt>
          <dd>
            {reachesWords("80 %", standing.to_80)}
            <br />
            {reachesWords("60 %", standing.to_60)}
          </dd>
        </dl>
        <RestLine pack={pack} name={name} />
      </section>
      <section className="pack-health" aria-label="What it holds over time">
        <div className="stage-plan-head">
          <h2>What it holds</h2>
          <Segmented<Against>
            size="small"
            aria-label="Over"
            options={[
              { value: "date", label: "by date" },
              { value: "cycles", label: "by cycles" },
            ]}
            value={against}
            onChange={setAgainst}
          />
        </div>
        {standing.points.length > 0 ? (
          <>
            <HealthChart standing={standing} against={against} />
            <p className="muted">Dots: tests, brought to 25 °C and the reference rate; bars: two deviations; dashes: as measured. Diamonds: refitted charges.</p>
            <HealthTable standing={standing} />
          </>
        ) : (
          <p>Nobody has tested it. A capacity test takes it from full to empty once and says what it holds: plan one, or enter what one gave.</p>
        )}
        {standing.notes.map((note) => (
          <p key={note} className="muted">
            {note}
          </p>
        ))}
        <TestEntry pack={pack} />
        <Gauge pack={document} />
      </section>
      <Known pack={pack} records={records} runs={runs} />
      <PackLabel id={pack.id} name={name} words={packWords(document)} health={standing.health ? percent(standing.health.value) : undefined} at={date(standing.at)} />
      <OnceOpened open={open === "test"}>
        <TestPlan key={pack.id} open={open === "test"} pack={pack} charge={standing.charge} onClose={close} />
      </OnceOpened>
      <OnceOpened open={open === "history"}>
        <History key={pack.id} open={open === "history"} pack={pack} onClose={close} />
      </OnceOpened>
    </article>
  );
}
