import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Edit } from "../src/api/client";
import { set } from "../src/api/edits";
import { EditsContext } from "../src/api/plan";
import { NumberField } from "../src/parts/Field";
import { FormatField } from "../src/parts/FormatField";
import { asTyped, moment, shown, typedAmount, typedNumber, wall } from "../src/parts/numbers";

const made: Edit[][] = [];
const edits = {
  edit: vi.fn(async (list: Edit[]) => made.push(list) > 0),
  write: vi.fn(),
  preview: vi.fn(),
  undo: vi.fn(),
  redo: vi.fn(),
  restore: vi.fn(),
};
let root: Root;

beforeEach(() => {
  vi.useFakeTimers();
  made.length = 0;
  vi.clearAllMocks();
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
  document.body.innerHTML = "<div></div>";
  root = createRoot(document.body.firstElementChild as HTMLElement);
});
afterEach(() => act(async () => root.unmount()));

const draw = (what: React.ReactNode) =>
  act(async () => root.render(<EditsContext value={edits}>{what}</EditsContext>));
const type = (field: Element | null, value: string, event = "input") =>
  act(async () => {
    const proto = Object.getPrototypeOf(field);
    Object.getOwnPropertyDescriptor(proto, "value")?.set?.call(field, value);
    field?.dispatchEvent(new Event(event, { bubbles: true }));
  });
const press = (key: string) =>
  act(async () => {
    document.querySelector("input")?.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  });
const length = (
  <NumberField label="Length" unit="m" value={40} edits={(v) => [set("link", "run", "length_m", v)]} />
);

test("a number is looked at while it is typed, kept on Enter, and taken back by Escape", async () => {
  await draw(length);
  await type(document.querySelector("input"), "5,5");
  await act(async () => vi.advanceTimersByTime(200));
  expect(edits.preview).toHaveBeenLastCalledWith([set("link", "run", "length_m", 5.5)]);
  expect(made).toEqual([]);
  await press("Enter");
  expect(made).toEqual([[set("link", "run", "length_m", 5.5)]]);
  await type(document.querySelector("input"), "7");
  await press("Escape");
  expect(document.querySelector("input")?.value).toBe("40");
  expect(made).toHaveLength(1);
});

test.each(["-5", "two", "1e9", ""])("%j is answered in words and not sent", async (text) => {
  await draw(length);
  await type(document.querySelector("input"), text);
  await press("Enter");
  expect(document.querySelector("[role=alert]")?.textContent).toMatch(/^Write /);
  expect(made).toEqual([]);
});

test("raster, rate and scan chosen within a third of a second are all kept", async () => {
  const fmt = { width: 1920, height: 1080, rate: "50", scan: "p" } as const;
  await draw(
    <FormatField label="Picture" value={fmt} part={(f, v) => set("show", null, `format.${f}`, v)} />,
  );
  const [raster, rate, scan] = document.querySelectorAll("select");
  await type(raster ?? null, "1280x720", "change");
  await act(async () => vi.advanceTimersByTime(100));
  await type(rate ?? null, "25", "change");
  await act(async () => vi.advanceTimersByTime(100));
  await type(scan ?? null, "i", "change");
  await act(async () => vi.advanceTimersByTime(1000));
  expect(made.flat().map((e) => ("value" in e ? e.value : null))).toEqual([1280, 720, "25", "i"]);
});

test("numbers and times are written and read the same whatever the machine", () => {
  expect([shown(0), shown(5.5), shown(1234.5), shown(-0.04)]).toEqual(["0", "5.5", "1\u202f235", "−0.04"]);
  expect([typedNumber(" 6,1 "), typedNumber("6.1.2"), typedNumber("6 m")]).toEqual([6.1, null, null]);
  const evening = "2026-09-19T19:30:00+01:00";
  expect(wall(evening)).toEqual({ day: "Sat 19 Sep 2026", time: "19:30", minutes: 1170 });
  expect([asTyped(evening), asTyped("2026-09-05")]).toEqual(["19 Sep 2026, 19:30", "5 Sep 2026"]);
  expect(moment(evening, "Europe/London")).toBe("Sat 19 Sep 2026, 19:30");
  expect(moment(evening, "Asia/Tokyo")).toBe("Sun 20 Sep 2026, 03:30");
});

test("an amount is read in whichever unit it is typed, and in no other", () => {
  const read = [["25 cm", "m"], ["5 MB/s", "Mb/s"], ["0.02 Gb/s", "Mb/s"], ["3,5", "Mb/s"], ["160k", "kb/s"], ["2 s", "ms"], ["5.5", ""]] as const; // biome-ignore format: one look
  expect(read.map(([text, unit]) => typedAmount(text, unit))).toEqual([0.25, 40, 20, 3.5, 160, 2000, 5.5]);
  expect([typedAmount("3 kg", "m"), typedAmount("lots", "Mb/s"), typedAmount("5 m", "Mb/s h")]).toEqual([null, null, null]); // biome-ignore format: one look
});
