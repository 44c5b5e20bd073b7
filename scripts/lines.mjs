// Proves that every line of judgement stands once: in crates/core/src/lines, used by the rooms it names, and that no
// judging file keeps a figure of its own.
import { readFileSync } from "node:fs";
import { relative } from "node:path";
import { filesBelow } from "./files.mjs";

const ROOT = "crates/core/src";
const read = (file) => readFileSync(file, "utf8");
const files = filesBelow(ROOT, [".rs"]).map((file) => ({ file: relative(ROOT, file), text: read(file).replace(/#\[cfg\(test\)\]\s*mod \w+ \{[\s\S]*$/m, "") }));

/** Which room a file belongs to; "shared" is asked by all of them. */
function roomOf(file) {
  const rooms = [
    ["advice/discharge/", "Test"],
    ["shelf/proving/", "Test"],
    ["shelf/cells/", "Match"],
    ["shelf/", "Shelf"],
    ["rescue/", "Rescue"],
    ["logbook/", "Run"],
    ["advice/", "Plan"],
    ["chain/settings", "Plan"],
    ["chain/feed", "Plan"],
  ];
  return rooms.find(([start]) => file.startsWith(start))?.[1] ?? "shared";
}

const found = [];
const lines = files
  .filter(({ file }) => file.startsWith("lines/"))
  .flatMap(({ file, text }) => [...text.matchAll(/^\s+([A-Z_]+) "(\w+)":[^;]*\[([\w, ]+)\];/gm)].map(([, name, code, rooms]) => ({ file, name, code, rooms: rooms.split(/,\s*/) })));
if (lines.length < 50) found.push(`only ${lines.length} lines were found: the pattern no longer fits`);
for (const { file, name, rooms } of lines) {
  const users = files.filter((one) => !one.file.startsWith("lines/") && new RegExp(`::${name}\\b|\\b${name}\\.(?:at|of)\\b`).test(one.text));
  if (users.length === 0) found.push(`${file}: nobody judges by ${name}`);
  const used = new Set(users.map((one) => roomOf(one.file)));
  for (const room of used) if (room !== "shared" && !rooms.includes(room)) found.push(`${file}: ${name} is used in ${room} and does not name it`);
  if (!used.has("shared")) for (const room of rooms) if (!used.has(room)) found.push(`${file}: ${name} names ${room}, which does not use it`);
}

/** Where judgement stands: a figure there belongs in `lines`. */
const JUDGING = /^(acts\/|advice\/checks\/|advice\/discharge\/checks|rescue\/(triage|judge|rescue_stages|gear|allowed)|shelf\/standing\/(need|read|faults)|shelf\/cells\/(join|stock|level)|logbook\/(?!import\/))/;
/** What is no judgement: physics, units, search, how finely something is told or how long it is followed. */
const NO_LINE = new Set([
  "COOLS_S", // physics: how fast a pack takes the warmth of its room
  "DAY_S", "HOUR_S", // units
  "STIFF_OHM", "NOWHERE_V", // search
  "CORRECTED_FROM_W", "CORRECTED", "PULSED", // physics of supplies
  "BOOST_DIODE_V", "INPUT_CAPACITORS_V", "HYDROGEN_L", // physics
  "BANK_WH", // words for a large one
  "SURELY_A", "LONG_S",
  "LONGEST_S", "LONGEST_H", "LEAST_A", // how long and how little is followed
  "STANDS_OVER", // room for a stage to come to its end in
  "LOOKS_S", // when somebody looks
  "TAKES", "LAST_S", "OVER_EXPECTED", // how a time is told
  "LONGEST_SILENCE_S", "WAKE_TRY_S", "LIFE_S", "SETTLING_S", "FRESH_S", "SULPHATED_S", // lines in seconds
  "SOONER_C", // a faster test that is told beside
  "HIGHEST_V", // of a cell that nobody described
  "LEVEL_V", "SLOWER", "LEAST_H", // how long cells take to settle
  "AGED", "FADED", "GROWS", "INDEPENDENT", "LOWEST", "HIGHEST", "USUAL_OFF", "STEPS", "NEAR", "RECOVERS", // how far a pack may be from what was believed of it
  "PART", "SWING", "FLOWING", "HOLDS", "AT_VOLTAGE", "NEAR_VOLTAGE", "TAPERED", "MOST_SHARE", "PAST_SOC", "STEEP_END", // how the course of a log is made out
  "AT_GOAL", "MOVED_V", "COLDEST_C", "READ_V", "TOO_LITTLE", // how near a reading can be told
  "USUAL_LOOK_S", "FIRST_LOOK_S", "BEGUN_S", "SOON_S", "SHARE", "SHARE_WATCHED", "STAY_S", "STEP_S", // when somebody looks
]);
for (const { file, text } of files.filter((one) => JUDGING.test(one.file))) {
  for (const [, name] of text.matchAll(/const ([A-Z_]+): (?:f64|\(f64, f64\)|\[f64; \d+\]) =/g)) {
    if (!NO_LINE.has(name)) found.push(`${file}: ${name} is a figure of judgement: it belongs in lines/`);
  }
}

if (found.length > 0) {
  console.error(found.join("\n"));
  process.exit(1);
}
console.log(`${lines.length} lines of judgement, each once and used where it says.`);
