import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Standing = Schemas["Standing"];
export type Plan = Schemas["Plan"];
export type Report = Schemas["Report"];
export type Finding = Schemas["Finding"];
export type Device = Schemas["Device"];
export type Port = Schemas["Port"];
export type Cable = Schemas["Cable"];
export type Stream = Schemas["Stream"];
export type Radio = Schemas["Radio"];
export type Link = Cable | Radio | Stream;
export type Working = Schemas["Working"];
export type VideoFormat = Schemas["VideoFormat"];
export type Trial = Schemas["Trial"];
export type Edit = Schemas["Change"]["edits"][number];
export type Problem = Schemas["Problem"];

// Changes are taken as JSON only, also those without a body: no foreign page can send that unasked.
const JSON_ONLY = { "Content-Type": "application/json" };
export const api = createClient<paths>({ baseUrl: "/", headers: JSON_ONLY });

/** Told to the window when the server wants its code. */
export const LOCKED = "humble-relay:locked";

/** The request was refused; the problem says why. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** The data of an answer, or a thrown Refused. A lost connection is thrown as the browser's own TypeError. */
export function taken<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.response.status === 401) window.dispatchEvent(new Event(LOCKED));
  if (answer.error !== undefined || answer.data === undefined) {
    const problem = answer.error as Problem | undefined;
    throw new Refused(
      problem?.detail
        ? problem
        : {
            type: "about:blank",
            title: "Error",
            status: answer.response.status,
            version: null,
            changed: null,
            detail: "The server could not do this.",
          },
    );
  }
  return answer.data;
}
