import { useState } from "react";

interface Among {
  label: string;
  options: readonly (readonly [string, string])[];
}

/** Which of the sites a new thing belongs to: a question where there are several. */
export const amongSites = (
  what: string,
  sites: readonly { id: string; name: string }[],
): Among | undefined =>
  sites.length > 1
    ? { label: `Site of the new ${what}`, options: sites.map((s) => [s.id, s.name] as const) }
    : undefined;

/** A line to add something by its name, and to one of a few others where that is a question. */
export function AddLine({
  label,
  onAdd,
  placeholder,
  among,
}: {
  label: string;
  /** What adds it; where that says false, it was refused, and what was typed stays. */
  onAdd: (name: string, chosen: string) => unknown;
  placeholder: string;
  among?: Among | undefined;
}) {
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState("");
  const now = among?.options.some(([key]) => key === chosen) ? chosen : (among?.options[0]?.[0] ?? "");
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      data-not-kept={name.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim()) return;
        const typed = name;
        setName("");
        void Promise.resolve(onAdd(name.trim(), now)).then((taken) => {
          if (taken === false) setName((later) => later || typed);
        });
      }}
    >
      <input
        className="field max-w-64"
        aria-label={label}
        placeholder={placeholder}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      {among && (
        <select
          className="field max-w-44"
          aria-label={among.label}
          value={now}
          onChange={(event) => setChosen(event.target.value)}
        >
          {among.options.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      )}
      <button type="submit" className="button">
        {label}
      </button>
    </form>
  );
}
