import { useState } from "react";
import type { Schemas } from "../../api/client";
import { freeId, remove, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { MATERIALS, OBSTACLES } from "../../api/vocabulary";
import { Choice, NumberField } from "../../parts/Field";
import { Section } from "../../parts/Section";
import { YesNo } from "../../parts/YesNo";

type Span = Schemas["Span"];
type Obstacle = Schemas["Obstacle"];

/** The ways between places: how far, what lies between, and whether a cable can go there. */
export function Spans() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { spans, places } = standing.plan;
  const [ends, setEnds] = useState({ a: "", b: "" });
  const name = (id: string) => places.find((p) => p.id === id)?.name ?? id;
  const known = spans.some((s) => [s.a, s.b].includes(ends.a) && [s.a, s.b].includes(ends.b));
  const ready = ends.a && ends.b && ends.a !== ends.b && !known;
  const pick = (end: "a" | "b", label: string) => (
    <label>
      <span className="text-faint block text-[12px]">{label}</span>
      <select
        className="field"
        value={ends[end]}
        onChange={(event) => setEnds({ ...ends, [end]: event.target.value })}
      >
        <option value="">choose a place</option>
        {places.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </select>
    </label>
  );
  if (places.length < 2) return null;
  return (
    <Section
      title="Ways between places"
      aside="where nothing is said, the distance is reckoned from coordinates"
    >
      {spans.length > 0 && (
        <table className="mb-2 w-full">
          <thead>
            <tr>
              <th>From and to</th>
              <th>Measured</th>
              <th>Cable can go</th>
              <th>What lies between</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {spans.map((span) => (
              <tr key={span.id}>
                <td>
                  {name(span.a)} to {name(span.b)}
                </td>
                <td className="w-28">
                  <NumberField
                    hideLabel
                    optional
                    label={`Metres from ${name(span.a)} to ${name(span.b)}`}
                    unit="m"
                    value={span.distance_m ?? null}
                    edits={(v) => [set("span", span.id, "distance_m", v)]}
                  />
                </td>
                <td className="w-28">
                  <YesNo
                    label={`Whether a cable can go from ${name(span.a)} to ${name(span.b)}`}
                    value={span.cable ?? null}
                    edits={(v) => [set("span", span.id, "cable", v)]}
                  />
                </td>
                <td>
                  <Between span={span} />
                </td>
                <td>
                  <button
                    type="button"
                    className="link whitespace-nowrap"
                    onClick={() => void edit([remove("span", span.id)])}
                  >
                    Take out
                    <span className="sr-only">
                      {" "}
                      the way from {name(span.a)} to {name(span.b)}
                    </span>
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="flex items-end gap-3">
        {pick("a", "Way from")}
        {pick("b", "to")}
        <button
          type="button"
          className="button"
          disabled={!ready}
          onClick={() => {
            const id = freeId(`${ends.a}-${ends.b}`, spans);
            void edit([{ kind: "add-span", item: { id, a: ends.a, b: ends.b, between: [], note: "" } }]);
            setEnds({ a: "", b: "" });
          }}
        >
          Add the way
        </button>
        {known && <span className="margin-note pb-1">This way is in the list.</span>}
      </div>
    </Section>
  );
}

function Between({ span }: { span: Span }) {
  const { edit } = useEdits();
  const between = span.between ?? [];
  const put = (list: Obstacle[]) => [set("span", span.id, "between", list)];
  const change = (i: number, part: Partial<Obstacle>) =>
    put(between.map((one, j) => (i === j ? { ...one, ...part } : one)));
  return (
    <>
      {between.map((one, i) => (
        <div key={i} className="flex items-baseline gap-2">
          <Choice
            hideLabel
            width="w-24"
            label={`Obstacle ${i + 1}`}
            value={one.kind}
            options={OBSTACLES}
            edits={(kind) => change(i, { kind, ...(kind === "wall" || kind === "floor" ? {} : BARE) })}
          />
          {(one.kind === "wall" || one.kind === "floor") && (
            <>
              <Choice
                hideLabel
                width="w-32"
                label={`Material of obstacle ${i + 1}`}
                none="choose"
                value={one.material ?? ""}
                options={MATERIALS}
                edits={(material) => change(i, { material: material || null })}
              />
              <NumberField
                hideLabel
                optional
                width="w-24"
                label={`Thickness of obstacle ${i + 1}`}
                unit="m"
                value={one.thickness_m ?? null}
                edits={(v) => change(i, { thickness_m: v })}
              />
            </>
          )}
          <button
            type="button"
            className="link whitespace-nowrap"
            onClick={() => void edit(put(between.filter((_, j) => j !== i)))}
          >
            Take out the {one.kind}
            <span className="sr-only">, obstacle {i + 1}</span>
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link whitespace-nowrap"
        onClick={() => void edit(put([...between, { kind: "wall", material: "unknown" }]))}
      >
        Add a wall or other obstacle
      </button>
    </>
  );
}

const BARE = { material: null, thickness_m: null };
