import { useEffect, useState } from "react";
import { type FaultLine, type FaultPlace, type FaultsView, faultBegun } from "../api/faults";
import { SYMPTOMS } from "../api/vocabulary";
import { BeginFault } from "../faults/BeginFault";
import { ChoosePicture } from "../faults/ChoosePicture";
import { FaultCard } from "../faults/FaultCard";
import type { Log } from "./useLog";

/** Pictures that do not appear: what to look at next, also while the desk is not reached; and any picture to begin with. */
export function NotAppearing(props: {
  view: FaultsView;
  first: readonly FaultPlace[];
  dark: string;
  setDark: (picture: string) => void;
  log: Log;
}) {
  const { view, dark, setDark, log } = props;
  const place = view.places.find((p) => p.picture === dark);
  const now = useWaiting(log);
  const open = [
    ...keptHere(view, props.first, log, now),
    ...view.faults.filter((fault) => fault.open && !endedHere(log, fault.id)),
  ];
  return (
    <>
      {place ? (
        <BeginFault
          key={place.picture}
          place={place}
          begin={(begun) => {
            setDark("");
            void log.write([faultBegun(begun)]);
          }}
          cancel={() => setDark("")}
        />
      ) : (
        <ChoosePicture places={view.places} choose={setDark} large />
      )}
      {open.map((fault) => (
        <FaultCard key={fault.id} fault={fault} write={log.write} />
      ))}
      {!open.length && !place && <p className="py-1">No fault is open.</p>}
    </>
  );
}

/** So long the desk has to say what it would look at, in ms: its tests do not take the place of others under the thumb. */
const DESK_ANSWERS_MS = 1500;

/** The time, told again when the desk has had its time for what was begun last. */
function useWaiting(log: Log): number {
  const [now, setNow] = useState(Date.now);
  const begun = log.written.findLast((one) => one.entry.kind === "fault")?.entry.at;
  useEffect(() => {
    if (!begun) return;
    const left = Date.parse(begun) + DESK_ANSWERS_MS - Date.now();
    const wait = setTimeout(() => setNow(Date.now()), Math.max(0, left));
    return () => clearTimeout(wait);
  }, [begun]);
  return now;
}

const endedHere = (log: Log, fault: string) =>
  log.written.some((one) => one.entry.kind === "mended" && one.entry.body.fault === fault);

const takenBack = (log: Log, id: string) =>
  log.written.some((one) => one.entry.kind === "withdrawal" && one.entry.body.of === id);

/** The faults that were begun on this phone and that the desk does not know yet: what to look at first is here all the same. */
function keptHere(view: FaultsView, first: readonly FaultPlace[], log: Log, now: number): FaultLine[] {
  const known = new Set(view.faults.map((fault) => fault.picture));
  return log.written.flatMap((one) => {
    if (one.entry.kind !== "fault" || one.why || known.has(one.entry.body.picture)) return [];
    const { id, body } = one.entry;
    const place = first.find((p) => p.picture === body.picture);
    if (!place || endedHere(log, id)) return [];
    const asking = log.reached && now - Date.parse(one.entry.at ?? "") < DESK_ANSWERS_MS;
    const made = log.written.flatMap(({ entry }) =>
      entry.kind === "tried" && entry.body.fault === id && !takenBack(log, entry.id)
        ? [{ ...entry.body, entry: entry.id }]
        : [],
    );
    const tried = made.map((each) => {
      const step = place.first.find((s) => s.id === each.test);
      const answered =
        each.answer === "good" ? step?.good : each.answer === "bad" ? step?.bad : "cannot tell";
      return {
        entry: each.entry,
        says: step?.says ?? each.test,
        answer: each.answer,
        answered: answered ?? "",
        at: "",
        by: "",
      };
    });
    return [
      {
        id,
        picture: body.picture,
        at: place.at,
        gone: false,
        path: place.path,
        symptom: body.symptom,
        symptom_says: SYMPTOMS.find(([key]) => key === body.symptom)?.[1] ?? body.symptom,
        came: body.came ?? null,
        spread: body.spread ?? null,
        since: asking ? "now" : "now, kept on this phone",
        by: "",
        open: true,
        ended: "",
        cause: "",
        next: asking ? [] : place.first.filter((step) => !made.some((each) => each.test === step.id)),
        likely: [],
        tried: tried.toReversed(),
        workarounds: ["Cut to another picture, or show a slate, until the desk is reached"],
        workaround_first: made.length >= 2,
        fixes: [],
      },
    ];
  });
}
