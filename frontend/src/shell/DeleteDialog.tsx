import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { api, Refused, type Schemas, taken } from "../api/client";

/** What goes with a plan, said before it goes. */
export default function DeleteDialog({
  plan,
  onClose,
}: {
  plan: Schemas["Listed"];
  onClose: (gone: boolean) => void;
}) {
  const [trouble, setTrouble] = useState("");
  const remove = async () => {
    try {
      const { error, response } = await api.DELETE("/api/plans/{id}", {
        params: { path: { id: plan.id }, header: { "if-match": `"${plan.version}"` } },
      });
      if (error) taken({ error, response });
      onClose(true);
    } catch (problem) {
      setTrouble(
        problem instanceof Refused ? problem.message : "The server cannot be reached. Nothing was deleted.",
      );
    }
  };
  return (
    <Dialog open onClose={() => onClose(false)} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-black/30 p-4">
        <DialogPanel className="border-ink bg-sheet w-[34rem] border-2 p-4">
          <DialogTitle className="mb-2 text-[17px] font-semibold">Delete {plan.name}?</DialogTitle>
          <p>
            The plan goes for good, with its {plan.version} revision{plan.version === 1 ? "" : "s"} and its
            measurements. Its keys and passwords are overwritten in the data file. No undo brings it back;
            backups that were made still have it.
          </p>
          {trouble && (
            <p role="alert" className="text-accent mt-2 font-semibold">
              {trouble}
            </p>
          )}
          <div className="mt-4 flex flex-wrap gap-3">
            <button type="button" className="button button-main" onClick={() => onClose(false)}>
              Keep it
            </button>
            <a className="button" href={`/api/plans/${plan.id}/export?keys=true`} download>
              Export it first, keys too
            </a>
            <button type="button" className="button" onClick={() => void remove()}>
              Delete it
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
