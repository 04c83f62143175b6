import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";

export const KEYS: [string, string][] = [
  ["/", "Open the command bar"],
  ["1 to 7", "Open a stage"],
  ["d", "Go to the docket"],
  ["f", "Fold the docket away, or back"],
  ["u", "Undo (also Ctrl Z)"],
  ["r", "Redo (also Ctrl Shift Z)"],
  ["h", "History of this plan"],
  ["l", "Day or night light"],
  ["?", "These keys"],
  ["Arrows", "On the signal map: from box to box"],
  ["Enter", "Keep what was typed; open what is chosen"],
  ["Escape", "Take back what was typed; close what is open"],
];

/** The keys of the page. */
export default function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-black/30 p-4">
        <DialogPanel className="border-ink bg-sheet w-[28rem] border-2 p-4">
          <DialogTitle className="mb-2 text-[17px] font-semibold">Keys</DialogTitle>
          <table className="w-full">
            <tbody>
              {KEYS.map(([key, does]) => (
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
