import { beforeEach, expect, test } from "vitest";
import type { Edit } from "../src/api/client";
import { FORM } from "../src/api/form";
import { forget, forgetLost, type Pending, unsent, writeDown } from "../src/api/outbox";

const length: Edit = { kind: "set", noun: "link", id: "run", field: "length_m", value: 40 };
const key: Edit = { kind: "set", noun: "link", id: "feed", field: "key", value: "paper-lantern" };
const pending = (id: string, typed: number, ...edits: Edit[]): Omit<Pending, "written"> => ({
  id,
  typed,
  base: 3,
  change: { edits, why: "", form: FORM },
});

beforeEach(() => localStorage.clear());

test("what was typed is there after a reload, in the order it was typed, and of its plan alone", () => {
  expect(writeDown("regatta", pending("b", 2, length))).toBe(true);
  expect(writeDown("regatta", pending("a", 1, length))).toBe(true);
  writeDown("other", pending("c", 0, length));
  expect(unsent("regatta").pending.map((p) => [p.id, p.base, p.written])).toEqual([
    ["a", 3, true],
    ["b", 3, true],
  ]);
  forget("regatta", "a");
  expect(unsent("regatta").pending.map((p) => p.id)).toEqual(["b"]);
});

test.each([
  ["a key", key],
  ["an address", { ...length, field: "note", value: "rtmp://h/live/tide-table" }],
  ["a stream id", { ...length, field: "stream_id", value: "tide-table" }],
  [
    "a path with a password",
    { ...length, noun: "device", field: "encoding.main_path", value: "s?password=tide-table" },
  ],
  [
    "a stream with its id",
    { kind: "add-link", item: { kind: "stream", id: "s", stream_id: "tide-table" } } as Edit,
  ],
  [
    "an address without its scheme",
    { kind: "add-link", item: { kind: "stream", id: "s", address: "cam/x?password=tide-table" } } as Edit,
  ],
  ["a view link", { ...length, field: "view_address", value: "https://calls.example/view/x" }],
] as [string, Edit][])("%s is never written down, and is named when it was lost", (_, edit) => {
  expect(writeDown("regatta", pending("s", 1, edit))).toBe(false);
  expect(JSON.stringify(localStorage)).not.toMatch(/paper-lantern|tide-table|calls\.example/);
  expect(unsent("regatta")).toMatchObject({ pending: [], lost: [{}] });
  forgetLost("regatta");
  expect(unsent("regatta").lost).toEqual([]);
});

test("a full or damaged storage loses nothing else", () => {
  localStorage.setItem("humble-relay:unsent:regatta:x", "{half");
  writeDown("regatta", pending("a", 1, length));
  expect(unsent("regatta").pending.map((p) => p.id)).toEqual(["a"]);
  const full = Object.getPrototypeOf(localStorage).setItem;
  Object.getPrototypeOf(localStorage).setItem = () => {
    throw new DOMException("full", "QuotaExceededError");
  };
  expect(writeDown("regatta", pending("b", 2, length))).toBe(false);
  Object.getPrototypeOf(localStorage).setItem = full;
});

test("what an older page wrote down says the form that it was typed in", () => {
  const old = { id: "o", typed: 1, base: 1, change: { edits: [length], why: "" } };
  localStorage.setItem("humble-relay:unsent:regatta:o", JSON.stringify(old));
  expect(unsent("regatta").pending[0]?.change).toMatchObject({ form: 3 });
});
