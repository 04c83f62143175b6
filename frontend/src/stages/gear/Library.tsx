import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Device, Refused, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { KINDS } from "../../api/vocabulary";
import { FileButton } from "../../parts/FileButton";
import { Select } from "../../parts/inputs";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";
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

type LibraryModel = Schemas["LibraryModel"];

const BLANK: Device = {
  id: "box",
  name: "",
  kind: "converter",
  maker: "",
  model: "",
  item: "",
  ports: [],
  groups: [],
  groups_seen: [],
  setup: [],
};

/** The models of that kind that every word is said of. */
function matching(entries: readonly LibraryModel[], search: string, kind: string) {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return entries.filter(
    ({ model, found_by }) =>
      (!kind || model.device.kind === kind) && words.every((word) => found_by.includes(word)),
  );
}

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
  const { data: entries = [] } = useQuery({
    queryKey: ["gear"],
    queryFn: async () => taken(await api.GET("/api/gear")),
  });
  const found = matching(entries, search, kind);
  const here = (places.find((p) => p.id === place) ?? places[0])?.id ?? null;
  const add = async (wanted: Readonly<Record<string, number>>) => {
    try {
      const path = { id: standing.id };
      const body = { counts: wanted, place: here };
      const edits = taken(await api.POST("/api/plans/{id}/gear", { params: { path }, body }));
      setCounts({});
      await edit(edits);
    } catch (error) {
      why(error);
    }
  };
  const chosen = Object.fromEntries(
    Object.entries(counts).flatMap(([id, typed]) => {
      const count = countOf(typed);
      return count ? [[id, count]] : [];
    }),
  );
  const total = Object.values(chosen).reduce((sum, count) => sum + count, 0);
  const why = (error: unknown) =>
    setSaid(error instanceof Refused ? error.message : "The server cannot be reached. Nothing was changed.");
  const refresh = () => client.invalidateQueries({ queryKey: ["gear"] });
  const bring = async (picked: File) => {
    try {
      const models = taken(await api.POST("/api/gear/import", { body: { text: await picked.text() } }));
      setSaid(`${models.length} model${models.length === 1 ? "" : "s"} taken in.`);
      await refresh();
    } catch (error) {
      why(error);
    }
  };
  const drop = async (id: string) => {
    await api.DELETE("/api/gear/{model}", { params: { path: { model: id } } });
    await refresh();
  };
  const begin = (entry: LibraryModel, copy: boolean) => setWriting(writingOf(entry, copy));
  if (writing)
    return (
      <WriteModel
        writing={writing}
        onLeave={() => setWriting(null)}
        onKept={(name) => {
          setWriting(null);
          setSearch(name);
          setSaid(`${name} is in the library now.`);
          void refresh();
        }}
      />
    );
  return (
    <Section
      title="Library"
      aside={
        <FilesOfModels
          onBuild={() =>
            setWriting({ device: BLANK, told: { about: "", origin: "" }, words: "", changes: null })
          }
          onBring={(picked) => void bring(picked)}
        />
      }
    >
      <Search
        {...{ entries, search, setSearch, kind, setKind, place: here ?? "", setPlace, total }}
        onAdd={() => void add(chosen)}
      />
      <p role="status" className="margin-note empty:hidden">
        {said}
      </p>
      <ul className="border-rule relative max-h-64 overflow-y-auto border-b" tabIndex={-1}>
        {found.map((entry) => {
          const { id } = entry.model;
          return (
            <ModelLine
              key={id}
              entry={entry}
              typed={counts[id] ?? ""}
              type={(typed) => setCounts((now) => ({ ...now, [id]: typed }))}
              onAdd={(count) => void add({ [id]: count })}
              onWrite={(copy) => begin(entry, copy)}
              onDrop={() => void drop(id)}
            />
          );
        })}
        {!found.length && <li className="text-faint py-2">Nothing in the library has those words.</li>}
      </ul>
    </Section>
  );
}

/** A model that is written: as itself, or under another name as a copy. */
function writingOf({ model, own }: LibraryModel, copy: boolean): Writing {
  const { about = "", origin = "", words = "", device } = model;
  return {
    device: copy ? { ...device, name: `${device.name}, ours`, maker: "" } : device,
    told: { about, origin: copy ? "" : origin },
    words,
    changes: own && !copy ? model.id : null,
  };
}

