import { day, timeOfDay } from "../../ui/clock";
import { Checkbox, Select } from "antd";
import type { Schemas } from "../../api/client";
import { COLUMNS, unitsOf, withMeaning } from "./logFile";
import { degrees } from "../../ui/preferences";
import { trimmed } from "../../ui/quantity/parse";
import { readingWords } from "./words";

const toTheSecond = (unix_s: number) => timeOfDay(new Date(unix_s * 1000), true);

/** What a column gives in the first line that can be read. */
function readAs(is: string, cell: number, first: Schemas["LogLookDoc"]["readings"][number] | undefined): string {
  if (!first) return "nothing yet";
  if (is === "time" || is === "date") return is === "date" ? day(new Date(first.unix_s * 1000)) : toTheSecond(first.unix_s);
  const { reading } = first;
  const value = is === "cell_v" ? reading.cell_voltages_v?.[cell - 1] : (reading as Record<string, unknown>)[is];
  if (typeof value !== "number") return typeof value === "string" ? value : "nothing";
  const unit = is.slice(is.lastIndexOf("_") + 1);
  return unit === "c" ? degrees(value) : `${trimmed(value, 3)} ${unit === "v" ? "V" : unit === "a" ? "A" : "Ah"}`;
}

interface Props {
  look: Schemas["LogLookDoc"];
  onColumns: (columns: Schemas["LogColumnDoc"][]) => void;
}

/** The first lines of a file under what each column is taken for, and what they become. */
export function LogTable({ look, onColumns }: Props) {
  const columns = look.mapping.columns ?? [];
  const header = look.mapping.header ?? [];
  const first = look.readings.find((read) => read != null);
  const change = (at: number, part: Partial<Schemas["LogColumnDoc"]>) => {
    onColumns(columns.map((column, k) => (k === at ? { ...column, ...part } : column)));
  };
  return (
    <div className="log-table-frame">
      <table className="log-table">
        <thead>
          <tr>
            {columns.map((column, k) => {
              const is = column.is ?? "ignored";
              const name = header[k] || `column ${k + 1}`;
              const amps = is.endsWith("_a");
              return (
                <th key={k} scope="col" className={is === "ignored" ? "unused" : ""}>
                  <span>{name}</span>
                  <Select
                    size="small"
                    variant="underlined"
                    aria-label={`What “${name}” is`}
                    popupMatchSelectWidth={false}
                    value={is}
                    options={[...COLUMNS]}
                    onChange={(value) => {
                      onColumns(withMeaning(columns, k, value));
                    }}
                  />
                  {is === "cell_v" && <span className="figures">cell {column.cell}</span>}
                  {unitsOf(is).length > 0 && (
                    <Select
                      size="small"
                      variant="underlined"
                      aria-label={`What “${name}” counts in`}
                      value={column.unit ?? unitsOf(is)[0] ?? null}
                      options={unitsOf(is).map((unit) => ({ value: unit, label: unit }))}
                      onChange={(unit) => {
                        change(k, { unit });
                      }}
                    />
                  )}
                  {amps && (
                    <Checkbox
                      checked={column.negative === true}
                      onChange={(event) => {
                        change(k, { negative: event.target.checked });
                      }}
                    >
                      charging is negative
                    </Checkbox>
                  )}
                  {is !== "ignored" && <span className="read-as muted">is read as {readAs(is, column.cell ?? 1, first)}</span>}
                </th>
              );
            })}
            <th scope="col">the line is read as</th>
          </tr>
        </thead>
        <tbody>
          {look.lines.map((line, k) => {
            const read = look.readings[k];
            return (
              <tr key={k}>
                {columns.map((column, at) => (
                  <td key={at} className={(column.is ?? "ignored") === "ignored" ? "figures unused" : "figures"}>
                    {line[at]}
                  </td>
                ))}
                <td className="figures">{read ? `${toTheSecond(read.unix_s)} · ${readingWords(read.reading)}` : "cannot be read"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
