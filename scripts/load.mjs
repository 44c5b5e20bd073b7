// The server's own share of POST /api/plan: its median less the core's time, beside an empty JSON
// route on the same machine. Bounded in requests and time; loopback alone.
import { spawn } from "node:child_process";
import { Agent, request } from "node:http";

const BINARY = process.argv[2];
const PORT = 7399;
const WARM = 300;
const ROUNDS = 3000;
const agent = new Agent({ keepAlive: true, maxSockets: 1 });

const PLAN = JSON.stringify({
  format: "rumek.plan/1",
  pack: { chemistry: "lipo", series: 6, capacity_ah: 4 },
  source: { kind: "bench_supply", max_voltage_v: 60, max_current_a: 10, max_power_w: 80 },
});

function ask(method, path, body) {
  return new Promise((resolve, reject) => {
    const headers = body ? { "content-type": "application/json", "content-length": Buffer.byteLength(body) } : {};
    const start = process.hrtime.bigint();
    const sent = request({ host: "127.0.0.1", port: PORT, method, path, headers, agent }, (answer) => {
      answer.on("data", () => {});
      answer.on("end", () => {
        const us = Number(process.hrtime.bigint() - start) / 1000;
        const core = /core;dur=([\d.]+)/.exec(answer.headers["server-timing"] ?? "");
        if (answer.statusCode !== 200) reject(new Error(`${method} ${path}: ${answer.statusCode}`));
        else resolve({ us, core: core ? Number(core[1]) * 1000 : 0 });
      });
    });
    sent.on("error", reject);
    sent.end(body);
  });
}

const median = (numbers) => numbers.sort((a, b) => a - b)[Math.floor(numbers.length / 2)];

async function measure(method, path, body) {
  for (let n = 0; n < WARM; n++) await ask(method, path, body);
  const times = [];
  for (let n = 0; n < ROUNDS; n++) times.push(await ask(method, path, body));
  return { whole: median(times.map(({ us }) => us)), core: median(times.map(({ core }) => core)) };
}

const server = spawn(BINARY, ["serve", "--port", String(PORT), "--database-url", "postgres://nobody@127.0.0.1:1/none"], {
  env: { ...process.env, RUST_LOG: "off" },
  stdio: "ignore",
});
try {
  for (let n = 0; n < 100; n++) {
    if (await ask("GET", "/healthz").then(() => true, () => false)) break;
    await new Promise((done) => setTimeout(done, 100));
  }
  const empty = await measure("GET", "/api/version");
  const plan = await measure("POST", "/api/plan", PLAN);
  const share = plan.whole - plan.core;
  const row = (name, us) => console.log(`${name.padEnd(44)}${us.toFixed(0).padStart(6)} µs`);
  row("empty JSON route, median", empty.whole);
  row("POST /api/plan, median", plan.whole);
  row("  of it the core", plan.core);
  row("  the server's own share", share);
  console.log(`${(share / empty.whole).toFixed(2)} times the empty route (at most 3 is the aim).`);
} finally {
  server.kill("SIGTERM");
  agent.destroy();
}