/** A model in the list: copied, changed where it is one's own, added so many times. */
function ModelLine(props: {
  entry: LibraryModel;
  typed: string;
  type: (typed: string) => void;
  onAdd: (count: number) => void;
  onWrite: (copy: boolean) => void;
  onDrop: () => void;
}) {
  const { entry, typed, type, onAdd, onWrite, onDrop } = props;
  const { own, model } = entry;
  const { about, origin, device } = model;
  const count = countOf(typed);
  const action = (words: string, does: () => void) => (
    <button type="button" className="link text-small" onClick={does}>
      {words}
      <span className="sr-only"> {device.name}</span>
    </button>
  );
  return (
    <li className="border-rule flex items-center gap-3 border-t py-1">
      <span className="flex-1">
        {device.name}
        <span className="text-faint block text-small">
          {own && "my own"}
          {own && origin && `, ${origin}`}
          {own && about && ": "}
          {about}
        </span>
      </span>
      {action("Copy", () => onWrite(true))}
      {own && action("Change", () => onWrite(false))}
      {own && action("Drop mine", onDrop)}
      <input
        className="field w-14! text-right font-mono"
        inputMode="numeric"
        aria-label={`How many ${device.name}`}
        placeholder="0"
        value={typed}
        aria-invalid={count === null}
        onChange={(e) => type(e.target.value)}
      />
      {count === null && <Wrong>Write a whole number from 1 to 99.</Wrong>}
      <button
        type="button"
        className="button mr-2"
        disabled={count === null}
        onClick={() => onAdd(count || 1)}
      >
        Add<span className="sr-only"> {device.name}</span>
      </button>
    </li>
  );
}

/** The models as files, and a device of one's own. */
function FilesOfModels({ onBuild, onBring }: { onBuild: () => void; onBring: (picked: File) => void }) {
  return (
    <span className="flex flex-wrap gap-x-4">
      <button type="button" className="link" onClick={onBuild}>
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
      <FileButton
        label="Gear file"
        words="Import models"
        accept=".json,.csv,application/json,text/csv"
        className="link"
        onFile={onBring}
      />
    </span>
  );
}

/** A model that is written anew, or one's own that is changed. */
function WriteModel({
  writing,
  onKept,
  onLeave,
}: {
  writing: Writing;
  onKept: (name: string) => void;
  onLeave: () => void;
}) {
  const { changes, words } = writing;
  const keep = async (device: Device, told: Told) => {
    const kept = taken(
      changes
        ? await api.PUT("/api/gear/{model}", {
            params: { path: { model: changes } },
            body: { id: changes, words, ...told, device: { ...device, model: device.name } },
          })
        : await api.POST("/api/gear", { body: { device, words, ...told } }),
    );
    onKept(kept.model.device.name);
  };
  return (
    <Section
      title={changes ? `Change ${writing.device.name}` : "A device of my own"}
      aside="it goes into the library, for every plan"
    >
      <BoxEditor
        start={writing.device}
        told={writing.told}
        keepWords="Keep it in the library"
        onKeep={keep}
        onLeave={onLeave}
      />
    </Section>
  );
}

/** What is looked for, where it goes, and what is added once several are counted. */
function Search(props: {
  entries: readonly LibraryModel[];
  search: string;
  setSearch: (words: string) => void;
  kind: string;
  setKind: (kind: string) => void;
  place: string;
  setPlace: (place: string) => void;
  total: number;
  onAdd: () => void;
}) {
  const { entries, search, setSearch, kind, setKind, place, setPlace, total } = props;
  const { places } = usePlan().standing.plan;
  const kinds = [...new Set(entries.map((e) => e.model.device.kind))];
  return (
    <div className="mb-2 flex flex-wrap gap-4">
      <div className="w-60">
        <label htmlFor="gear-search" className="text-faint block text-note">
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
          value={place}
          choose={setPlace}
          options={places.map((p) => [p.id, p.name] as const)}
        />
      )}
      {total > 0 && (
        <button type="button" className="button button-main self-end" onClick={props.onAdd}>
          Add {total} device{total === 1 ? "" : "s"}
        </button>
      )}
    </div>
  );
}
