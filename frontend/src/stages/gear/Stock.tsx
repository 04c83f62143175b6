import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { freeId, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { asTyped } from "../../parts/numbers";
import { FirstThing, Section } from "../../parts/Section";
import { ItemLabels } from "./ItemLabels";

type Holding = Schemas["Holding"];

/** What is owned and borrowed, against what this plan uses and others take on the day. */
export function Stock() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const lines = useView("gear")?.stock ?? [];
  const client = useQueryClient();
  const [trouble, setTrouble] = useState("");
  const { data: holdings = [] } = useQuery({
    queryKey: ["stock"],
    queryFn: async () => taken(await api.GET("/api/stock")),
  });
  const change = async (act: () => Promise<unknown>) => {
    try {
      await act();
      setTrouble("");
    } catch (error) {
      setTrouble(
        error instanceof Refused
          ? error.message
          : "The server cannot be reached. This is not kept yet: what you typed stays here, do it again.",
      );
      return false;
    }
    await client.invalidateQueries({ queryKey: ["stock"] });
    await client.invalidateQueries({ queryKey: ["plan", standing.id] });
    return true;
  };
  const keep = (holding: Holding) =>
    change(async () =>
      taken(
        await api.PUT("/api/stock/{holding}", { params: { path: { holding: holding.id } }, body: holding }),
      ),
    );
  const drop = (id: string) =>
    void change(() => api.DELETE("/api/stock/{holding}", { params: { path: { holding: id } } }));
  const pressing = lines.filter((line) => line.missing > 0 || (line.notes ?? []).length > 0);
  const rest = lines.filter((line) => !pressing.includes(line));
  return (
    <Section title="Stock" aside="shared by all plans; a show on the same day takes from it too">
      {trouble && (
        <p role="alert" className="text-accent font-semibold">
          {trouble}
        </p>
      )}
      {!holdings.length && (
        <FirstThing>
          Nothing is counted yet. Write down what you own, and what is missing will be said.
        </FirstThing>
      )}
      <label className="mb-2 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-accent"
          checked={standing.plan.settings.takes_stock}
          onChange={(event) => void edit([set("settings", null, "takes_stock", event.target.checked)])}
        />
        Count the gear of this plan against the stock
      </label>
      <Lines lines={pressing} />
      {rest.length > 0 && (
        <details className="mt-1">
          <summary className="link">
            {pressing.length ? "The rest" : "All"} that is used or held, nothing missing ({rest.length})
          </summary>
          <Lines lines={rest} />
        </details>
      )}
      <details className="mt-2">
        <summary className="link">Change the stock list ({holdings.length})</summary>
        <NewHolding holdings={holdings} onKeep={keep} />
        <table className="mt-2 w-full text-small">
          <tbody>
            {holdings.map((holding) => (
              <HoldingRow key={holding.id} holding={holding} keep={keep} onDrop={() => drop(holding.id)} />
            ))}
          </tbody>
        </table>
      </details>
    </Section>
  );
}

function HoldingRow({
  holding,
  keep,
  onDrop,
}: {
  holding: Holding;
  keep: (holding: Holding) => Promise<boolean>;
  onDrop: () => void;
}) {
  const onCount = (count: number) => void keep({ ...holding, count });
  return (
    <tr className="align-top">
      <td>{holding.model}</td>
      <td className="w-20">
        <input
          className="field text-right font-mono"
          type="number"
          min={0}
          aria-label={`Count of ${holding.model}${holding.lender ? ` from ${holding.lender}` : ""}`}
          key={holding.count}
          defaultValue={holding.count}
          onBlur={(e) => {
            const count = Number(e.target.value);
            if (count !== holding.count) onCount(count);
          }}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </td>
      <td>
        {holding.lender
          ? `from ${holding.lender}${holding.until ? ` until ${asTyped(holding.until)}` : ""}`
          : "owned"}
      </td>
      <td>
        <ItemLabels holding={holding} keep={keep} />
      </td>
      <td className="text-right whitespace-nowrap">
        <button type="button" className="link" onClick={onDrop}>
          Take off<span className="sr-only"> {holding.model}</span>
        </button>
      </td>
    </tr>
  );
}

function Lines({ lines }: { lines: readonly Schemas["StockLine"][] }) {
  if (!lines.length) return null;
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th>Model</th>
          <th className="text-right">Used here</th>
          <th className="text-right">Owned</th>
          <th className="text-right">Borrowed</th>
          <th className="text-right">Missing</th>
          <th>Note</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.model}>
            <td>{line.model}</td>
            <td className="text-right font-mono">{line.used}</td>
            <td className="text-right font-mono">{line.owned}</td>
            <td className="text-right font-mono">{line.borrowed}</td>
            <td className={`text-right font-mono ${line.missing ? "text-accent font-semibold" : ""}`}>
              {line.missing || ""}
            </td>
            <td className="text-faint">{(line.notes ?? []).join("; ")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function NewHolding({
  holdings,
  onKeep,
}: {
  holdings: Holding[];
  onKeep: (holding: Holding) => Promise<boolean>;
}) {
  const { standing } = usePlan();
  const { data: entries = [] } = useQuery({
    queryKey: ["gear"],
    queryFn: async () => taken(await api.GET("/api/gear")),
  });
  const [model, setModel] = useState("");
  const [count, setCount] = useState("1");
  const [lender, setLender] = useState("");
  const [until, setUntil] = useState("");
  const models = [
    ...new Set([...entries.map((e) => e.model.device.model), ...standing.plan.devices.map((d) => d.model)]),
  ].filter((m): m is string => Boolean(m));
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-3"
      data-not-kept={model.trim() ? "" : undefined}
      onSubmit={async (event) => {
        event.preventDefault();
        if (!model.trim()) return;
        const kept = await onKeep({
          id: freeId(model, holdings),
          model: model.trim(),
          count: Number(count) || 0,
          items: [],
          lender,
          until: until || null,
        });
        if (!kept) return;
        setModel("");
        setLender("");
        setUntil("");
      }}
    >
      <label className="text-faint w-56 text-note">
        Model
        <input
          className="field text-ink"
          list="models"
          value={model}
          onChange={(e) => setModel(e.target.value)}
        />
        <datalist id="models">
          {models.map((m) => (
            <option key={m} value={m} />
          ))}
        </datalist>
      </label>
      <label className="text-faint w-16 text-note">
        How many
        <input
          className="field text-ink font-mono"
          type="number"
          min={0}
          value={count}
          onChange={(e) => setCount(e.target.value)}
        />
      </label>
      <label className="text-faint w-40 text-note">
        Borrowed from (empty: owned)
        <input className="field text-ink" value={lender} onChange={(e) => setLender(e.target.value)} />
      </label>
      <label className="text-faint w-36 text-note">
        Until
        <input
          className="field text-ink"
          placeholder="30 Sep 2026"
          value={until}
          onChange={(e) => setUntil(e.target.value)}
        />
      </label>
      <button type="submit" className="button">
        Write it down
      </button>
    </form>
  );
}
