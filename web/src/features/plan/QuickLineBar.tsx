import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, type InputRef } from "antd";
import { useEffect, useRef } from "react";
import { useLocation, useNavigate } from "react-router";
import { answered, api, type QuickLine } from "../../api/client";
import { currentDraft, type Draft, draftOfLine, goBackTo, setDraft } from "./draft";
import { clearLine, typeLine, useLine } from "./line";

const EXAMPLE = "6S 4000 lipo, 30 V 5 A bench";

const lineQuery = (text: string) => ({
  queryKey: ["quick-line", text],
  networkMode: "always" as const,
  retry: false,
  staleTime: Number.POSITIVE_INFINITY,
  queryFn: ({ signal }: { signal: AbortSignal }) => answered(api.POST("/api/quick-line", { body: { text }, signal })),
});

/** One line of text that starts a plan, and what was understood of it. What it leaves open is asked on the plan. */
export function QuickLineBar({ inputRef }: { inputRef: React.RefObject<InputRef | null> }) {
  const { text, of } = useLine();
  const said = text.trim();
  const before = useRef<Draft>(undefined);
  /** What the plan on the bench was read from last: what was changed in its fields since stays. */
  const applied = useRef<string>(undefined);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const client = useQueryClient();
  const read = useQuery({ ...lineQuery(said), enabled: said !== "", placeholderData: (previous) => previous });
  const line = said === "" ? undefined : read.data;
  const fresh = line !== undefined && !read.isPlaceholderData;

  useEffect(() => {
    // What was kept with Enter is not read over: it may be changed by then.
    if (!fresh || !(line.plan.pack || line.held) || applied.current === said) return;
    applied.current = said;
    setDraft(draftOfLine(said, line, of), "line");
  }, [fresh, line, said, of]);

  const back = () => {
    if (before.current) goBackTo(before.current);
    before.current = undefined;
    applied.current = undefined;
    clearLine();
  };
  /** What stands in the field counts, however slow the answer. */
  const keep = async () => {
    const last = text.trim();
    if (last === "") return;
    const line = await client.query(lineQuery(last)).catch(() => undefined);
    // Without an answer the words stay in the field.
    if (!line) return;
    if (applied.current !== last && (line.plan.pack || line.plan.source || line.held)) setDraft(draftOfLine(last, line, of), "line");
    applied.current = undefined;
    before.current = undefined;
    clearLine();
  };
  return (
    <>
      <Input
        ref={inputRef}
        className="quick-line figures"
        variant="underlined"
        aria-label="Quick line: pack, then supply"
        placeholder={EXAMPLE}
        autoComplete="off"
        spellCheck={false}
        maxLength={400}
        value={text}
        onChange={(event) => {
          if (text === "") before.current = currentDraft();
          if (!pathname.startsWith("/plan")) void navigate("/plan");
          if (event.target.value === "") applied.current = undefined;
          typeLine(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === "Escape") back();
          if (event.key === "Enter") void keep();
        }}
      />
      {text !== "" && (
        <div className="line-read" role="status">
          {line ? <Read line={line} /> : <p className="muted">{read.isError ? "The server cannot be reached. What you typed stays here." : "Reading…"}</p>}
          <span className="line-actions">
            <Button size="small" type="primary" onClick={() => void keep()}>
              Keep
            </Button>
            <Button size="small" onClick={back}>
              Back
            </Button>
          </span>
        </div>
      )}
    </>
  );
}

function Read({ line }: { line: QuickLine }) {
  return (
    <div className="line-pieces">
      {line.understood.map((piece) => (
        <span key={piece.pointer + piece.text} className="piece">
          <span className="figures muted">{piece.text}</span> {piece.meaning}
        </span>
      ))}
      {line.not_understood.map((piece) => (
        <span key={piece.text} className="piece lost">
          not understood: “{piece.text}”
        </span>
      ))}
    </div>
  );
}
