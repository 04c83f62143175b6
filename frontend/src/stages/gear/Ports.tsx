import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Device, taken } from "../../api/client";
import { usePlan } from "../../api/plan";
import { Chosen } from "../../parts/Field";

/** Every port: what it is, what is in it, and what it has been told. */
export function Ports({ device }: { device: Device }) {
  const { standing, stamp } = usePlan();
  const path = { id: standing.id, device: device.id };
  const { data: ports = [] } = useQuery({
    queryKey: ["ports", standing.id, stamp, device.id],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/devices/{device}/ports", { params: { path } })),
    placeholderData: keepPreviousData,
  });
  if (!ports.length) return null;
  return (
    <table className="w-full text-small">
      <thead>
        <tr>
          <th>Port</th>
          <th>Is</th>
          <th>In it</th>
          <th>Told</th>
        </tr>
      </thead>
      <tbody>
        {ports.map((port) => (
          <tr key={port.port}>
            <td>{port.name}</td>
            <td className="whitespace-nowrap">{port.what}</td>
            <td>{port.in_it || <span className="text-faint">free</span>}</td>
            <td>
              <span className="flex flex-wrap gap-x-3">
                {port.settings.map((field) => (
                  <Chosen key={field.what} field={field} width="w-32" />
                ))}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
