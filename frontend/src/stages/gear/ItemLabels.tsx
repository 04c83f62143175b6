import type { Schemas } from "../../api/client";
import { AddLine } from "../../parts/AddLine";
import { asTyped } from "../../parts/numbers";

type Holding = Schemas["Holding"];

/** The boxes of a holding that have a label of their own: what was set on one stays set from show to show, since it is with us. */
export function ItemLabels(props: { holding: Holding; keep: (holding: Holding) => Promise<boolean> }) {
  const { holding, keep } = props;
  const items = holding.items ?? [];
  return (
    <details>
      <summary className="link">
        {items.length ? items.map((item) => item.label).join(", ") : "No labels"}
        <span className="sr-only"> of {holding.model}</span>
      </summary>
      <p className="margin-note">
        A box with a label keeps what was seen of it, from one show to the next. Back from a loan or a repair:
        say since when, and it is looked at anew.
      </p>
      <ul>
        {items.map((item) => (
          <li key={item.label} className="flex flex-wrap items-baseline gap-2">
            <span className="w-16 font-mono">{item.label}</span>
            <label className="text-faint flex items-baseline gap-1 text-note">
              with us since
              <input
                className="field text-ink w-32"
                aria-label={`${holding.model} ${item.label}, with us since`}
                placeholder="12 Sep 2026"
                key={item.since}
                defaultValue={item.since ? asTyped(item.since) : ""}
                onBlur={(event) => {
                  const since = event.target.value.trim() || null;
                  if (since === (item.since ? asTyped(item.since) : null)) return;
                  void keep({ ...holding, items: items.map((i) => (i === item ? { ...i, since } : i)) });
                }}
                onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
              />
            </label>
            <button
              type="button"
              className="link"
              onClick={() => void keep({ ...holding, items: items.filter((i) => i !== item) })}
            >
              Take off<span className="sr-only"> the label {item.label}</span>
            </button>
          </li>
        ))}
      </ul>
      <AddLine
        label="Add label"
        placeholder="C2"
        onAdd={(label) => keep({ ...holding, items: [...items, { label }] })}
      />
    </details>
  );
}
