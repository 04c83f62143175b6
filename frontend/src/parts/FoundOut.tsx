import { type ReactNode, useMemo } from "react";
import type { Edit, Schemas } from "../api/client";
import { found } from "../api/entries";
import { EditsContext, useEdits } from "../api/plan";

/** Fields in which what is typed was found out: it goes into the log, as all that it is a fact of, and stands over what is planned. With
 * nothing that it is a fact of, they are fields of the plan. */
export function FoundOut({ as, children }: { as: readonly Schemas["FoundAs"][]; children: ReactNode }) {
  const edits = useEdits();
  const finding = useMemo(
    () => ({
      ...edits,
      edit: (list: Edit[]) => {
        const last = list.findLast((edit) => "value" in edit);
        if (!last || !("value" in last)) return Promise.resolve(true);
        const value = last.value as string | number | boolean;
        return edits.write(as.map((where) => found({ ...where, ...SEEN(), value })));
      },
    }),
    [edits, as],
  );
  return as.length ? <EditsContext value={finding}>{children}</EditsContext> : children;
}

const SEEN = () => ({ at: new Date().toISOString(), method: "", by: "", conditions: "", note: "" });
