import { useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";

type Alternative = Schemas["Alternative"];

/** Any text, pasted: what it may mean for the plan is offered, and what was not understood is shown line by line. */
export function PasteText() {
  const { standing } = usePlan();
  const [text, setText] = useState("");
  const [read, setRead] = useState<Schemas["PasteReading"] | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const ask = async (typed: string) => {
    setText(typed);
    setWrong(null);
    if (!typed.trim()) return setRead(null);
    const path = { id: standing.id };
    try {
      const body = { text: typed };
      setRead(taken(await api.POST("/api/plans/{id}/asked/pasted", { params: { path }, body })));
    } catch (error) {
      setWrong(
        error instanceof Refused ? error.message : "The server cannot be reached. What you pasted is kept.",
      );
    }
  };
  return (
    <Section
      title="Paste a text"
      aside="a platform's page with its key, the output of ip addr or ipconfig, a list of devices from a spreadsheet"
    >
      <textarea
        className="field h-28 max-w-[640px] font-mono text-small"
        aria-label="A text to be read"
        placeholder={"Server URL\nrtmps://ingest.alder.example/live\nStream key\n…"}
        spellCheck={false}
        value={text}
        data-not-kept={text.trim() ? "" : undefined}
        onChange={(event) => void ask(event.target.value)}
      />
      <Wrong>{wrong}</Wrong>
      {read && <Offered read={read} onDone={() => void ask("")} />}
    </Section>
  );
}

function Offered({ read, onDone }: { read: Schemas["PasteReading"]; onDone: () => void }) {
  const { edit, preview } = useEdits();
  const take = async (chosen: Alternative) => {
    preview(null);
    if (await edit(chosen.edits ?? [], "pasted")) onDone();
  };
  return (
    <div aria-live="polite" className="mt-2">
      <ul>
        {read.alternatives.map((each) => (
          <li
            key={each.title}
            className="border-rule flex items-baseline justify-between gap-4 border-b py-1"
          >
            <span>{each.title}</span>
            {(each.edits ?? []).length > 0 && (
              <button
                type="button"
                className="button"
                onFocus={() => preview(each.edits ?? [])}
                onBlur={() => preview(null)}
                onClick={() => void take(each)}
              >
                Take it<span className="sr-only">: {each.title}</span>
              </button>
            )}
          </li>
        ))}
      </ul>
      {read.not_understood.length > 0 && (
        <p className="margin-note mt-1">
          Not understood:{" "}
          {read.not_understood.map((line) => (
            <span key={line} className="block font-mono">
              {line}
            </span>
          ))}
        </p>
      )}
    </div>
  );
}
