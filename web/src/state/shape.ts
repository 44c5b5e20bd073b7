import { type Schema, Validator } from "@cfworker/json-schema";
import { $defs as definitions } from "../api/shapes.json";
import type { Schemas } from "../api/client";

const $defs = definitions as Record<string, Schema>;

/** A document of the formats, as a part of another shape. */
export const ofDocument = (name: keyof Schemas & keyof typeof definitions): Schema => ({ $ref: `#/$defs/${name}` });

/** An object with these fields. Those that are not named as needed may be missing; others may be there. */
export const ofFields = (properties: Record<string, Schema>, required: string[] = []): Schema => ({ type: "object", properties, required });

export const ofList = (items: Schema): Schema => ({ type: "array", items });

/** A check of something that came by link, by storage or by file: its shape alone. The core judges its values. */
// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters -- only who calls it knows which type the shape is of
export function shaped<T>(schema: Schema): (value: unknown) => value is T {
  let validator: Validator | undefined;
  return (value): value is T => {
    validator ??= new Validator({ ...schema, $defs }, "2020-12", true);
    return validator.validate(value).valid;
  };
}
