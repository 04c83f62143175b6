import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { api, taken } from "../api/client";
import { useEdits, usePlan } from "../api/plan";
import { LongRows } from "../parts/LongList";
import { moment } from "../parts/numbers";

/** Every revision in words; any of them can be gone back to. */
export default function HistoryDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { standing } = usePlan();
  const { restore } = useEdits();
  const { data: entries = [] } = useQuery({
    queryKey: ["history", standing.id, standing.version],
    enabled: open,
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/history", { params: { path: { id: standing.id } } })),
  });
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-black/30 p-4">
        <DialogPanel className="border-ink bg-sheet flex max-h-[85vh] w-[46rem] flex-col border-2 p-4">
          <DialogTitle className="mb-2 text-head font-semibold">History</DialogTitle>
          <div className="overflow-y-auto" data-scrolls>
            <table className="w-full">
              <thead>
                <tr>
                  <th>Revision</th>
                  <th>When</th>
                  <th>What</th>
                  <th>
                    <span className="sr-only">Go back</span>
                  </th>
                </tr>
              </thead>
              <LongRows items={entries} id={(entry) => String(entry.number)} about={42}>
                {(entry) => (
                  <>
                    <td className="font-mono">{entry.number}</td>
                    <td className="whitespace-nowrap">{moment(entry.at, standing.plan.show.zone)}</td>
                    <td>
                      {entry.what.join("; ")}
                      {entry.why && <span className="text-faint block text-small">{entry.why}</span>}
                    </td>
                    <td className="pr-0 text-right">
                      {entry.current ? (
                        <span className="margin-note">in force</span>
                      ) : (
                        <button type="button" className="button" onClick={() => restore(entry.number)}>
                          Go to {entry.number}
                        </button>
                      )}
                    </td>
                  </>
                )}
              </LongRows>
            </table>
          </div>
          <button type="button" className="button mt-3 self-start" onClick={onClose}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
