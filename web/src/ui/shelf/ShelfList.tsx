import { Button, Drawer, Segmented, Select } from "antd";
import { type ReactNode, useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { ProblemError, type Schemas } from "../../api/client";
import { type Documents, type Kept, type Stored, usePutAway, useRow, useRows, useSave } from "../../api/shelves";
import { keep, readKept } from "../../state/kept";
import { ofDocument, shaped } from "../../state/shape";
import { explain, useFeedback } from "../feedback";
import { overlays } from "../overlays";
import type { Editor } from "../documents/editor";
import { withValue } from "../documents/pointer";
import { StepButtons } from "../StepButtons";
import { Steps, type Way } from "../steps";
import { shownDate } from "../words";
import type { Usual } from "./usual";
import "../work.css";
import "./shelf.css";
import { PressMenu } from "../PressMenu";
import { problemWords } from "../documents/fieldWords";

interface Props<S extends Kept> {
  shelf: S;
  title: string;
  /** The way to the other shelves of this screen. */
  tabs?: ReactNode;
  /** What one is called: "pack", "supply". */
  one: string;
  /** What this screen is for, said while it is empty. */
  teach: string;
  example: Documents[S];
  /** Things as they are usually sold, to begin with. */
  usual?: readonly Usual<Documents[S]>[];
  fresh: Documents[S];
  words: (document: Documents[S]) => string;
  sorts: readonly { value: string; label: string; of: (document: Documents[S]) => string | number }[];
  draw: (document: Documents[S]) => ReactNode;
  /** What it truly does, beside what its box says. */
  truly?: (document: Documents[S]) => string | undefined;
  fields: (editor: Editor<Documents[S]>) => ReactNode;
  onPlan: (row: Stored<S>) => void;
  /** What else can be done with one. */
  more?: (row: Stored<S>) => ReactNode;
  /** What those in use are, where they are asked for in another way than all at once. */
  asked?: Asked<S>;
  /** Said under one. */
  below?: (row: Stored<S>) => ReactNode;
  /** One that is kept has a page of its own; it is changed at an address below that. */
  paged?: boolean;
}

/** Rows that come sorted and searched. */
interface Asked<S extends Kept> {
  data: readonly Stored<S>[] | undefined;
  isLoading: boolean;
  isError: boolean;
  error: unknown;
  refetch: () => unknown;
  /** What is found when nothing is looked for. */
  none: boolean;
  controls: ReactNode;
  footer?: ReactNode;
}

interface Editing<S extends Kept> {
  id?: string;
  version?: number;
  document: Documents[S];
}

/** Things kept: seen at a glance, sorted, added, changed, duplicated, put away and taken out again. */
export function ShelfList<S extends Kept>(props: Props<S>) {
  const { shelf, title, one, sorts } = props;
  const [archived, setArchived] = useState(false);
  const [sort, setSort] = useState(sorts[0]?.value);
  const [fresh, setFresh] = useState<Editing<S>>();
  const all = useRows(shelf, archived, archived || props.asked === undefined);
  const rows = archived || props.asked === undefined ? all : props.asked;
  const none = rows.data?.length === 0 && (archived || props.asked === undefined || props.asked.none);
  const { id: asked } = useParams();
  const location = useLocation();
  const { pathname, search } = location;
  const cameFrom = (location.state as { from?: string } | null)?.from;
  const navigate = useNavigate();
  const base = pathname.split("/").slice(0, 2).join("/");
  const found = useRow(shelf, asked).data;
  const opened: Editing<S> | undefined = asked === undefined ? undefined : found && { id: found.id, version: found.version, document: found.document };
  const editing = fresh ?? opened;
  /** One that is kept has an address of its own; a new one has none yet. */
  const setEditing = (next: Editing<S>) => {
    if (next.id === undefined) setFresh(next);
    else void navigate(`${base}/${next.id}${props.paged ? "/edit" : ""}${search}`);
  };
  const by = sorts.find(({ value }) => value === sort)?.of;
  const sorted = by && rows === all ? [...(rows.data ?? [])].sort((a, b) => compare(by(a.document), by(b.document))) : (rows.data ?? []);
  return (
    <div className="shelf">
      <div className="shelf-head">
        <h1>{title}</h1>
        {props.tabs}
        <Segmented
          size="small"
          aria-label="Which to show"
          options={[
            { value: "active", label: "in use" },
            { value: "archived", label: "put away" },
          ]}
          value={archived ? "archived" : "active"}
          onChange={(next) => {
            setArchived(next === "archived");
          }}
        />
        {!archived && props.asked?.controls}
        {(archived || props.asked === undefined) && <Select
          size="small"
          variant="underlined"
          aria-label="Sorted by"
          popupMatchSelectWidth={false}
          value={sort ?? null}
          options={sorts.map(({ value, label }) => ({ value, label }))}
          onChange={setSort}
        />}
        <Button
          size="small"
          type="primary"
          onClick={() => {
            setEditing({ document: props.fresh });
          }}
        >
          Add a {one}
        </Button>
        {props.usual && (
          <PressMenu
            items={props.usual.map(({ label, document }) => ({
              key: label,
              label,
              onClick: () => {
                setEditing({ document: { ...document, name: label } });
              },
            }))}
          >
            <Button size="small">Like a usual one</Button>
          </PressMenu>
        )}
      </div>
      {rows.isLoading && <p className="screen-note">Fetching…</p>}
      {rows.isError && (
        <div className="shelf-empty" role="alert">
          <p>{explain(rows.error)}</p>
          <Button onClick={() => void rows.refetch()}>Ask again</Button>
        </div>
      )}
      {none && (
        <div className="shelf-empty">
          <p>{archived ? `No ${one} is put away.` : props.teach}</p>
          {!archived && (
            <Button
              onClick={() => {
                setEditing({ document: props.example });
              }}
            >
              Fill in an example
            </Button>
          )}
        </div>
      )}
      <ul className="shelf-rows">
        {sorted.map((row) => (
          <Item key={row.id} {...props} row={row} archived={archived} onEdit={setEditing} />
        ))}
      </ul>
      {!archived && props.asked?.footer}
      {editing && (
        <EditDrawer
          key={editing.id ?? "new"}
          {...props}
          start={editing}
          onClose={() => {
            setFresh(undefined);
            if (asked !== undefined) void navigate(cameFrom ?? base + search);
          }}
        />
      )}
    </div>
  );
}

const compare = (a: string | number, b: string | number) =>
  typeof a === "number" && typeof b === "number" ? a - b : String(a).localeCompare(String(b));

interface ItemProps<S extends Kept> extends Props<S> {
  row: Stored<S>;
  archived: boolean;
  onEdit: (editing: Editing<S>) => void;
}

function Item<S extends Kept>({ shelf, one, words, draw, truly, onPlan, more, below, paged, row, archived, onEdit }: ItemProps<S>) {
  const putAway = usePutAway(shelf);
  const feedback = useFeedback();
  const { document, id, version } = row;
  const name = document.name ?? words(document);
  // Awaited, not called back: by the time it is undone this item is no longer shown.
  const move = async (from: { id: string; version: number }, away: boolean, undoable: boolean) => {
    try {
      const now = await putAway.mutateAsync({ id: from.id, version: from.version, away });
      if (!undoable) return;
      feedback.undoable(away ? `“${name}” is put away.` : `“${name}” is in use again.`, () => {
        void move(now, !away, false);
      });
    } catch (error) {
      feedback.failed(error);
    }
  };
  return (
    <li className="shelf-item">
      <div className="shelf-drawing" aria-hidden="true">
        {draw(document)}
      </div>
      <h2>{paged ? <Link to={`/shelf/${id}`}>{name}</Link> : name}</h2>
      <p className="muted">{words(document)}</p>
      {truly?.(document) && <p className="shelf-truly">{truly(document)}</p>}
      {!archived && below?.(row)}
      {document.notes && <p className="shelf-notes">{document.notes}</p>}
      {(archived || !below) && <p className="shelf-date muted">changed {shownDate(row.updated_at)}</p>}
      <div className="shelf-actions">
        {archived ? (
          <Button size="small" onClick={() => { void move(row, false, true); }}>
            Take out again
          </Button>
        ) : (
          <>
            <Button size="small" aria-label={`Plan with ${name}`} onClick={() => { onPlan(row); }}>
              Plan
            </Button>
            {more?.(row)}
            <Button size="small" type="text" aria-label={`Edit ${name}`} onClick={() => { onEdit({ id, version, document }); }}>
              Edit
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`Duplicate ${name}`}
              onClick={() => {
                onEdit({ document: withValue(document, "/name", `${name}, second`) });
              }}
            >
              Duplicate
            </Button>
            <Button size="small" type="text" aria-label={`Put the ${one} ${name} away`} onClick={() => { void move(row, true, true); }}>
              Put away
            </Button>
          </>
        )}
      </div>
    </li>
  );
}

