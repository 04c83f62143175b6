import { useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan } from "../../api/plan";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";

/** Any address, pasted: what it says, whose it is in this plan, and what is wrong with it. Nothing of it is kept. */
export function ReadAddress() {
  const { standing } = usePlan();
  const [text, setText] = useState("");
  const [read, setRead] = useState<Schemas["ReadAddress"] | null>(null);
  const ask = async (typed: string) => {
    setText(typed);
    if (!typed.trim()) return setRead(null);
    const path = { id: standing.id };
    setRead(
      taken(await api.POST("/api/plans/{id}/asked/address", { params: { path }, body: { text: typed } })),
    );
  };
  return (
    <Section title="Read an address" aside="paste one that you were sent; it is not kept">
      <input
        className="field max-w-[640px] font-mono"
        aria-label="An address to be read"
        placeholder="srt://203.0.113.20:9000?mode=caller"
        autoComplete="off"
        spellCheck={false}
        maxLength={500}
        value={text}
        onChange={(event) => void ask(event.target.value)}
      />
      <div aria-live="polite">
        {read && (
          <>
            <dl className="mt-2 grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 text-small">
              {read.lines.map((line) => (
                <div key={line.about} className="contents">
                  <dt className="text-faint">{line.about}</dt>
                  <dd className="break-words">{line.says}</dd>
                </div>
              ))}
              {read.stream && (
                <div className="contents">
                  <dt className="text-faint">In this plan</dt>
                  <dd>{read.stream} goes there</dd>
                </div>
              )}
            </dl>
            <Wrong>{read.wrong}</Wrong>
          </>
        )}
      </div>
    </Section>
  );
}
