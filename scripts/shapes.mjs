// What the web checks a kept or linked document against: of each schema only which fields it has and of what kind.
// Bounds stay out: a value that is being typed may pass them, and the core says so.
import { readFileSync, writeFileSync } from "node:fs";

const ROOTS = [
  "PlanDoc", "RescueCaseDoc", "PackDoc", "SourceDoc", "ChargerDoc", "LeadDoc", "LinksDoc", "AskDoc", "AssumedDoc", "DischargeAskDoc", "PreflightAnswerDoc",
];
const KEPT = new Set(["type", "properties", "items", "$ref", "anyOf", "oneOf", "enum", "const", "additionalProperties", "required"]);
const [from, to] = process.argv.slice(2);
const { schemas } = JSON.parse(readFileSync(from, "utf8")).components;

const found = {};
const cut = (schema) => {
  if (typeof schema !== "object" || schema === null) return schema;
  const short = {};
  for (const [key, value] of Object.entries(schema)) {
    if (!KEPT.has(key)) continue;
    if (key === "$ref") {
      const name = value.split("/").at(-1);
      short.$ref = `#/$defs/${name}`;
      add(name);
    } else if (key === "properties") short.properties = Object.fromEntries(Object.entries(value).map(([name, one]) => [name, cut(one)]));
    else if (key === "anyOf" || key === "oneOf") short[key] = value.map(cut);
    else short[key] = key === "items" || key === "additionalProperties" ? cut(value) : value;
  }
  return short;
};
const add = (name) => {
  if (name in found) return;
  found[name] = {};
  found[name] = cut(schemas[name]);
};
ROOTS.forEach(add);
const sorted = Object.fromEntries(Object.keys(found).sort().map((name) => [name, found[name]]));
writeFileSync(to, `${JSON.stringify({ $defs: sorted })}\n`);
