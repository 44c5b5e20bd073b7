// Writes web/dist/notices.txt: what ships with Rumek, whose it is and under which licence.
import { execFileSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";

const metadata = JSON.parse(
  execFileSync("cargo", ["metadata", "--format-version", "1", "--locked", "--filter-platform", "x86_64-unknown-linux-gnu"], {
    encoding: "utf8",
    maxBuffer: 1 << 28,
  }),
);
const byId = new Map(metadata.packages.map((one) => [one.id, one]));
const nodes = new Map(metadata.resolve.nodes.map((node) => [node.id, node]));

/** What the binary is built from: no development dependencies. */
const shipped = new Set();
const walk = (id) => {
  if (shipped.has(id)) return;
  shipped.add(id);
  for (const { pkg, dep_kinds } of nodes.get(id).deps) if (dep_kinds.some(({ kind }) => kind !== "dev")) walk(pkg);
};
walk(metadata.packages.find((one) => one.name === "rumek-server").id);
const crates = [...shipped].map((id) => byId.get(id)).filter((one) => one.source);

const { packages } = JSON.parse(readFileSync("web/package-lock.json", "utf8"));
const web = Object.entries(packages)
  .filter(([path, one]) => path !== "" && !one.dev)
  .map(([path, one]) => ({ path: `web/${path}`, name: path.replace(/^.*node_modules\//, ""), version: one.version, license: one.license }));

/** The licence texts a folder carries. */
const texts = (folder) =>
  existsSync(folder)
    ? readdirSync(folder, { withFileTypes: true })
        .filter((entry) => entry.isFile() && /^(licen[cs]e|copying|notice|ofl)/i.test(entry.name) && !entry.name.endsWith(".js"))
        .map(({ name }) => readFileSync(`${folder}/${name}`, "utf8").trim())
    : [];

const seen = new Map();
const entry = (title, licence, found) => {
  const numbers = found.map((text) => {
    if (!seen.has(text)) seen.set(text, seen.size + 1);
    return seen.get(text);
  });
  return `${title}: ${licence}${numbers.length > 0 ? ` (text ${numbers.join(", ")})` : ""}`;
};
const lines = [...new Set([
  ...crates.map((one) => entry(`${one.name} ${one.version}`, one.license, texts(one.manifest_path.replace(/\/[^/]*$/, "")))),
  ...web.map((one) => entry(`${one.name} ${one.version}`, one.license, texts(one.path))),
])].sort();
const bodies = [...seen].map(([text, number]) => `---- text ${number} ----\n\n${text}\n`);
writeFileSync(
  "web/dist/notices.txt",
  `Rumek is licensed under the Apache License, Version 2.0. It is built with:\n\n${lines.join("\n")}\n\n${bodies.join("\n")}`,
);
