import { type Action, useKeys } from "./keys";

/** The key of an action, as it is set on this machine; nothing where single keys are switched off. */
export function Key({ of, always }: { of: Action; always?: boolean }) {
  const { off, keyOf } = useKeys();
  return off && !always ? null : <kbd className="key">{keyOf(of)}</kbd>;
}
