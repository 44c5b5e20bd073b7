// Checks that every web package that ships, or builds what ships, has a licence we know.
import { readFileSync } from "node:fs";

const ALLOWED = new Set(["0BSD", "Apache-2.0", "BSD-2-Clause", "BSD-3-Clause", "BlueOak-1.0.0", "CC-BY-4.0", "CC0-1.0", "ISC", "MIT", "MIT-0", "MPL-2.0", "OFL-1.1", "Python-2.0", "Unlicense"]);
const { packages } = JSON.parse(readFileSync("web/package-lock.json", "utf8"));

/** "(MIT OR CC0-1.0)" is fine where any of it is; "MIT AND ISC" where all of it is. */
const fine = (licence) =>
  licence
    .replaceAll(/[()]/g, "")
    .split(" OR ")
    .some((choice) => choice.split(" AND ").every((name) => ALLOWED.has(name.trim())));

const wrong = Object.entries(packages)
  .filter(([path]) => path !== "")
  .filter(([, { license }]) => typeof license !== "string" || !fine(license))
  .map(([path, { license }]) => `${path}: ${license ?? "no licence said"}`);
if (wrong.length > 0) {
  console.error(`Web packages whose licence is not on the list:\n${wrong.join("\n")}`);
  process.exit(1);
}
console.log(`${Object.keys(packages).length - 1} web packages, every licence known.`);
