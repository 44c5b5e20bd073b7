import known from "../../api/kinds.json";
import type { Schemas } from "../../api/client";
import { PRACTICES, practiceWords } from "../../ui/documents/practices";

const { chemistries } = known as Schemas["KindsDoc"];

/** Every chemistry’s practices in figures. */
export function Practices() {
  return (
    <div className="guide-wide">
      <table className="guide-practices">
        <thead>
          <tr>
            <th scope="col">Chemistry</th>
            {PRACTICES.map(({ value, label }) => (
              <th key={value} scope="col">
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {chemistries
            .filter(({ practices }) => practices.length > 0)
            .map(({ chemistry, name }) => (
              <tr key={chemistry}>
                <th scope="row">{name}</th>
                {PRACTICES.map(({ value }) => (
                  <td key={value} className="figures">
                    {practiceWords(chemistry, value)}
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
