// Proves the layers of the Rust crates and of the web: no file asks a floor above its own, and no files ask each
// other in a circle.
// An arrow is a path that starts at crate, self or super; a module's declaration of its children is none.
import { readFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { filesBelow } from "./files.mjs";

const CRATES = [
  {
    root: "crates/core/src",
    floors: [["units", "codes"], ["formats", "physics"], ["lines"], ["parts"], ["chain"], ["acts"], ["advice"], ["asking"], ["rescue", "logbook", "shelf", "quick_line"]],
    // On the last floor rooms do not know each other; within a lower one physics knows no format.
    apart: [["rescue", "logbook", "shelf", "quick_line"], ["physics", "formats"]],
  },
  { root: "crates/store/src", floors: [], apart: [] },
  { root: "crates/server/src", floors: [], apart: [] },
];

/** The module a file is: `advice/checks/mod.rs` is ["advice", "checks"], `lib.rs` is []. */
function moduleOf(root, file) {
  const parts = relative(root, file).replace(/\.rs$/, "").split("/");
  if (["mod", "lib", "main"].includes(parts.at(-1))) parts.pop();
  return parts;
}

/** Without comments, strings and the tests of the file. */
function code(file) {
  return readFileSync(file, "utf8")
    .replace(/\/\/[^\n]*/g, "")
    .replace(/"(?:[^"\\]|\\.)*"/gs, '""')
    .replace(/#\[cfg\(test\)\]\s*(?:#\[[^\]]*\]\s*)*mod \w+ \{[\s\S]*$/m, "");
}

/** Every path of a use tree, opened out: `a::{b, c::d}` is a::b and a::c::d. */
function opened(tree) {
  const brace = tree.indexOf("{");
  if (brace < 0) return [tree.replace(/\s+as\s+\w+/, "").trim()];
  const head = tree.slice(0, brace);
  let depth = 0;
  let start = brace + 1;
  const items = [];
  for (let i = brace; i < tree.length; i++) {
    if (tree[i] === "{") depth++;
    if (tree[i] === "}") depth--;
    if ((tree[i] === "," && depth === 1) || (tree[i] === "}" && depth === 0)) {
      items.push(tree.slice(start, i).trim());
      start = i + 1;
      if (depth === 0) break;
    }
  }
  return items.filter(Boolean).flatMap((item) => opened(item === "self" ? head.replace(/::$/, "") : head + item));
}

function arrowsOf(root, file, byModule) {
  const own = moduleOf(root, file);
  const text = code(file);
  const paths = [...text.matchAll(/\buse\s+((?:crate|self|super)\b[^;]*);/g)].flatMap(([, tree]) => opened(tree));
  for (const [path] of text.replace(/\buse\s+[^;]*;/g, "").matchAll(/\b(?:crate|super)(?:::\w+)+/g)) paths.push(path);
  // `mod x;` and then `x::thing` in the same file: the parent asks its child.
  const children = [...text.matchAll(/\bmod (\w+);/g)].map(([, name]) => name);
  for (const child of children) if (new RegExp(`(?<!mod )\\b${child}::`).test(text)) paths.push(`self::${child}`);
  const to = new Set();
  for (const path of paths) {
    const parts = path.split("::").map((part) => part.trim());
    let base = own;
    while (parts[0] === "super" || parts[0] === "self") if (parts.shift() === "super") base = base.slice(0, -1);
    if (parts[0] === "crate") [base] = [[], parts.shift()];
    const whole = [...base, ...parts];
    for (let n = whole.length; n >= 0; n--) {
      const target = byModule.get(whole.slice(0, n).join("::"));
      if (target) {
        if (target !== file) to.add(target);
        break;
      }
    }
  }
  return to;
}

/** Groups of files that reach each other (Tarjan's strongly connected components, larger than one). */
function circles(graph) {
  const index = new Map();
  const low = new Map();
  const stack = [];
  const found = [];
  const visit = (node) => {
    index.set(node, index.size);
    low.set(node, index.get(node));
    stack.push(node);
    for (const next of graph.get(node)) {
      if (!index.has(next)) visit(next);
      if (stack.includes(next)) low.set(node, Math.min(low.get(node), low.get(next)));
    }
    if (low.get(node) !== index.get(node)) return;
    const group = stack.splice(stack.indexOf(node));
    if (group.length > 1) found.push(group);
  };
  for (const node of graph.keys()) if (!index.has(node)) visit(node);
  return found;
}

let wrong = 0;
for (const { root, floors, apart } of CRATES) {
  const files = filesBelow(root).filter((file) => file.endsWith(".rs"));
  const byModule = new Map(files.map((file) => [moduleOf(root, file).join("::"), file]));
  const tested = new Set(
    files.flatMap((file) =>
      [...readFileSync(file, "utf8").matchAll(/#\[cfg\(test\)\]\s*(?:#\[[^\]]*\]\s*)*mod (\w+);/g)].map(([, name]) =>
        [...moduleOf(root, file), name].join("::"),
      ),
    ),
  );
  const kept = files.filter((file) => !tested.has(moduleOf(root, file).join("::")));
  const graph = new Map(kept.map((file) => [file, [...arrowsOf(root, file, byModule)].filter((to) => kept.includes(to))]));
  const room = (file) => moduleOf(root, file)[0];
  const floor = (file) => floors.findIndex((rooms) => rooms.includes(room(file)));
  for (const [from, all] of graph) {
    for (const to of all) {
      const up = floors.length > 0 && floor(from) >= 0 && floor(to) > floor(from);
      const sideways = apart.some((rooms) => rooms.includes(room(from)) && rooms.includes(room(to)) && room(from) !== room(to));
      if (up || sideways) {
        console.error(`${relative(root, from)} asks ${relative(root, to)}, ${up ? "a floor above it" : "a room beside it"}`);
        wrong++;
      }
    }
  }
  for (const group of circles(graph)) {
    console.error(`${dirname(root)}: a circle of ${group.length} files: ${group.map((file) => relative(root, file)).join(", ")}`);
    wrong++;
  }
}

// The web: what a file imports when it is loaded, types too; a screen that is fetched later is none of it.
const WEB = "web/src";
const sources = filesBelow(WEB).filter((file) => /\.tsx?$/.test(file));
const web = new Map(
  sources.map((file) => {
    const text = readFileSync(file, "utf8").replace(/\/\*[\s\S]*?\*\//g, "");
    const asked = [...text.matchAll(/(?:from|^import)\s+"(\.[^"]*)"/gm)].map(([, path]) => join(dirname(file), path));
    const found = asked.flatMap((path) => [path, `${path}.ts`, `${path}.tsx`, join(path, "index.ts")].filter((one) => sources.includes(one)));
    return [file, found];
  }),
);
const FLOORS = ["theme", "api", "ui", "features", "app"];
const standing = (file) => FLOORS.indexOf(relative(WEB, file).split("/")[0]);
for (const [from, all] of web) {
  for (const to of all) {
    if (/\.test\.tsx?$/.test(from) || standing(from) < 0 || standing(to) <= standing(from)) continue;
    console.error(`${relative(WEB, from)} asks ${relative(WEB, to)}, a floor above it`);
    wrong++;
  }
}
for (const group of circles(web)) {
  console.error(`web: a circle of ${group.length} files: ${group.map((file) => relative(WEB, file)).join(", ")}`);
  wrong++;
}

if (wrong > 0) process.exit(1);
console.log("No arrow points up, no files ask each other in a circle.");
