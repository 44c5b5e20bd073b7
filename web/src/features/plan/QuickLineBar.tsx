import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, type InputRef } from "antd";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { answered, api, type QuickLine, type SourceDoc } from "../../api/client";
import { withKind } from "../../ui/documents/kinds";
import { CHEMISTRY_OPTIONS, KIND_WORDS } from "../../ui/words";
import { anotherThing, changeDraft, currentDraft, type Draft, draftOfLine, goBackTo, setDraft, useDraft } from "./draft";

const EXAMPLE = "6S 4000 lipo, 30 V 5 A bench";

const lineQuery = (text: string) => ({
  queryKey: ["quick-line", text],
  networkMode: "always" as const,
  retry: false,
  staleTime: Number.POSITIVE_INFINITY,
  queryFn: ({ signal }: { signal: AbortSignal }) => answered(api.POST("/api/quick-line", { body: { text }, signal })),
});

/** What a kept line left open: shown until it is answered, dismissed or another line is typed. */
interface Kept {
  line: QuickLine;
  of: number | undefined;
}

/** One line of text that starts a plan, and what was understood of it. */
export function QuickLineBar({ inputRef }: { inputRef: React.RefObject<InputRef | null> }) {
  const [text, setText] = useState("");
  const [kept, setKept] = useState<Kept>();
  /** Questions of the line that were answered with a press, though the answer may be what was taken already. */
  const [pressed, setPressed] = useState<readonly string[]>([]);
  const onAnswer = ({ question }: Question) => {
    setPressed((before) => [...before, question]);
  };
  const said = text.trim();
  const before = useRef<Draft>(undefined);
  // One line is one thing on the bench, however often it is read while it is typed.
  const typed = useRef<number>(undefined);
  /** What the plan on the bench was read from last: answers given since stay. */
  const applied = useRef<string>(undefined);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const client = useQueryClient();
  const read = useQuery({ ...lineQuery(said), enabled: said !== "", placeholderData: (previous) => previous });
  const line = said === "" ? undefined : read.data;
  const fresh = line !== undefined && !read.isPlaceholderData;

  useEffect(() => {
    // What was kept with Enter is not read over: it may be changed by then.
    if (!fresh || !line.plan.pack || applied.current === said) return;
    applied.current = said;
    setDraft(draftOfLine(line, typed.current), "line");
  }, [fresh, line, said]);

  const back = () => {
    if (before.current) goBackTo(before.current);
    before.current = undefined;
    applied.current = undefined;
    setText("");
  };
  /** What stands in the field counts, however slow the answer. */
  const keep = async () => {
    const last = text.trim();
    if (last === "") return;
    const of = typed.current;
    const line = await client.query(lineQuery(last)).catch(() => undefined);
    // Without an answer the words stay in the field.
    if (!line) return;
    if (applied.current !== last && (line.plan.pack || line.plan.source)) setDraft(draftOfLine(line, of), "line");
    applied.current = undefined;
    before.current = undefined;
    setText("");
    setKept(line.not_understood.length + line.questions.length > 0 ? { line, of } : undefined);
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
          if (text === "") {
            before.current = currentDraft();
            typed.current = anotherThing();
          }
          setKept(undefined);
          setPressed([]);
          if (!pathname.startsWith("/plan")) void navigate("/plan");
          setText(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === "Escape") back();
          if (event.key === "Enter") void keep();
        }}
      />
      {text !== "" && (
        <div className="line-read" role="status">
          {line ? <Read line={line} pressed={pressed} onAnswer={onAnswer} /> : <p className="muted">{read.isError ? "The server cannot be reached. What you typed stays here." : "Reading…"}</p>}
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
      {text === "" && kept && (
        <LeftOpen
          kept={kept}
          pressed={pressed}
          onAnswer={onAnswer}
          onLeave={() => {
            setKept(undefined);
          }}
        />
      )}
    </>
  );
}

