import { type ComponentType, lazy } from "react";
import type { Schemas } from "../api/client";

export type StageId = Schemas["StageState"]["stage"];

/** The stages of the work, in its order; each is loaded when it is opened. */
export const STAGES: { id: StageId; name: string; Page: ComponentType }[] = [
  { id: "brief", name: "Brief", Page: lazy(() => import("../stages/brief/Brief")) },
  { id: "survey", name: "Survey", Page: lazy(() => import("../stages/survey/Survey")) },
  { id: "gear", name: "Gear", Page: lazy(() => import("../stages/gear/Gear")) },
  { id: "signal", name: "Signal", Page: lazy(() => import("../stages/signal/Signal")) },
  { id: "addresses", name: "Addresses", Page: lazy(() => import("../stages/addresses/Addresses")) },
  { id: "bandwidth", name: "Bandwidth", Page: lazy(() => import("../stages/bandwidth/Bandwidth")) },
  { id: "papers", name: "Papers", Page: lazy(() => import("../stages/papers/Papers")) },
];
