import type { ComponentType } from "react";
import type { Schemas } from "../api/client";
import type { Views } from "../api/views";
import { apart } from "./loading";

export type StageId = Schemas["StageState"]["stage"];

export type Stage = {
  id: StageId;
  name: string;
  /** Loaded apart from the first page. */
  Page: ComponentType;
  /** The views that its first page draws. */
  first: readonly (keyof Views)[];
};

/** The stages of the work, in its order. */
export const STAGES: readonly Stage[] = [
  { id: "brief", name: "Brief", Page: apart(() => import("../stages/brief/Brief")), first: ["brief"] },
  { id: "survey", name: "Survey", Page: apart(() => import("../stages/survey/Survey")), first: ["survey"] },
  { id: "gear", name: "Gear", Page: apart(() => import("../stages/gear/Gear")), first: ["gear"] },
  { id: "signal", name: "Signal", Page: apart(() => import("../stages/signal/Signal")), first: ["signal"] },
  {
    id: "addresses",
    name: "Addresses",
    Page: apart(() => import("../stages/addresses/Addresses")),
    first: ["addresses", "addresses_calls"],
  },
  {
    id: "bandwidth",
    name: "Bandwidth",
    Page: apart(() => import("../stages/bandwidth/Bandwidth")),
    first: ["bandwidth"],
  },
  {
    id: "set-up",
    name: "Set-up",
    Page: apart(() => import("../stages/set-up/SetUp")),
    first: [],
  },
  { id: "papers", name: "Papers", Page: apart(() => import("../stages/papers/Papers")), first: [] },
];