/** What a kept line left open, until the plan on the bench answers it or is another. */
function LeftOpen({ kept, pressed, onAnswer, onLeave }: { kept: Kept; pressed: readonly string[]; onLeave: () => void } & Answering) {
  const draft = useDraft();
  const { line } = kept;
  const left = line.questions.filter((question) => !pressed.includes(question.question) && !isAnswered(question, line, draft?.document));
  if (draft?.of !== kept.of || left.length + line.not_understood.length === 0) return null;
  return (
    <div className="line-read" role="status">
      <div className="line-pieces">
        <Lost line={line} />
        {left.map((question) => (
          <Asked key={question.question} question={question} onAnswer={onAnswer} />
        ))}
      </div>
      <span className="line-actions">
        <Button size="small" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </div>
  );
}

/** What a question's answer is in the document. */
const answerOf = (option: string) => (/^\d+$/.test(option) ? Number(option) : option);
const named = (pointer: string, option: string) =>
  pointer === "/pack/series" || pointer === "/source/series"
    ? `${option}S`
    : (CHEMISTRY_OPTIONS.find((one) => one.value === option)?.label ?? KIND_WORDS[option] ?? option);

interface Answering {
  /** Told of each question that is answered with a press. */
  onAnswer: (question: Question) => void;
}

function Read({ line, pressed, onAnswer }: { line: QuickLine; pressed: readonly string[] } & Answering) {
  return (
    <div className="line-pieces">
      {line.understood.map((piece) => (
        <span key={piece.pointer + piece.text} className="piece">
          <span className="figures muted">{piece.text}</span> {piece.meaning}
        </span>
      ))}
      <Lost line={line} />
      {line.questions
        .filter(({ question }) => !pressed.includes(question))
        .map((question) => (
          <Asked key={question.question} question={question} onAnswer={onAnswer} />
        ))}
    </div>
  );
}

/** Whether a question of a kept line was answered since. */
function isAnswered({ pointer }: Question, line: QuickLine, document: Draft["document"] | undefined): boolean {
  const [, of, field] = pointer.split("/");
  const part = document?.[of as "pack" | "source"] as Record<string, unknown> | null | undefined;
  const before = line.plan[of as "pack" | "source"] as Record<string, unknown> | null | undefined;
  if (!field) return part != null;
  return (part?.[field] ?? null) !== (before?.[field] ?? null);
}

function Lost({ line }: { line: QuickLine }) {
  return line.not_understood.map((piece) => (
    <span key={piece.text} className="piece lost">
      not understood: “{piece.text}”
    </span>
  ));
}

type Question = QuickLine["questions"][number];

/** Puts an answer into the plan; a supply's volts into the field that its kind has. */
function answer(pointer: string, value: string | number) {
  const source = currentDraft()?.document.source;
  if (source && pointer === "/source/kind") {
    changeDraft("/source", withKind(source, value as SourceDoc["kind"]));
  } else if (pointer === "/source/voltage_v" || pointer === "/source/max_voltage_v") {
    const { voltage_v: _, max_voltage_v: __, ...rest } = source ?? {};
    // What feeds a charge by its volts alone is fixed, until somebody says otherwise.
    changeDraft("/source", withKind({ ...rest, voltage_v: Number(value) }, source?.kind ?? "fixed_supply"));
  } else {
    changeDraft(pointer, value);
  }
}

/** A question, answered with one press where its answers are few. */
function Asked({ question, onAnswer }: { question: Question } & Answering) {
  const offered = [
    ...question.options.map((option) => ({ label: named(question.pointer, option), pointer: question.pointer, value: answerOf(option) })),
    ...question.choices,
  ];
  return (
    <span className="piece question">
      {question.question}{" "}
      {offered.map(({ label, pointer, value }) => (
        <Button
          key={label}
          size="small"
          onClick={() => {
            answer(pointer, value);
            onAnswer(question);
          }}
        >
          {label}
        </Button>
      ))}
    </span>
  );
}
