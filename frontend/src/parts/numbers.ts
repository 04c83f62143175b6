import { AMOUNTS } from "../api/vocabulary";

/** How numbers and times are written; the values are the core's. */

/** Writers are dear to make: each is made once. */
const figures = [0, 1, 2, 3, 4].map(
  (most) => new Intl.NumberFormat("en-GB", { maximumFractionDigits: most }),
);

export function shown(value: number): string {
  const abs = Math.abs(value);
  const digits = abs >= 100 || abs === 0 ? 0 : abs >= 10 ? 1 : 2;
  const text = figures[abs > 0 && abs < 0.1 ? 4 : digits]?.format(value).replace(/,/g, "\u202f") ?? "";
  return text.replace("-", "−");
}

/** A typed amount in the unit of a field, whichever unit it was typed in (25 cm, 5 MB/s); null when it is none. */
export function typedAmount(text: string, unit = ""): number | null {
  const [, number = "", typed = ""] = /^(-?\d+(?:[.,]\d+)?) ?(\D*)$/.exec(text.trim()) ?? [];
  const value = typedNumber(number);
  if (value === null || !typed) return value;
  const known = AMOUNTS[unit] ?? { [unit.toLowerCase()]: 1 };
  const worth = known[typed] ?? known[typed.toLowerCase()];
  return worth === undefined ? null : Number((value * worth).toFixed(6));
}

/** A typed number, decimal comma or point; null when it is not one. */
export function typedNumber(text: string): number | null {
  const plain = text.trim().replace(",", ".");
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const WEEKDAYS = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];

/** The wall time written in an ISO timestamp, whatever zone this machine is in: Sat 19 Sep 2026, and 19:30. */
export function wall(iso: string): { day: string; time: string; minutes: number } {
  const [, year, month, date, hour = "00", minute = "00"] =
    /^(\d{4})-(\d\d)-(\d\d)(?:T(\d\d):(\d\d))?/.exec(iso) ?? [];
  if (!year) return { day: "", time: "", minutes: 0 };
  const weekday = WEEKDAYS[new Date(Date.UTC(+year, Number(month) - 1, Number(date))).getUTCDay()];
  return {
    day: `${weekday} ${Number(date)} ${MONTHS[Number(month) - 1]} ${year}`,
    time: `${hour}:${minute}`,
    minutes: Number(hour) * 60 + Number(minute),
  };
}

const clocks = new Map<string, Intl.DateTimeFormat>();

/** A moment on the show's own clock, to the minute: Sat 19 Sep 2026, 19:30. */
export function moment(iso: string, zone: string | undefined): string {
  let clock = clocks.get(zone ?? "");
  if (!clock) {
    const how = { dateStyle: "short", timeStyle: "short" } as const;
    // Swedish writes a moment as ISO 8601 does.
    clock = new Intl.DateTimeFormat("sv-SE", { ...how, timeZone: zone || undefined });
    clocks.set(zone ?? "", clock);
  }
  const { day, time } = wall(clock.format(new Date(iso)).replace(" ", "T"));
  return `${day}, ${time}`;
}

/** A moment or a day of the show as it is typed: 19 Sep 2026, 19:30. */
export function asTyped(iso: string): string {
  const { day, time } = wall(iso);
  const on = day.slice(day.indexOf(" ") + 1);
  return iso.includes("T") ? `${on}, ${time}` : on;
}

/** This machine's own time zone. */
export const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The Mb/s from one line of a chart to the next, for one that reaches so far. */
export const chartStep = (top: number): number =>
  top > 400 ? 200 : top > 80 ? 50 : top > 40 ? 20 : top > 15 ? 5 : 2;
