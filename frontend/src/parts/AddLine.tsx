import { useState } from "react";

/** A line to add something by its name. */
export function AddLine({
  label,
  onAdd,
  placeholder,
}: {
  label: string;
  onAdd: (name: string) => void;
  placeholder: string;
}) {
  const [name, setName] = useState("");
  return (
    <form
      className="mt-2 flex items-end gap-2"
      data-not-kept={name.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim()) return;
        onAdd(name.trim());
        setName("");
      }}
    >
      <input
        className="field max-w-64"
        aria-label={label}
        placeholder={placeholder}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="button">
        {label}
      </button>
    </form>
  );
}
