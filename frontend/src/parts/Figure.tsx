import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { type ComponentProps, useEffect, useRef, useState } from "react";
import type { Working } from "../api/client";
import { setFigure } from "../api/edits";
import { NumberField } from "./Field";
import { shown } from "./numbers";

/** A figure that opens to the arithmetic behind it. There are hundreds on a page: each is a plain button until then. */
export function Figure({ working, strong }: { working: Working; strong?: boolean }) {
  const [asked, setAsked] = useState(false);
  const face = {
    className: `decoration-faint cursor-pointer whitespace-nowrap underline decoration-dotted underline-offset-4 ${strong ? "font-semibold" : ""}`,
    title: `Show how ${working.name.toLowerCase()} was reckoned`,
    children: (
      <>
        <span className="font-mono">{shown(working.value)}</span> {working.unit}
      </>
    ),
  };
  if (!asked) return <button type="button" aria-expanded={false} {...face} onClick={() => setAsked(true)} />;
  return <Opening working={working} face={face} />;
}

function Opening({ working, face }: { working: Working; face: ComponentProps<"button"> }) {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    button.current?.focus();
    button.current?.click();
  }, []);
  return (
    <Popover className="relative inline-block">
      <PopoverButton ref={button} {...face} />
      <PopoverPanel
        anchor={{ to: "bottom start", gap: 6, padding: 12 }}
        className="bg-sheet border-ink z-30 w-[27rem] max-w-[95vw] border p-3 shadow-[3px_3px_0_var(--rule)]"
      >
        <Sum working={working} />
      </PopoverPanel>
    </Popover>
  );
}

/** The arithmetic itself, line by line. */
export function Sum({ working }: { working: Working }) {
  return (
    <div>
      <h3 className="mb-1">{working.name}</h3>
      <table className="w-full text-small">
        <tbody>
          {(working.steps ?? []).map((step, i) => (
            <tr key={i}>
              <td>
                {step.name}
                {step.how && <span className="text-faint block">{step.how}</span>}
                {step.source && <span className="text-faint block text-note">Source: {step.source}</span>}
              </td>
              <td className="w-28 pr-0 text-right font-mono whitespace-nowrap">
                {step.figure ? (
                  <NumberField
                    label={`${step.name}, for this plan`}
                    hideLabel
                    optional
                    value={step.value}
                    unit={step.unit}
                    edits={(value) => [setFigure(step.figure as string, value)]}
                  />
                ) : (
                  step.value !== null &&
                  step.value !== undefined && (
                    <>
                      {shown(step.value)} {step.unit}
                    </>
                  )
                )}
              </td>
            </tr>
          ))}
          <tr>
            <td className="border-ink font-semibold">{working.name}</td>
            <td className="border-ink pr-0 text-right font-mono font-semibold whitespace-nowrap">
              {shown(working.value)} {working.unit}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  );
}
