import { Segmented } from "antd";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { useRow } from "../../api/shelves";
import { Chargers } from "./Chargers";
import { Leads } from "./Leads";
import { Supplies } from "./Supplies";
import type { Part } from "./useTakeIntoPlan";

const PARTS = [
  { value: "supplies", label: "Supplies" },
  { value: "chargers", label: "Chargers" },
  { value: "leads", label: "Leads" },
] as const;

/** My supplies, chargers and leads, and what they truly do. */
export default function GearScreen() {
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const { id } = useParams();
  const named = PARTS.find(({ value }) => value === params.get("part"))?.value;
  // An address without its part: whichever shelf holds it.
  const lost = named === undefined ? id : undefined;
  const chargers = useRow("chargers", lost).data;
  const leads = useRow("leads", lost).data;
  const part = named ?? (chargers ? "chargers" : leads ? "leads" : "supplies");
  const tabs = (
    <Segmented<Part>
      size="small"
      aria-label="Which gear"
      options={[...PARTS]}
      value={part}
      onChange={(next) => void navigate(next === "supplies" ? "/gear" : `/gear?part=${next}`)}
    />
  );
  switch (part) {
    case "chargers":
      return <Chargers key={part} tabs={tabs} />;
    case "leads":
      return <Leads key={part} tabs={tabs} />;
    default:
      return <Supplies key={part} tabs={tabs} />;
  }
}
