import { useEffect, useRef, useState } from "react";
import type { Edit } from "../api/client";
import { useEdits } from "../api/plan";

/** Does it when the page is left or the field goes: what was typed is kept all the same. */
export function useOnLeaving(act: () => void) {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    const leave = () => latest.current();
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
}

/** How long typing rests before its effect is tried, in ms. */
const TRIED_MS = 90;

/** What is typed over a value of the plan: tried while typing, kept once, taken back, or refused and still there. */
export function useKept(value: string, edits: (typed: string) => Edit[] | string) {
  const { edit, preview } = useEdits();
  const [draft, setDraft] = useState<string | null>(null);
  const timer = useRef<number>(undefined);
  /** What is on its way, or was kept: who leaves before the page has drawn that does not send it again. */
  const sent = useRef<string | null>(null);
  /** What the server refused: it stays in the field, and is sent again only when it is meant. */
  const refused = useRef<string | null>(null);
  const found = draft === null || draft === value ? [] : edits(draft);
  const wrong = typeof found === "string" ? found : null;

  const change = (text: string) => {
    setDraft(text);
    sent.current = null;
    refused.current = null;
    clearTimeout(timer.current);
    const made = text === value ? [] : edits(text);
    timer.current = window.setTimeout(
      () => preview(typeof made === "string" || !made.length ? null : made),
      TRIED_MS,
    );
  };
  const keep = async (meant = false) => {
    clearTimeout(timer.current);
    if (draft === null || wrong || sent.current === draft) return;
    if (draft === refused.current && !meant) return;
    if (draft !== value && typeof found !== "string" && found.length) {
      sent.current = draft;
      const kept = await edit(found);
      if (!kept) sent.current = null;
      refused.current = kept ? null : draft;
      if (!kept) return;
    }
    setDraft((now) => (now === draft ? null : now));
  };
  useOnLeaving(() => void keep());
  const drop = () => {
    clearTimeout(timer.current);
    setDraft(null);
    preview(null);
  };
  return {
    typed: draft ?? value,
    drafted: draft !== null,
    unsaved: draft !== null && draft !== value,
    wrong,
    change,
    keep,
    drop,
  };
}

/** How long a choice rests before it is kept: passing over options by key is one change, not many; in ms. */
const RESTS_MS = 350;

/** What is chosen over a value of the plan: kept once it rests, or on leaving. */
export function useRested<T extends string>(value: T | "", edits: (chosen: T) => Edit[]) {
  const { edit } = useEdits();
  const [draft, setDraft] = useState<T | null>(null);
  const timer = useRef<number>(undefined);
  /** What is on its way, or was kept: who leaves before the page has drawn that does not send it again. */
  const sent = useRef<T | null>(null);
  const keep = async (chosen: T) => {
    clearTimeout(timer.current);
    if (sent.current === chosen) return;
    if (chosen !== value) {
      sent.current = chosen;
      if (!(await edit(edits(chosen)))) sent.current = null;
    }
    setDraft((now) => (now === chosen ? null : now));
  };
  useOnLeaving(() => draft !== null && void keep(draft));
  const choose = (chosen: T) => {
    if (draft === null) sent.current = null;
    setDraft(chosen);
    clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void keep(chosen), RESTS_MS);
  };
  return {
    chosen: draft ?? value,
    unsaved: draft !== null,
    choose,
    leave: () => draft !== null && void keep(draft),
  };
}
