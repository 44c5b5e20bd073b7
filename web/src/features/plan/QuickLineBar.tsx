import { useQuery } from "@tanstack/react-query";
import { Button, Input, type InputRef } from "antd";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { answered, api, type QuickLine } from "../../api/client";
import { anotherThing, changeDraft, currentDraft, type Draft, draftOfLine, setDraft } from "./draft";
import { useSettled } from "./useAnswer";

const EXAMPLE = "6S 4000 lipo, 30 V 5 A bench";

/** One line of text that starts a plan, and what was understood of it. */
export function QuickLineBar({ inputRef }: { inputRef: React.RefObject<InputRef | null> }) {
  const [text, setText] = useState("");
  const settled = useSettled(text.trim(), 80);
  const before = useRef<Draft>(undefined);
  // One line is one thing on the bench, however often it is read while it is typed.
  const typed = useRef<number>(undefined);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const read = useQuery({
    queryKey: ["quick-line", settled],
    enabled: settled !== "",
    networkMode: "always",
    retry: false,
    queryFn: ({ signal }) => answered(api.POST("/api/quick-line", { body: { text: settled }, signal })),
    placeholderData: (previous) => previous,
  });
  const line = settled === "" ? undefined : read.data;
  const fresh = line !== undefined && !read.isPlaceholderData;

  useEffect(() => {
    if (fresh && line.plan.pack) setDraft(draftOfLine(line, typed.current));
  }, [fresh, line]);

  const close = (restore: boolean) => {
    if (restore && before.current) setDraft(before.current);
    before.current = undefined;
    setText("");
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
          if (pathname !== "/plan") void navigate("/plan");
          setText(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === "Escape") close(true);
          if (event.key === "Enter") close(false);
        }}
      />
      {text !== "" && (
        <div className="line-read" role="status">
          {line ? <Read line={line} /> : <p className="muted">{read.isError ? "The server cannot be reached." : "Reading…"}</p>}
          <span className="line-actions">
            <Button size="small" type="primary" onClick={() => { close(false); }}>
              Keep
            </Button>
            <Button size="small" onClick={() => { close(true); }}>
              Back
            </Button>
          </span>
        </div>
      )}
    </>
  );
}

/** What a question's answer is in the document. */
const answerOf = (option: string) => (/^\d+$/.test(option) ? Number(option) : option);

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
      {line.questions.map((question) => (
        <span key={question.question} className="piece question">
          {question.question}{" "}
          {question.options.map((option) => (
            <Button
              key={option}
              size="small"
              onClick={() => {
                changeDraft(question.pointer, answerOf(option));
              }}
            >
              {question.pointer === "/pack/series" ? `${option}S` : option}
            </Button>
          ))}
          {question.choices.map((choice) => (
            <Button
              key={choice.label}
              size="small"
              onClick={() => {
                changeDraft(choice.pointer, choice.value);
              }}
            >
              {choice.label}
            </Button>
          ))}
        </span>
      ))}
    </div>
  );
}
