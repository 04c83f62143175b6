/** How connectors, protocols and features are written; which of them a box has is the core's to say. */
const NAMED: Record<string, string> = {
  paired: "its family's own link",
  web: "browser link",
  network: "network",
  ethernet: "Ethernet",
  wifi: "Wi-Fi",
  mobile: "mobile",
  audio: "audio",
  fibre: "fibre",
  radio: "radio",
  vertical: "an upright canvas",
  "network-input": "an input from the network",
  h264: "H.264",
  intra: "intra-frame",
};

export const word = (key: string) => NAMED[key] ?? key.toUpperCase();
export const words = (keys: readonly string[], between = ", ") => keys.map(word).join(between);
