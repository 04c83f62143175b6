import { CODECS, CONNECTORS } from "../api/vocabulary";

/** How connectors, codecs and features are written; which of them a box has is the core's to say. */
const NAMED: Record<string, string> = {
  ...Object.fromEntries([...CONNECTORS, ...CODECS]),
  paired: "its family's own link",
  web: "browser link",
  vertical: "a vertical canvas",
  "network-input": "an input from the network",
};

export const word = (key: string) => NAMED[key] ?? key.toUpperCase();
export const words = (keys: readonly string[], between = ", ") => keys.map(word).join(between);
