import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Device, Refused, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { KINDS } from "../../api/vocabulary";
import { Select } from "../../parts/inputs";
import { Section } from "../../parts/Section";
import { BoxEditor, type Told } from "./BoxEditor";

/** How many were typed: 0 where nothing was, null where it is no whole number from 1 to 99. */
function countOf(typed = ""): number | null {
  const plain = typed.trim();
  if (!plain) return 0;
  const count = /^\d{1,4}$/.test(plain) ? Number(plain) : 0;
  return count >= 1 && count <= 99 ? count : null;
}

/** A box that is being written, and which model of one's own it changes: none where it is a new one. */
interface Writing {
  device: Device;
  told: Told;
  words: string;
  changes: string | null;
}

const BLANK: Device = {
  id: "box",
  name: "",
  kind: "converter",
  maker: "",
  model: "",
  ports: [],
  groups: [],
  groups_seen: [],
};

/** The models: found by word or kind, and added, several at once, to a place. */
export function Library() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const client = useQueryClient();
  const { places } = standing.plan;
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState("");
  const [place, setPlace] = useState("");
  const [counts, setCounts] = useState<Readonly<Record<string, string>>>({});
  const [said, setSaid] = useState("");
  const [writing, setWriting] = useState<Writing | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { data: entries = [] } = useQuery({
    queryKey: ["gear"],
    queryFn: async () => taken(await api.GET("/api/gear")),
  });
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = entries.filter(
    ({ model, found_by }) =>
      (!kind || model.device.kind === kind) && words.every((word) => found_by.includes(word)),
  );
  const kinds = [...new Set(entries.map((e) => e.model.device.kind))];
  const here = (places.find((p) => p.id === place) ?? places[0])?.id ?? null;
  const add = async (wanted: Readonly<Record<string, number>>) => {
    try {
      const path = { id: standing.id };
      const body = { counts: wanted, place: here };
      const edits = taken(await api.POST("/api/plans/{id}/gear", { params: { path }, body }));
      setCounts({});
      await edit(edits);
    } catch (error) {
      setSaid(
        error instanceof Refused ? error.message : "The server cannot be reached. Nothing was changed.",
      );
    }
  };
  const chosen = Object.fromEntries(
    Object.entries(counts).flatMap(([id, typed]) => {
      const count = countOf(typed);
      return count ? [[id, count]] : [];
    }),
  );
  const total = Object.values(chosen).reduce((sum, count) => sum + count, 0);
  const refresh = () => client.invalidateQueries({ queryKey: ["gear"] });
  const bring = async (picked: File) => {
    try {
      const models = taken(await api.POST("/api/gear/import", { body: { text: await picked.text() } }));
      setSaid(`${models.length} model${models.length === 1 ? "" : "s"} taken in.`);
      await refresh();
    } catch (error) {
      setSaid(
        error instanceof Refused ? error.message : "The server cannot be reached. Nothing was changed.",
      );
    }
  };
  const drop = async (id: string) => {
    await api.DELETE("/api/gear/{model}", { params: { path: { model: id } } });
    await refresh();
  };
  const keep = async (device: Device, told: Told) => {
    const words = writing?.words ?? "";
    const kept = taken(
      writing?.changes
        ? await api.PUT("/api/gear/{model}", {
            params: { path: { model: writing.changes } },
            body: { id: writing.changes, words, ...told, device: { ...device, model: device.name } },
          })
        : await api.POST("/api/gear", { body: { device, words, ...told } }),
    );
    setWriting(null);
    setSearch(kept.model.device.name);
    setSaid(`${kept.model.device.name} is in the library now.`);
    await refresh();
  };
  const begin = ({ model, own }: Schemas["LibraryModel"], copy: boolean) => {
    const { about = "", origin = "", words = "", device } = model;
    const name = copy ? `${device.name}, ours` : device.name;
    const named = copy ? { ...device, name, maker: "" } : device;
    setWriting({
      device: named,
      told: { about, origin: copy ? "" : origin },
      words,
      changes: own && !copy ? model.id : null,
    });
  };
  if (writing)
    return (
      <Section
        title={writing.changes ? `Change ${writing.device.name}` : "A device of my own"}
        aside="it goes into the library, for every plan"
      >
        <BoxEditor
          start={writing.device}
          told={writing.told}
          keepWords="Keep it in the library"
          onKeep={keep}
          onLeave={() => setWriting(null)}
        />
      </Section>
    );
  return (
    <Section
      title="Library"
      aside={
        <span className="flex flex-wrap gap-x-4">
          <button
            type="button"
            className="link"
            onClick={() =>
              setWriting({ device: BLANK, told: { about: "", origin: "" }, words: "", changes: null })
            }
          >
            Build a device of my own
          </button>
          <a className="link" href="/api/gear.json?own=true" download>
            My own as JSON
          </a>
          <a className="link" href="/api/gear.json" download>
            JSON
          </a>
          <a className="link" href="/api/gear.csv" download>
            CSV
          </a>
          <button type="button" className="link" onClick={() => file.current?.click()}>
            Import models
          </button>
          <input
            ref={file}
            type="file"
            accept=".json,.csv,application/json,text/csv"
            className="sr-only"
            aria-label="Gear file"
            tabIndex={-1}
            onChange={(event) => {
              const picked = event.target.files?.[0];
              event.target.value = "";
              if (picked) void bring(picked);
            }}
          />
        </span>
      }
    >
      <div className="mb-2 flex flex-wrap gap-4">
        <div className="w-60">
          <label htmlFor="gear-search" className="text-faint block text-[12px]">
            Find
          </label>
          <input
            id="gear-search"
            className="field"
            placeholder="camera, encoder, converter"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </div>
        <Select
          label="Kind"
          width="w-44"
          none="every kind"
          value={kind}
          choose={setKind}
          options={KINDS.filter(([key]) => kinds.includes(key))}
        />
        {places.length > 0 && (
          <Select
            label="Goes to"
            width="w-44"
            value={here ?? ""}
            choose={setPlace}
            options={places.map((p) => [p.id, p.name] as const)}
          />
        )}
        {total > 0 && (
          <button type="button" className="button button-main self-end" onClick={() => void add(chosen)}>
            Add {total} device{total === 1 ? "" : "s"}
          </button>
        )}
      </div>
      <p role="status" className="margin-note empty:hidden">
        {said}
      </p>
      <ul className="border-rule relative max-h-64 overflow-y-auto border-b" tabIndex={-1}>
        {found.map((entry) => {
          const {
            model: { id, about, origin, device },
            own,
          } = entry;
          return (
            <li key={id} className="border-rule flex items-center gap-3 border-t py-1">
              <span className="flex-1">
                {device.name}
                <span className="text-faint block text-[13px]">
                  {own && "my own"}
                  {own && origin && `, ${origin}`}
                  {own && about && ": "}
                  {about}
                </span>
              </span>
              <button type="button" className="link text-[13px]" onClick={() => begin(entry, true)}>
                Copy<span className="sr-only"> {device.name}</span>
              </button>
              {own && (
                <>
                  <button type="button" className="link text-[13px]" onClick={() => begin(entry, false)}>
                    Change<span className="sr-only"> {device.name}</span>
                  </button>
                  <button type="button" className="link text-[13px]" onClick={() => void drop(id)}>
                    Drop mine<span className="sr-only">: {device.name}</span>
                  </button>
                </>
              )}
              <input
                className="field w-14! text-right font-mono"
                inputMode="numeric"
                aria-label={`How many ${device.name}`}
                placeholder="0"
                value={counts[id] ?? ""}
                aria-invalid={countOf(counts[id]) === null}
                onChange={(e) => {
                  const typed = e.target.value;
                  setCounts((now) => ({ ...now, [id]: typed }));
                }}
              />
              {countOf(counts[id]) === null && (
                <span role="alert" className="text-accent text-[13px] font-semibold">
                  Write a whole number from 1 to 99.
                </span>
              )}
              <button
                type="button"
                className="button mr-2"
                disabled={countOf(counts[id]) === null}
                onClick={() => void add({ [id]: countOf(counts[id]) || 1 })}
              >
                Add<span className="sr-only"> {device.name}</span>
              </button>
            </li>
          );
        })}
        {!found.length && <li className="text-faint py-2">Nothing in the library has those words.</li>}
      </ul>
    </Section>
  );
}
