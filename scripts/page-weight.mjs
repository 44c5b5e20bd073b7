// The compressed script of the first route's static closure, by the build's own manifest.
import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";

const BUDGET_KB = 450;
const manifest = JSON.parse(readFileSync("web/dist/.vite/manifest.json", "utf8"));
const files = new Set();
const walk = (key) => {
  const { file, imports = [] } = manifest[key];
  if (files.has(file)) return;
  files.add(file);
  imports.forEach(walk);
};
walk("index.html");
const bytes = [...files].reduce((sum, file) => sum + gzipSync(readFileSync(`web/dist/${file}`), { level: 9 }).length, 0);
const kb = Math.round(bytes / 1000);
console.log(`First route: ${kb} kB of compressed script (at most ${BUDGET_KB}).`);
if (kb > BUDGET_KB) process.exit(1);
