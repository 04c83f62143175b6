import type { Schemas } from "../../api/client";
import { set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { SESSIONS } from "../../api/vocabulary";
import { AddLine } from "../../parts/AddLine";
import { Choice, Field } from "../../parts/Field";
import { asTyped } from "../../parts/numbers";
import { Section } from "../../parts/Section";

type Session = Schemas["Session"];
type Part = Partial<Record<keyof Session, string>>;

/** Rehearsals, and the further days of the show: when they begin and end. */
export function Sessions() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const sessions = standing.plan.show.sessions ?? [];
  const all = (next: readonly unknown[]) => [set("show", null, "sessions", next)];
  const put = (n: number, part: Part) => all(sessions.map((s, i) => (i === n ? { ...s, ...part } : s)));
  const add = (typed: string) => {
    const [starts_at = "", ends_at = ""] = typed.split(/\s+to\s+/);
    return edit(all([...sessions, { kind: "rehearsal", starts_at, ends_at }]));
  };
  return (
    <Section title="Rehearsals and further days" aside="the hours of each further day are measured too">
      {sessions.map((session, n) => (
        <div key={session.starts_at} className="flex flex-wrap items-end gap-x-4 gap-y-1">
          <Choice
            label={`Kind of session ${n + 1}`}
            width="w-40"
            value={session.kind ?? "rehearsal"}
            options={SESSIONS}
            edits={(kind) => put(n, { kind })}
          />
          <Field
            label={`Session ${n + 1} starts`}
            width="w-48"
            value={asTyped(session.starts_at)}
            edits={(starts_at) => put(n, { starts_at })}
          />
          <Field
            label={`Session ${n + 1} ends`}
            width="w-48"
            value={asTyped(session.ends_at)}
            edits={(ends_at) => put(n, { ends_at })}
          />
          <button
            type="button"
            className="link pb-1"
            onClick={() => void edit(all(sessions.filter((_, i) => i !== n)))}
          >
            Take out<span className="sr-only"> session {n + 1}</span>
          </button>
        </div>
      ))}
      <AddLine label="Add a rehearsal" placeholder="18 Sep 2026, 19:30 to 20:30" onAdd={add} />
    </Section>
  );
}
