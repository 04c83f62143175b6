import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { Schemas } from "../api/client";

/** What goes with a plan, said before it goes. */
export default function DeleteDialog({
  plan,
  onClose,
}: {
  plan: Schemas["Listed"];
  onClose: (gone: boolean) => void;
}) {
  return (
    <Dialog open onClose={() => onClose(false)} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-black/30 p-4">
        <DialogPanel className="border-ink bg-sheet w-[34rem] border-2 p-4">
          <DialogTitle className="mb-2 text-head font-semibold">Delete {plan.name}?</DialogTitle>
          <p>
            You can take that back while this page is open. When you leave it, the plan goes for good, with
            its {plan.version} revision{plan.version === 1 ? "" : "s"} and its measurements, and its keys and
            passwords are overwritten in the data file; backups that were made still have it.
          </p>
          <div className="mt-4 flex flex-wrap gap-3">
            <button type="button" className="button button-main" onClick={() => onClose(false)}>
              Keep it
            </button>
            <a className="button" href={`/api/plans/${plan.id}/export?keys=true`} download>
              Export it first, keys too
            </a>
            <button type="button" className="button" onClick={() => onClose(true)}>
              Delete it
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
