import type { Cable, Edit, Link, Schemas, Stream } from "./client";

/** Edits, with the fields the interface leaves at their defaults filled in. */
type Noun = Schemas["SetField"]["noun"];
type Value = Schemas["SetField"]["value"];

export const set = (noun: Noun, id: string | null, field: string, value: unknown): Edit => ({
  kind: "set",
  noun,
  id,
  field,
  value: value as Value,
});
export const setPort = (port: string, field: string, value: unknown): Edit => ({
  kind: "set-port",
  port,
  field,
  value: value as Value,
});
export const remove = (noun: Schemas["Remove"]["noun"], id: string): Edit => ({ kind: "remove", noun, id });
export const setFigure = (figure: string, value: number | null): Edit => ({
  kind: "set-figure",
  figure,
  value,
});
export const addSite = (id: string, name: string): Edit => ({
  kind: "add-site",
  item: { id, name, run_by: "us" },
});
export const addPlace = (id: string, name: string, site: string): Edit => ({
  kind: "add-place",
  item: { id, name, site, floor: 0, indoor: true },
});
export const addUplink = (id: string, name: string, site: string): Edit => ({
  kind: "add-uplink",
  item: {
    id,
    name,
    site,
    kind: "fibre",
    carrier: "",
    others_mbps: 0,
    address: "",
    opened: [],
    parts: [],
    sign_in: false,
  },
});
export const addNetwork = (id: string, name: string, site: string): Edit => ({
  kind: "add-network",
  item: {
    id,
    name,
    site,
    range: "",
    gateway: "",
    pool_first: "",
    pool_last: "",
    medium: "cable",
    range_v6: "",
    admission: "open",
  },
});
export const addAim = (id: string, end: string): Edit => ({
  kind: "add-aim",
  item: { id, end, picture: "program", need: "needed", priority: 1, liveness: "watched" },
});
export const addComms = (id: string, kind: Schemas["CommsLink"]["kind"], from: string, to: string): Edit => ({
  kind: "add-comms",
  item: { id, kind, from_device: from, to_device: to, who: "", telephone: "", password_by: "" },
});
export const accept = (finding: string, compared: Schemas["Finding"]["compared"], reason: string): Edit => ({
  kind: "accept",
  item: { finding, compared, reason },
});
export const reopen = (finding: string): Edit => ({ kind: "reopen", finding });
export const leaveBy = (network: string, uplink: string | null): Edit => ({
  kind: "leave-by",
  network,
  uplink,
});

/** A short readable id from a name, the first free one. */
export function freeId(name: string, taken: readonly { id: string }[]): string {
  const plain = name
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 50);
  const base = plain.replace(/-+$/, "") || "item";
  const used = new Set(taken.map((item) => item.id));
  let id = base;
  for (let n = 2; used.has(id); n++) id = `${base}-${n}`;
  return id;
}

export const isCable = (link: Link): link is Cable => link.kind === "cable";
export const isStream = (link: Link): link is Stream => link.kind === "stream";
