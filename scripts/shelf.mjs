// A shelf of 10,000 packs and 100,000 runs: how long the first view takes, once every standing is worked out, and how long
// that takes a pack. The workshop is put in as an archive, into a database of its own.
import { spawn } from "node:child_process";

const [BINARY, URL] = process.argv.slice(2);
const PORT = 7399;
const PACKS = 10_000;
const RUNS = 100_000;
const RECORDS = 20_000;
const AT = `http://127.0.0.1:${PORT}`;

const id = (kind, n) => `0196${kind}-0000-7000-8000-${n.toString(16).padStart(12, "0")}`;
const day = (n) => new Date(Date.UTC(2026, 0, 1) + n * 3_600_000).toISOString();
const row = (kind, n, document, links = {}) => ({ id: id(kind, n), version: 1, created_at: day(0), updated_at: day(n % 5000), archived_at: null, links, document });

function* archive() {
  const list = function* (name, count, one) {
    yield `,"${name}":[`;
    for (let n = 0; n < count; n++) yield (n > 0 ? "," : "") + JSON.stringify(one(n));
    yield "]";
  };
  const pack = (n) => ({ id: id("0000", n % PACKS), version: 1 });
  yield `{"format":"rumek.archive/1"`;
  yield* list("packs", PACKS, (n) => row("0000", n, { name: `Pack ${n}`, chemistry: ["lipo", "li_ion", "lfp", "lead_agm"][n % 4], series: 6, capacity_ah: 5, tags: [`shelf ${n % 12}`] }));
  yield* list("records", RECORDS, (n) => row("1000", n, { format: "rumek.record/1", kind: "test", at: day(n % 7000), capacity_ah: 4.5 + (n % 10) / 20, current_a: 2.5, temperature_c: 20, whole: true }, { pack: pack(n) }));
  const plan = { format: "rumek.plan/1", pack: { chemistry: "lipo", series: 6, capacity_ah: 5 } };
  yield* list("runs", RUNS, (n) => row("2000", n, { format: "rumek.run/1", name: `Run ${n}`, plan, started_at: day(n % 7000), ended_at: day((n % 7000) + 1), end: "done", charge_ah: 3 }, { pack: pack(n) }));
  yield `,"readings":[]}`;
}

async function* chunks() {
  let text = "";
  for (const part of archive()) {
    text += part;
    if (text.length > 1 << 16) {
      yield Buffer.from(text);
      text = "";
    }
  }
  yield Buffer.from(text);
}

async function look() {
  const start = performance.now();
  const answer = await fetch(`${AT}/api/shelf`);
  const page = await answer.json();
  if (!answer.ok) throw new Error(JSON.stringify(page));
  return { ms: performance.now() - start, page };
}

const server = spawn(BINARY, ["serve", "--port", String(PORT), "--database-url", URL], { stdio: "ignore" });
try {
  for (let n = 0; n < 200; n++) {
    if (await fetch(`${AT}/readyz`).then((answer) => answer.ok, () => false)) break;
    await new Promise((done) => setTimeout(done, 100));
  }
  const put = await fetch(`${AT}/api/archive`, { method: "POST", headers: { "content-type": "application/json" }, body: ReadableStream.from(chunks()), duplex: "half" });
  if (!put.ok) throw new Error(await put.text());
  const began = performance.now();
  const first = await look();
  console.log(`just put in, the first look                 ${first.ms.toFixed(0).padStart(6)} ms`);
  // The server works the others out by itself.
  for (let unknown = true; unknown; ) {
    await new Promise((done) => setTimeout(done, 500));
    const { page } = await look();
    unknown = page.waiting > 0;
  }
  const all_ms = performance.now() - began;
  console.log(`every standing worked out, a pack           ${(all_ms / PACKS).toFixed(2).padStart(6)} ms (aim 1)`);
  const times = [];
  for (let n = 0; n < 60; n++) times.push((await look()).ms);
  times.sort((a, b) => a - b);
  console.log(`the first view of ${first.page.total} packs, median      ${times[30].toFixed(0).padStart(6)} ms`);
  console.log(`                            at 95 %          ${times[56].toFixed(0).padStart(6)} ms (aim 100)`);
} finally {
  server.kill();
}
