// Proves that styles stay where they belong: what a class begins is styled in one file, a screen uses no class of
// another screen's, windows turn at two widths alone, and lengths in pixels are the tokens'.
import { readFileSync } from "node:fs";
import { dirname, relative } from "node:path";
import { filesBelow } from "./files.mjs";

const ROOT = "web/src";
/** The two widths at which a screen turns: columns lie one below the other, and a phone. */
const TURNS = ["1100px", "640px"];
/** What is printed is laid out as one page, of whatever screen. */
const PRINT = "features/plan/print.css";

const files = filesBelow(ROOT);
const read = (file) => readFileSync(file, "utf8");
const short = (file) => relative(ROOT, file);
const screenOf = (file) => short(file).match(/^features\/(\w+)\//)?.[1];
const wrong = [];
const owners = new Map();
const known = new Map();

for (const file of files.filter((file) => file.endsWith(".css"))) {
  const text = read(file).replace(/\/\*.*?\*\//gs, "");
  for (const [, width] of text.matchAll(/@media \((?:max|min)-width: ([^)]+)\)/g))
    if (!TURNS.includes(width)) wrong.push(`${short(file)}: turns at ${width}; allowed: ${TURNS.join(", ")}`);
  if (short(file) !== "theme/tokens.css" && short(file) !== PRINT)
    for (const [length] of text.replace(/@media[^{]*/g, "").matchAll(/(?<![\w.])\d[\d.]*px/g)) wrong.push(`${short(file)}: ${length} stands beside the tokens`);
  for (const [, selectors] of text.matchAll(/([^{};]+)\{/g)) {
    if (selectors.trim().startsWith("@")) continue;
    for (const selector of selectors.split(",")) {
      const classes = [...selector.matchAll(/\.([a-zA-Z][\w-]*)/g)].map(([, name]) => name);
      for (const name of classes) known.set(name, (known.get(name) ?? new Set()).add(file));
      if (classes[0] && short(file) !== PRINT) owners.set(classes[0], (owners.get(classes[0]) ?? new Set()).add(file));
    }
  }
}
for (const [name, where] of owners) if (where.size > 1) wrong.push(`.${name} begins selectors in ${[...where].map(short).join(" and ")}`);

for (const file of files.filter((file) => file.endsWith(".tsx") && screenOf(file))) {
  const words = [...read(file).matchAll(/className=\{?[`"]([^`"]*)/g)].flatMap(([, names]) => names.match(/[\w-]+/g) ?? []);
  for (const name of new Set(words)) {
    const where = [...(known.get(name) ?? [])];
    const foreign = where.length > 0 && where.every((css) => screenOf(css) && screenOf(css) !== screenOf(file));
    if (foreign) wrong.push(`${short(file)}: .${name} is styled in ${where.map((css) => dirname(short(css))).join(", ")}`);
  }
}
if (wrong.length > 0) {
  console.error(wrong.join("\n"));
  process.exit(1);
}
console.log(`${owners.size} classes begin selectors, each in one file.`);
