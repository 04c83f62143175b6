import type { Stream } from "../../api/client";
import { set } from "../../api/edits";
import { HIGHEST_PORT } from "../../api/form";
import { Field } from "../../parts/Field";

/** What was read off the end that listens: it is compared with the plan. */
export function OtherEnd({ stream }: { stream: Stream }) {
  const put = (field: string, value: unknown) => [set("link", stream.id, `set_there.${field}`, value)];
  const there = stream.set_there;
  return (
    <details>
      <summary className="link text-small">
        Read off the listener{there ? ": compared" : ""}
        <span className="sr-only"> of {stream.name}</span>
      </summary>
      <Field
        mono
        label={`Port that the listener of ${stream.name} has`}
        value={there?.port ? String(there.port) : ""}
        edits={(typed) => {
          const port = Number(typed.trim());
          if (!typed.trim()) return put("port", null);
          const is = Number.isInteger(port) && port >= 1 && port <= HIGHEST_PORT;
          return is ? put("port", port) : `Write a port from 1 to ${HIGHEST_PORT}.`;
        }}
      />
      <Field
        mono
        type="password"
        label={`Passphrase that the listener of ${stream.name} has`}
        value=""
        placeholder={there?.key ? "type to replace" : "as it stands there"}
        edits={(v) => put("key", v || null)}
      />
      <Field
        mono
        type="password"
        label={`Stream id that the listener of ${stream.name} has`}
        value=""
        placeholder={there?.stream_id ? "type to replace" : "as it stands there"}
        edits={(v) => put("stream_id", v.trim())}
      />
    </details>
  );
}
