import { useState } from "react";
import { type Of, photographed } from "../api/entries";
import { newId } from "../api/outbox";
import { keepPhotograph } from "./kept";
import { smaller } from "./smaller";
import type { Log } from "./useLog";

/** A photograph, of a thing or of the show, with what it shows. The camera's file never leaves the phone: a smaller one does. */
export function TakePhotograph(props: {
  text: string;
  of?: Of;
  label?: string;
  write: Log["write"];
  taken?: () => void;
}) {
  const { text, of, label = "Take a photograph", write, taken } = props;
  const [said, setSaid] = useState<"" | "taken" | "unreadable">("");
  const take = async (file: File) => {
    try {
      const id = newId();
      await keepPhotograph(id, await smaller(file));
      await write([photographed(id, text, of)]);
      setSaid("taken");
      taken?.();
    } catch {
      setSaid("unreadable");
    }
  };
  return (
    <>
      <label className="button mt-2 flex min-h-14 items-center justify-center text-head focus-within:outline-2">
        {label}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = "";
            if (file) void take(file);
          }}
        />
      </label>
      {said === "taken" && (
        <p aria-live="polite" className="text-faint mt-1 text-small">
          The photograph is in the log.
        </p>
      )}
      {said === "unreadable" && (
        <p role="alert" className="text-accent font-semibold">
          This is no picture that this phone can read: take another.
        </p>
      )}
    </>
  );
}
