import type { ComponentType } from "react";
import type { Schemas } from "../api/client";
import { Addresses } from "../stages/addresses/Addresses";
import { Bandwidth } from "../stages/bandwidth/Bandwidth";
import { Brief } from "../stages/brief/Brief";
import { Gear } from "../stages/gear/Gear";
import { Papers } from "../stages/papers/Papers";
import { Signal } from "../stages/signal/Signal";
import { Survey } from "../stages/survey/Survey";

export type StageId = Schemas["StageState"]["stage"];

/** The stages of the work, in its order. */
export const STAGES: { id: StageId; name: string; Page: ComponentType }[] = [
  { id: "brief", name: "Brief", Page: Brief },
  { id: "survey", name: "Survey", Page: Survey },
  { id: "gear", name: "Gear", Page: Gear },
  { id: "signal", name: "Signal", Page: Signal },
  { id: "addresses", name: "Addresses", Page: Addresses },
  { id: "bandwidth", name: "Bandwidth", Page: Bandwidth },
  { id: "papers", name: "Papers", Page: Papers },
];
