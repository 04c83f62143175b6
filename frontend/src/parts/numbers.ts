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

/** A typed number, decimal comma or point; null when it is not one. */
export function typedNumber(text: string): number | null {
  const plain = text.trim().replace(",", ".");
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

const moments = new Map<string, Intl.DateTimeFormat>();

/** A moment on the show's own clock, to the minute: 12 Sep 2026, 19:30. */
export function moment(iso: string, zone: string | undefined): string {
  let writer = moments.get(zone ?? "");
  if (!writer) {
    const how = { dateStyle: "medium", timeStyle: "short" } as const;
    writer = new Intl.DateTimeFormat("en-GB", { ...how, timeZone: zone || undefined });
    moments.set(zone ?? "", writer);
  }
  return writer.format(new Date(iso));
}

const clock = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });
const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });

/** The wall time written in an ISO timestamp, whatever zone this machine is in. */
export function wall(iso: string): { day: string; time: string; minutes: number } {
  const found = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/.exec(iso);
  if (!found) return { day: "", time: "", minutes: 0 };
  const [year, month, date, hour, minute] = found.slice(1).map(Number) as [
    number,
    number,
    number,
    number,
    number,
  ];
  const at = new Date(year, month - 1, date, hour, minute);
  return { day: day.format(at), time: clock.format(at), minutes: hour * 60 + minute };
}

const written = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

/** A moment or a day of the show as it is typed: 19 Sept 2026, 19:30. */
export function asTyped(iso: string): string {
  const [, year, month, date, hour, minute] = /^(\d{4})-(\d\d)-(\d\d)(?:T(\d\d):(\d\d))?/.exec(iso) ?? [];
  const on = written.format(new Date(Number(year), Number(month) - 1, Number(date)));
  return hour ? `${on}, ${hour}:${minute}` : on;
}

/** This machine's own time zone. */
export const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The Mb/s from one line of a chart to the next, for one that reaches so far. */
export const chartStep = (top: number): number =>
  top > 400 ? 200 : top > 80 ? 50 : top > 40 ? 20 : top > 15 ? 5 : 2;
