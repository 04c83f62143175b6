import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { Wrong } from "../parts/Wrong";
import { ACTIONS, type Action, changeKey, switchKeys, useKeys } from "./keys";

const FIXED: [string, string][] = [
  ["1 to 7", "Open a stage"],
  ["+ - 0", "On the signal map: closer, further, all of it"],
  ["Arrows", "On the signal map and the drawing of a site: from device to device, or moving a place"],
  ["Enter", "Keep what was typed; open what is chosen"],
  ["Escape", "Take back what was typed; close what is open"],
];

/** The keys of the page, each to be changed, or all switched off. */
export default function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { off } = useKeys();
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-black/30 p-4">
        <DialogPanel className="border-ink bg-sheet max-h-full w-[32rem] overflow-y-auto border-2 p-4">
          <DialogTitle className="mb-2 text-head font-semibold">Keys</DialogTitle>
          <label className="mb-2 flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-accent"
              checked={!off}
              onChange={(event) => switchKeys(!event.target.checked)}
            />
            Single keys do something on this machine
          </label>
          <table className={`w-full ${off ? "text-faint" : ""}`}>
            <tbody>
              {ACTIONS.map(([action, , does]) => (
                <KeyLine key={action} action={action} does={does} />
              ))}
              {FIXED.map(([key, does]) => (
                <tr key={key}>
                  <td className="w-28">
                    <kbd className="key">{key}</kbd>
                  </td>
                  <td>{does}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <button type="button" className="button mt-3" onClick={onClose}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function KeyLine({ action, does }: { action: Action; does: string }) {
  const key = useKeys().keyOf(action);
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <tr>
      <td className="w-28">
        <input
          className="field w-10! text-center font-mono"
          aria-label={`Key: ${does}`}
          value={key}
          aria-invalid={wrong ? true : undefined}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setWrong(changeKey(action, event.target.value.replace(key, "")))}
        />
      </td>
      <td>
        {does}
        <Wrong>{wrong}</Wrong>
      </td>
    </tr>
  );
}
