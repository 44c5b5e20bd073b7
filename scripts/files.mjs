// What the checks share.
import { readdirSync, statSync } from "node:fs";
import { join } from "node:path";

/** Every file below a folder. */
export function filesBelow(folder) {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? filesBelow(path) : [path];
  });
}