/** Whether what was typed into a drawer that was closed without saving is a document of its kind. */
const isTyped: { readonly [S in Kept]: (value: unknown) => value is Documents[S] } = {
  packs: shaped(ofDocument("PackDoc")),
  supplies: shaped(ofDocument("SourceDoc")),
  chargers: shaped(ofDocument("ChargerDoc")),
  leads: shaped(ofDocument("LeadDoc")),
};

const NONE: readonly Schemas["FieldProblem"][] = [];

function EditDrawer<S extends Kept>({ shelf, one, start, fields, draw, onClose }: Props<S> & { start: Editing<S>; onClose: () => void }) {
  const key = `rumek.typed.${shelf}.${start.id ?? `new ${start.document.name ?? ""}`}`;
  const [typed] = useState(() => readKept(key, isTyped[shelf], sessionStorage));
  const [document, setDocument] = useState(typed ?? start.document);
  const [resumed, setResumed] = useState(typed !== undefined);
  const [steps] = useState(() => new Steps<Documents[S]>());
  // A drawer that is closed keeps what was typed until it is saved.
  useEffect(() => {
    keep(key, JSON.stringify(document) === JSON.stringify(start.document) ? undefined : document, sessionStorage);
  }, [document, start.document, key]);
  const go = (way: Way) => {
    const found = steps.take(way, document);
    if (found) setDocument(found);
    return found !== undefined;
  };
  const [version, setVersion] = useState(start.version);
  const [problems, setProblems] = useState(NONE);
  const save = useSave(shelf);
  const feedback = useFeedback();
  const editor: Editor<Documents[S]> = {
    document,
    problems,
    set: (pointer, value) => {
      steps.note(document, pointer);
      setDocument((before) => withValue(before, pointer, value));
      setProblems((before) => before.filter((problem) => !problem.pointer.startsWith(pointer)));
    },
  };
  const write = () => {
    save.mutate(
      { ...start, version, document },
      {
        onSuccess: () => {
          sessionStorage.removeItem(key);
          feedback.done("Saved.");
          onClose();
        },
        onError: (error) => {
          const stands = error instanceof ProblemError ? error.problem.current : undefined;
          if (stands) {
            setVersion(stands.version);
            feedback.failed(new Error("It was changed elsewhere in between. Save again to put yours over it, or close to keep what stands."));
            return;
          }
          const found = error instanceof ProblemError ? error.problem.problems : [];
          setProblems(found.map((problem) => ({ ...problem, pointer: problem.pointer.replace(/^\/document/, "") })));
          feedback.failed(error);
        },
      },
    );
  };
  return (
    <Drawer
      title={start.id === undefined ? `New ${one}` : `Change this ${one}`}
      size={620}
      open
      onClose={onClose}
      getContainer={overlays}
      extra={
        <>
          <StepButtons steps={steps} of={`this ${one}`} go={go} />
          <Button type="primary" loading={save.isPending} onClick={write}>
            Save
          </Button>
        </>
      }
    >
      {resumed && (
        <p className="field-problem" role="status">
          What you typed here before is here again; it is not saved.{" "}
          <Button
            size="small"
            onClick={() => {
              setDocument(start.document);
              setResumed(false);
            }}
          >
            {start.id === undefined ? "Begin anew" : "Show what is saved"}
          </Button>
        </p>
      )}
      <div className="shelf-drawing" aria-hidden="true">
        {draw(document)}
      </div>
      {problems.length > 0 && (
        <ul className="trouble" role="alert">
          {problems.map((problem) => (
            <li key={problem.pointer + problem.message}>
              {problemWords(problem, one)}
            </li>
          ))}
        </ul>
      )}
      {fields(editor)}
    </Drawer>
  );
}
