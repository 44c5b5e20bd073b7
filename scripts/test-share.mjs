// Test lines over other code lines, of Rust and TypeScript alone: no blanks, comments, generated files, snapshots or demo data.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { dirname } from "node:path";

const files = execFileSync("git", ["ls-files", "*.rs", "*.ts", "*.tsx"], { encoding: "utf8" })
  .trim()
  .split("\n")
  .filter((file) => file !== "web/src/api/schema.d.ts");

// Modules that are compiled for tests only, each in a file of its own beside the one that declares it.
const TEST_MODULE = /^#\[cfg\(test\)\]\n(?:#\[.*\]\n)*(?:pub\(crate\) )?mod (\w+);/gm;
const testModules = new Set(
  files
    .filter((file) => file.endsWith(".rs"))
    .flatMap((file) => [...readFileSync(file, "utf8").matchAll(TEST_MODULE)].map(([, name]) => `${dirname(file)}/${name}.rs`)),
);
const isTest = (file) => testModules.has(file) || /(^|\/)(tests|benches|testing)\/|\.test\.tsx?$|^crates\/testkit\//.test(file);
const isCode = (line) => line !== "" && !/^(\/\/|#(?!\[)|--|\*|\/\*)/.test(line);

let [tests, code] = [0, 0];
for (const file of files) {
  const text = readFileSync(file, "utf8");
  const [own, inner = ""] = file.endsWith(".rs") ? text.split(/^#\[cfg\(test\)\]\n(?:#\[.*\]\n)*mod \w+ \{$/m) : [text];
  const count = (part) => part.split("\n").map((line) => line.trim()).filter(isCode).length;
  if (isTest(file)) tests += count(text);
  else {
    code += count(own);
    tests += count(inner);
  }
}
const share = tests / code;
console.log(`Tests ${tests} lines, other code ${code} lines: share ${share.toFixed(2)} (a quarter to a third is the aim).`);
const [LEAST, MOST] = [0.22, 0.34];
if (share < LEAST || share > MOST) {
  console.error(`The test share is ${share.toFixed(2)}, outside ${LEAST} to ${MOST}.`);
  process.exit(1);
}
