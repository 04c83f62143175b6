import { useState } from "react";
import type { Edit, Schemas } from "../../api/client";
import { freeId, remove, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { MATERIALS, OBSTACLES } from "../../api/vocabulary";
import { Choice, NumberField } from "../../parts/Field";
import { Select } from "../../parts/inputs";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";
import { YesNo } from "../../parts/YesNo";

type Span = Schemas["Span"];
type Obstacle = Schemas["Obstacle"];

/** The ways between places: how far, what lies between, and whether a cable can go there. */
export function Spans() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  // Of the plan as it stands: a way that is only being tried is not there yet, and must still be added.
  const ways = useView("brief", "plan")?.ways ?? [];
  const { spans, places } = standing.plan;
  const [ends, setEnds] = useState({ a: "", b: "" });
  if (places.length < 2) return null;
  const spanOf = new Map(spans.map((s) => [s.id, s]));
  const listed = ways.some((w) => [w.a, w.b].includes(ends.a) && [w.a, w.b].includes(ends.b));
  const ready = ends.a && ends.b && ends.a !== ends.b && !listed;
  const pick = (end: "a" | "b", label: string) => (
    <Select
      label={label}
      width="w-48"
      none="choose a place"
      value={ends[end]}
      options={places.map((p) => [p.id, p.name] as const)}
      choose={(id) => setEnds({ ...ends, [end]: id })}
    />
  );
  return (
    <Section
      title="Ways between places"
      aside="what nobody measured is reckoned from coordinates, or stays open"
    >
      {ways.length > 0 && (
        <div className="relative mb-2 overflow-x-auto">
          <table className="w-full">
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
              {ways.map((way) => (
                <WayLine key={way.span} way={way} span={spanOf.get(way.span)} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="flex flex-wrap items-end gap-3">
        {pick("a", "Another way, from")}
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
        {listed && <span className="margin-note pb-1">This way is in the list.</span>}
      </div>
    </Section>
  );
}

function WayLine({ way, span }: { way: Schemas["Between"]; span: Span | undefined }) {
  const { edit } = useEdits();
  const first = span ? [] : way.first;
  const put = (field: string, value: unknown) => [...first, set("span", way.span, field, value)];
  const name = `${way.a_name} to ${way.b_name}`;
  return (
    <tr>
      <td className="whitespace-nowrap">{name}</td>
      <td className="w-36 min-w-36">
        <NumberField
          hideLabel
          optional
          label={`Metres from ${name}`}
          unit="m"
          placeholder={way.reckoned_m == null ? "measure" : `by map ${shown(way.reckoned_m)}`}
          value={span?.distance_m ?? null}
          edits={(v) => put("distance_m", v)}
        />
      </td>
      <td className="w-28 min-w-28">
        <YesNo
          label={`Whether a cable can go from ${name}`}
          value={span?.cable ?? null}
          edits={(v) => put("cable", v)}
        />
      </td>
      <td>
        <Between between={span?.between ?? []} put={(list) => put("between", list)} name={name} />
      </td>
      <td>
        {span && (
          <button
            type="button"
            className="link whitespace-nowrap"
            onClick={() => void edit([remove("span", span.id)])}
          >
            Forget<span className="sr-only"> the way from {name}</span>
          </button>
        )}
      </td>
    </tr>
  );
}

function Between({
  between,
  put,
  name,
}: {
  between: readonly Obstacle[];
  put: (list: Obstacle[]) => Edit[];
  name: string;
}) {
  const { edit } = useEdits();
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
        Add a wall or other obstacle<span className="sr-only"> from {name}</span>
      </button>
    </>
  );
}

const BARE = { material: null, thickness_m: null };
