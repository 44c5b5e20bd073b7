import { Button, Input, Select } from "antd";
import { useDeferredValue, useState } from "react";
import { useNavigate } from "react-router";
import type { PackDoc } from "../../api/client";
import { PackLabelFields } from "../../ui/documents/PackFields";
import { PackDrawing } from "../../ui/shelf/PackDrawing";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { USUAL_PACKS } from "../../ui/shelf/usual";
import { markWords, packWords } from "../../ui/words";
import { caseOfPack, setCase } from "../rescue/case";
import { planWith } from "./planWith";
import { RestLine } from "./RestLine";
import { ShelfTabs } from "./ShelfTabs";
import { Standing } from "./Standing";
import { type ShelfAsk, useShelf } from "./useShelf";
import "./pack.css";

const EXAMPLE: PackDoc = { name: "Slope glider", chemistry: "lipo", series: 3, capacity_ah: 2.2, rated_c_rate: 1, balancer: "none" };

const PUT_AWAY_SORTS = [{ value: "name", label: "by name", of: (pack: PackDoc) => pack.name ?? "" }];

const SORTS = [
  { value: "need", label: "what needs me" },
  { value: "name", label: "by name" },
  { value: "health", label: "by health" },
  { value: "used", label: "last used" },
] as const satisfies readonly { value: ShelfAsk["sort"]; label: string }[];

/** So many are shown at once; more on demand. */
const PAGE = 60;

/** My packs: how full, how healthy, and the one thing each needs. */
export default function ShelfScreen() {
  const navigate = useNavigate();
  const [sort, setSort] = useState<ShelfAsk["sort"]>("need");
  const [search, setSearch] = useState("");
  const [tag, setTag] = useState<string>();
  const [limit, setLimit] = useState(PAGE);
  const ask: ShelfAsk = { sort, search: useDeferredValue(search).trim(), tag, limit };
  const found = useShelf(ask);
  const shown = found.data?.packs ?? [];
  const standings = new Map(shown.map(({ pack, standing }) => [pack.id, standing]));
  const total = found.data?.total ?? 0;
  return (
    <ShelfList
      shelf="packs"
      title="Shelf"
      tabs={<ShelfTabs />}
      one="pack"
      teach="Your packs live here: what their labels say, once, so that a plan needs only how they stand today."
      example={EXAMPLE}
      usual={USUAL_PACKS}
      fresh={{ chemistry: "lipo" }}
      words={packWords}
      sorts={PUT_AWAY_SORTS}
      paged
      asked={{
        data: found.data && shown.map(({ pack }) => pack),
        isLoading: found.isLoading,
        isError: found.isError,
        error: found.error,
        refetch: found.refetch,
        none: ask.search === "" && tag === undefined,
        controls: (
          <>
            <Input
              size="small"
              variant="underlined"
              className="shelf-search"
              aria-label="Search the shelf"
              placeholder="search"
              allowClear
              value={search}
              onChange={(event) => {
                setSearch(event.target.value);
                setLimit(PAGE);
              }}
            />
            <Select<ShelfAsk["sort"]> size="small" variant="underlined" aria-label="Sorted by" popupMatchSelectWidth={false} value={sort} options={[...SORTS]} onChange={setSort} />
            {(found.data?.tags.length ?? 0) > 0 && (
              <Select<string>
                size="small"
                variant="underlined"
                aria-label="With the tag"
                popupMatchSelectWidth={false}
                allowClear
                placeholder="every tag"
                value={tag ?? null}
                options={(found.data?.tags ?? []).map(([name, count]) => ({ value: String(name), label: `${String(name)} (${String(count)})` }))}
                onChange={(next: string | undefined) => {
                  setTag(next);
                }}
              />
            )}
          </>
        ),
        footer:
          shown.length < total ? (
            <p className="shelf-more">
              {shown.length} of {total} are shown.{" "}
              <Button
                size="small"
                onClick={() => {
                  setLimit((before) => before + 2 * PAGE);
                }}
              >
                Show more
              </Button>
            </p>
          ) : shown.length === 0 && found.isSuccess && (ask.search !== "" || tag !== undefined) ? (
            <p className="screen-note">No pack has these words.</p>
          ) : null,
      }}
      draw={(pack) => <PackDrawing pack={pack} charge={chargeOf(pack, shown)} />}
      truly={markWords}
      below={(row) => (
        <>
          <Standing standing={standings.get(row.id)} />
          <RestLine pack={row} name={row.document.name ?? packWords(row.document)} />
        </>
      )}
      more={(row) => (
        <Button
          size="small"
          type="text"
          aria-label={`Rescue ${row.document.name ?? packWords(row.document)}`}
          onClick={() => {
            setCase(caseOfPack(row));
            void navigate("/rescue");
          }}
        >
          Rescue
        </Button>
      )}
      fields={(editor) => <PackLabelFields editor={editor} />}
      onPlan={(row) => {
        planWith(row);
        void navigate("/plan");
      }}
    />
  );
}

/** How full the pack of that document is; undefined where it is not on the shelf. */
function chargeOf(document: PackDoc, shown: readonly { pack: { document: PackDoc }; standing?: PackRowStanding }[]) {
  const one = shown.find(({ pack }) => pack.document === document);
  return one?.standing ? (one.standing.charge ?? null) : undefined;
}

type PackRowStanding = Parameters<typeof Standing>[0]["standing"];
