import { Segmented, Input } from "antd";
import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { type Preferences, prefer, usePreferences } from "../../ui/preferences";
import { TERMS } from "../../ui/terms/terms";
import { Lines } from "./Lines";
import { Practices } from "./Practices";
import "./guide.css";

const LINES = [
  ["6S 4000 lipo, 30 V 5 A bench", "six cells, 4 Ah, on a bench supply of 30 V and 5 A"],
  ["12V 18Ah agm cycle 14.4-15.0 V, 20 V 5 A bench", "a lead battery by what its label says"],
  ["3S 2200 lipo, 19 V 90 W, 8 A charger", "a laptop brick, and a charger between"],
  ["18 V 74 Wh li-ion, 21 V 2 A supply", "a tool battery by its volts and watt-hours"],
] as const;

const BY_ALPHABET = [...TERMS].sort((a, b) => a.word.localeCompare(b.word));

/** What Rumek is, how a charge is planned and run, every word, and what is set once. */
export default function GuideScreen() {
  const { hash } = useLocation();
  useEffect(() => {
    // A link leads to its word, wherever it stands.
    const at = hash === "" ? undefined : document.getElementById(hash.slice(1));
    at?.scrollIntoView({ block: "center" });
    at?.focus();
  }, [hash]);
  return (
    <article className="guide">
      <nav aria-label="In this guide" className="guide-parts">
        <a href="#what">What it is</a>
        <a href="#first">A first charge</a>
        <a href="#fire">Before anything else</a>
        <a href="#practices">How hard to charge</a>
        <a href="#trouble">A pack in trouble</a>
        <a href="#worth">What a pack is worth</a>
        <a href="#lines">Every line Rumek judges by</a>
        <a href="#words">Words</a>
        <a href="#set-once">Set once</a>
      </nav>
      <section id="what" tabIndex={-1}>
        <h1>What Rumek is</h1>
        <p>
          You have a battery, and something to charge it from: a bench supply, a laptop brick, a converter module, a lamp, another battery. Rumek
          says what to set, what limits you, how long it takes and whether it is safe; then it stands beside you while it charges, and remembers
          what happened. It computes the charge itself, second by second; it controls nothing. Your hands and your meter do that.
        </p>
      </section>
      <section id="first" tabIndex={-1}>
        <h2>A first charge</h2>
        <ol>
          <li>
            Type what stands on the labels into the line at the top, the pack first. Under it stands what was understood; a question is answered
            with one press.
            <dl className="guide-lines">
              {LINES.map(([line, says]) => (
                <div key={line}>
                  <dt className="figures">{line}</dt>
                  <dd className="muted">{says}</dd>
                </div>
              ))}
            </dl>
          </li>
          <li>
            Look at the chain. It is as wide as the amps each part could deliver; the narrowest place is the pinch. Values in <em>dotted italics</em>{" "}
            were said by nobody: type over those you know.
          </li>
          <li>
            Read the checks. A <strong>stop</strong> withholds the settings and says why. A <strong>caution</strong> is for you to mind.
          </li>
          <li>
            Take the card to the bench: set the supply with nothing connected, measure, connect. Print it, or open this page on a phone.
          </li>
          <li>
            Press <strong>Start</strong> on the card. Rumek says when to look next and what your reading means.
          </li>
        </ol>
      </section>
      <section id="fire" tabIndex={-1}>
        <h2>Before anything else</h2>
        <ul>
          <li>Charge on something that does not burn, with nothing that burns around it, where you are.</li>
          <li>A pack that is swollen, leaks, smells or was crushed is not charged any more. Put it outside, on stone.</li>
          <li>Check plus and minus with a meter before you connect. A reversed pack cannot be saved by a fast hand.</li>
          <li>Lead gives off hydrogen: let air in, keep sparks away.</li>
          <li>A fuse sits at the pack, for the pack can feed a short circuit with far more than any supply.</li>
          <li>The pack maker’s data sheet comes before anything Rumek says. For mains wiring local codes and licensed practice do.</li>
        </ul>
      </section>
      <section id="practices" tabIndex={-1}>
        <h2>How hard to charge</h2>
        <p>
          The plan’s <em>practice</em> chooses rate and end where the label leaves them open. These are usual figures at room temperature; a label or
          data sheet that you type in overrules them.
        </p>
        <Practices />
      </section>
      <section id="trouble" tabIndex={-1}>
        <h2>A pack in trouble</h2>
        <p>
          Too low, asleep, refused by its charger: <Link to="/rescue">Rescue</Link> asks one thing at a time and says whether it may be brought back, and how.
          “I can’t tell” is always an answer.
        </p>
      </section>
      <section id="worth" tabIndex={-1}>
        <h2>What a pack is worth</h2>
        <p>
          The <Link to="/shelf">Shelf</Link> says what each pack needs. It knows from three things: what it reads at rest now and then, what went in and out, and a{" "}
          <em>capacity test</em> once a year: charged full, rested, run down at a steady current to its cut-off, and what came out written down. Its own page plans that
          test, starts the discharge as a run that is followed like a charge, reads one out of a logger’s file, and draws what it holds over the years. Loose cells become even packs on <Link to="/shelf/cells">Cells</Link>.
        </p>
      </section>
      <section id="lines" tabIndex={-1}>
        <h2>Every line Rumek judges by</h2>
        <p>
          Each figure stands once, and every room uses the same one. A label or a data sheet overrules what is only usual. A pack maker, a local
          electrical code or a licensed electrician overrules all of them.
        </p>
        <Lines />
      </section>
      <section id="words" tabIndex={-1}>
        <h2>Words</h2>
        <dl className="guide-words">
          {BY_ALPHABET.map(({ id, word, means }) => (
            <div key={id} id={id} tabIndex={-1}>
              <dt>{word}</dt>
              <dd>{means}</dd>
            </div>
          ))}
        </dl>
      </section>
      <section id="set-once" tabIndex={-1}>
        <h2>Set once</h2>
        <SetOnce />
      </section>
    </article>
  );
}

const CHOICES: { [K in Exclude<keyof Preferences, "currency">]: { label: string; options: Preferences[K][] } } = {
  degrees: { label: "Temperatures in", options: ["°C", "°F"] },
  wire: { label: "Wire first in", options: ["AWG", "mm²"] },
  clock: { label: "Clock of", options: ["24 h", "12 h"] },
  dates: { label: "Dates", options: ["system", "day first", "year first"] },
};

/** Kept in this browser, for every plan and run. */
function SetOnce() {
  const set = usePreferences();
  return (
    <>
      <p className="muted">Kept in this browser. Checks and steps, which are whole sentences, stay in °C.</p>
      <div className="guide-settings">
        {(Object.keys(CHOICES) as (keyof typeof CHOICES)[]).map((key) => (
          <div key={key} role="group" aria-label={CHOICES[key].label}>
            <span>{CHOICES[key].label}</span>
            <Segmented<string>
              size="small"
              aria-label={CHOICES[key].label}
              options={CHOICES[key].options}
              value={set[key]}
              onChange={(value) => {
                prefer({ [key]: value });
              }}
            />
          </div>
        ))}
        <div>
          <label htmlFor="currency">Currency, put after a cost</label>
          <Input
            id="currency"
            size="small"
            variant="underlined"
            maxLength={5}
            autoComplete="off"
            value={set.currency}
            onChange={(event) => {
              prefer({ currency: event.target.value });
            }}
          />
        </div>
      </div>
    </>
  );
}
