import type { Schemas } from "../../api/client";
import { set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { TECHNOLOGIES } from "../../api/vocabulary";
import { Choice, Field, NumberField } from "../../parts/Field";

type Line = Schemas["Uplink"];

/** What is known of a line beside its upload: whose it is, how its modem stands, what its card has left, what it is made of. */
export function LineMore({ line }: { line: Line }) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { uplinks } = standing.plan;
  const card = line.mobile;
  const put = (field: string, value: unknown) => [set("uplink", line.id, field, value as never)];
  const toggle = (parts: string[]) => edit(put("parts", parts));
  const number = (
    field: string,
    label: string,
    unit: string,
    value: number | null | undefined,
    least = 0,
  ) => (
    <NumberField
      label={label}
      width="w-28"
      unit={unit}
      optional
      least={least}
      value={value ?? null}
      edits={(v) => put(`mobile.${field}`, v)}
    />
  );
  const own = uplinks.filter((u) => u.id !== line.id && !u.parts.length && u.site === line.site);
  const left = card?.cap_gb ? `${Math.max(0, card.cap_gb - (card.used_gb ?? 0))} GB left` : "";
  const says = line.parts.length
    ? `joins ${line.parts.map((id) => uplinks.find((u) => u.id === id)?.name ?? id).join(", ")}`
    : [line.carrier, card?.rsrp_dbm ? `${card.rsrp_dbm} dBm` : "", card?.unlimited ? "no cap" : left]
        .filter(Boolean)
        .join(", ");
  return (
    <details>
      <summary className="link text-[13px]">
        {says || "more"}
        <span className="sr-only"> about {line.name}</span>
      </summary>
      <div className="mt-1 flex flex-wrap items-end gap-x-3 gap-y-2">
        <Field
          label={`Carrier of ${line.name}`}
          width="w-40"
          value={line.carrier}
          edits={(v) => put("carrier", v.trim())}
        />
        {line.kind === "mobile" && !line.parts.length && (
          <>
            <Choice
              label={`Technology of ${line.name}`}
              width="w-24"
              none="not said"
              value={card?.technology ?? ""}
              options={TECHNOLOGIES}
              edits={(v) => put("mobile.technology", v || null)}
            />
            {number("rsrp_dbm", `RSRP of ${line.name}`, "dBm", card?.rsrp_dbm, -160)}
            {number("rsrq_db", `RSRQ of ${line.name}`, "dB", card?.rsrq_db, -45)}
            {number("sinr_db", `SINR of ${line.name}`, "dB", card?.sinr_db, -30)}
            <Field
              label={`Mast of ${line.name}`}
              width="w-28"
              value={card?.mast ?? ""}
              edits={(v) => put("mobile.mast", v.trim())}
            />
            {number("cap_gb", `Data of the card of ${line.name}`, "GB", card?.cap_gb)}
            <NumberField
              label={`Used so far on ${line.name}`}
              width="w-28"
              unit="GB"
              value={card?.used_gb ?? 0}
              edits={(v) => put("mobile.used_gb", v ?? 0)}
            />
            <Choice
              label={`Whether the data of ${line.name} ends`}
              width="w-28"
              value={card?.unlimited ? "no" : "yes"}
              options={
                [
                  ["yes", "it ends"],
                  ["no", "no end"],
                ] as const
              }
              edits={(v) => put("mobile.unlimited", v === "no")}
            />
          </>
        )}
        {own.length > 1 && (
          <fieldset>
            <legend className="text-faint text-[12px]">Bonded of</legend>
            {own.map((part) => (
              <label key={part.id} className="mr-3 inline-flex items-baseline gap-1">
                <input
                  type="checkbox"
                  className="accent-accent"
                  checked={line.parts.includes(part.id)}
                  onChange={(e) =>
                    void toggle(
                      e.target.checked ? [...line.parts, part.id] : line.parts.filter((id) => id !== part.id),
                    )
                  }
                />
                {part.name}
              </label>
            ))}
          </fieldset>
        )}
        {line.parts.length > 0 && (
          <NumberField
            label={`The gateway of ${line.name} holds packets`}
            width="w-28"
            unit="ms"
            optional
            value={line.holds_ms ?? null}
            edits={(v) => put("holds_ms", v)}
          />
        )}
      </div>
    </details>
  );
}
