import type { ComponentType } from "react";
import type { Schemas } from "../api/client";
import { apart } from "./loading";

export type StageId = Schemas["StageState"]["stage"];

/** The stages of the work, in its order; each is loaded apart from the first page. */
export const STAGES: { id: StageId; name: string; Page: ComponentType }[] = [
  { id: "brief", name: "Brief", Page: apart(() => import("../stages/brief/Brief")) },
  { id: "survey", name: "Survey", Page: apart(() => import("../stages/survey/Survey")) },
  { id: "gear", name: "Gear", Page: apart(() => import("../stages/gear/Gear")) },
  { id: "signal", name: "Signal", Page: apart(() => import("../stages/signal/Signal")) },
  { id: "addresses", name: "Addresses", Page: apart(() => import("../stages/addresses/Addresses")) },
  { id: "bandwidth", name: "Bandwidth", Page: apart(() => import("../stages/bandwidth/Bandwidth")) },
  { id: "papers", name: "Papers", Page: apart(() => import("../stages/papers/Papers")) },
];
