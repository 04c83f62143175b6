import type { Edit } from "../api/client";
import { Choice } from "./Field";

/** A fact that is so, is not so, or is not known. */
export function YesNo({
  label,
  value,
  edits,
}: {
  label: string;
  value: boolean | null;
  edits: (value: boolean | null) => Edit[];
}) {
  return (
    <Choice
      hideLabel
      label={label}
      none="not known"
      value={value === null ? "" : value ? "yes" : "no"}
      options={
        [
          ["yes", "yes"],
          ["no", "no"],
        ] as const
      }
      edits={(chosen: string) => edits(chosen ? chosen === "yes" : null)}
    />
  );
}
