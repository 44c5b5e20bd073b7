// How long a person waits in the browser: from a key to the painted card, from Enter on the quick line, from
// opening the page to the first card. Headless Chromium on this machine, the release build, no database.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const BINARY = process.argv[2];
const [PORT, DRIVER] = [7399, 7398];
const KEYS = 200;
const LINES = 60;
const OPENS = 15;
const PAGE = `http://127.0.0.1:${PORT}/plan`;

const server = spawn(BINARY, ["serve", "--port", String(PORT), "--database-url", "postgres://nobody@127.0.0.1:1/none"], {
  env: { ...process.env, RUST_LOG: "off" },
  stdio: "ignore",
});
const driver = spawn("chromedriver", [`--port=${DRIVER}`], { stdio: "ignore" });
const profile = mkdtempSync(join(tmpdir(), "rumek-paint-"));
const sleep = (ms) => new Promise((done) => setTimeout(done, ms));

async function ask(method, path, body) {
  const answer = await fetch(`http://127.0.0.1:${DRIVER}${path}`, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
  });
  const { value } = await answer.json();
  if (value?.error) throw new Error(`${value.error}: ${value.message}`);
  return value;
}

async function until(what, holds) {
  for (let n = 0; n < 100; n++) {
    if (await holds().catch(() => false)) return;
    await sleep(100);
  }
  throw new Error(`${what} never came`);
}

/** Runs in the page: changes an input as a key does and waits until the card says another thing and that is painted. */
const TYPED = `
  const [css, text, done] = [arguments[0], arguments[1], arguments[arguments.length - 1]];
  const card = () => document.querySelector('.card:not(.before) .card-figures')?.textContent;
  const before = card();
  const input = document.querySelector(css);
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const began = performance.now();
  // What stands there when a frame is about to be painted is painted with it: the message comes after that.
  const look = () => {
    const now = card();
    if (now === undefined || now === before) return requestAnimationFrame(look);
    const channel = new MessageChannel();
    channel.port1.onmessage = () => done(performance.now() - began);
    channel.port2.postMessage(0);
  };
  set.call(input, text);
  input.dispatchEvent(new InputEvent('input', { bubbles: true, data: text }));
  if (arguments[2] === 'Enter') input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
  requestAnimationFrame(look);`;
const FIRST_CARD = `
  const done = arguments[arguments.length - 1];
  const look = () => (document.querySelector('.card-figures') ? requestAnimationFrame(() => done(performance.now())) : requestAnimationFrame(look));
  look();`;

const at = (times, share) => times.toSorted((a, b) => a - b)[Math.min(times.length - 1, Math.floor(share * times.length))];
const say = (name, times, aim) =>
  console.log(`${name.padEnd(44)} median ${at(times, 0.5).toFixed(0).padStart(4)} ms   95 % ${at(times, 0.95).toFixed(0).padStart(4)} ms   (aim ${aim} ms)`);

try {
  await until("the driver", () => ask("GET", "/status").then(({ ready }) => ready));
  await until("the server", () => fetch(`http://127.0.0.1:${PORT}/healthz`).then(({ ok }) => ok));
  const args = ["--headless", "--no-sandbox", "--disable-gpu", "--window-size=1280,943", `--user-data-dir=${profile}`];
  const { sessionId } = await ask("POST", "/session", { capabilities: { alwaysMatch: { "goog:chromeOptions": { args } } } });
  const session = `/session/${sessionId}`;
  const run = (script, ...given) => ask("POST", `${session}/execute/async`, { script, args: given });
  await ask("POST", `${session}/url`, { url: PAGE });
  await sleep(1500);
  // A first plan, so that there is a card to change.
  await ask("POST", `${session}/execute/sync`, {
    script: `sessionStorage.setItem('rumek.draft', JSON.stringify({ document: { format: 'rumek.plan/1', pack: { chemistry: 'lipo', series: 6, capacity_ah: 4 }, source: { kind: 'bench_supply', max_voltage_v: 30, max_current_a: 5 } }, links: {} }))`,
    args: [],
  });
  const opens = [];
  for (let n = 0; n < OPENS; n++) {
    await ask("POST", `${session}/url`, { url: "about:blank" });
    await ask("POST", `${session}/url`, { url: PAGE });
    opens.push(await run(FIRST_CARD));
  }
  const keys = [];
  for (let n = 0; n < KEYS; n++) keys.push(await run(TYPED, "[aria-label='Rated current']", `${(1 + 0.014 * n).toFixed(3)}`, ""));
  const lines = [];
  for (let n = 0; n < LINES; n++) {
    lines.push(await run(TYPED, ".quick-line", `${2 + (n % 5)}S ${2000 + 100 * (n % 7)} lipo, 30 V 5 A bench`, "Enter"));
    await sleep(60);
  }
  say("a key in a field to the painted card", keys, 50);
  say("Enter on the quick line to the painted card", lines, 150);
  say("the page opened again to its first card", opens, 800);
  await ask("DELETE", session);
} finally {
  driver.kill();
  server.kill("SIGTERM");
  await sleep(300);
  rmSync(profile, { recursive: true, force: true });
}
