// Prints the ten slowest tests of the last run of nextest.
import { readFileSync } from "node:fs";

const report = readFileSync("target/nextest/default/junit.xml", "utf8");
const tests = [...report.matchAll(/<testcase name="([^"]+)" classname="([^"]+)"[^>]* time="([\d.]+)"/g)];
if (tests.length === 0) throw new Error("the report names no test");
const slowest = tests.map(([, name, where, time]) => ({ name, where, time: Number(time) })).sort((a, b) => b.time - a.time);
console.log("The ten slowest:");
for (const { name, where, time } of slowest.slice(0, 10)) console.log(`${time.toFixed(1).padStart(7)} s  ${where} ${name}`);
