import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { addAim, freeId, remove, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useProofs } from "../../api/proofs";
import { useView } from "../../api/views";
import { LIVENESS, NEEDS, PICTURES } from "../../api/vocabulary";
import { Choice, Field } from "../../parts/Field";
import { asTyped } from "../../parts/numbers";
import { ProofBody } from "../../parts/ProofBody";
import { FirstThing, Section } from "../../parts/Section";
import { STATE_WORDS, StateMark } from "../../parts/StateMark";
import { YesNo } from "../../parts/YesNo";
import { Finder, type Wanted } from "../signal/Finder";
import { AskFor } from "./AskFor";

/** What must arrive: each picture that was asked for, with its proof; and those that arrive without being asked for. */
export function Aims() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { data } = useProofs();
  const { aims, devices } = standing.plan;
  const unasked = data?.unasked ?? [];
  return (
    <Section title="What must arrive" aside="the proof of each picture, from its sources to its end">
      {!aims.length && (
        <FirstThing>
          Say who must see the show, and on what: everything else is judged by whether it arrives there.
        </FirstThing>
      )}
      <ul>
        {(data?.proofs ?? []).map((proof) => (
          <ProofLine
            key={proof.aim}
            proof={proof}
            aim={aims.find((aim) => aim.id === proof.aim)}
            makers={devices.map((d) => [d.id, d.name] as const)}
          />
        ))}
      </ul>
      <AskFor />
      {unasked.length > 0 && (
        <p className="mt-2">
          Drawn, not asked for:{" "}
          {unasked.map((end) => (
            <button
              key={end.device}
              type="button"
              className="link pr-3"
              onClick={() => void edit([addAim(freeId(end.device, aims), end.device)])}
            >
              Ask for the program at {end.name}
            </button>
          ))}
        </p>
      )}
    </Section>
  );
}

function ProofLine({
  proof,
  aim,
  makers,
}: {
  proof: Schemas["ProofLine"];
  aim: Schemas["Aim"] | undefined;
  makers: readonly (readonly [string, string])[];
}) {
  const { edit } = useEdits();
  const found = useView("brief")?.aim_ways.find((w) => w.aim === proof.aim);
  const way = found && { source: found.source ?? "", end: found.end };
  const [wanted, setWanted] = useState<Wanted | null>(null);
  const put = (field: string) => (v: string) => [set("aim", proof.aim, field, v || null)];
  return (
    <Disclosure as="li" className="border-rule border-b py-1">
      <DisclosureButton className="flex w-full cursor-pointer items-baseline gap-2 text-left">
        <StateMark state={proof.state} />
        <span className="min-w-0 flex-1">
          <span className="font-semibold">{proof.title}</span>: {STATE_WORDS[proof.state]}
        </span>
        <span className="margin-note">{proof.summary}</span>
      </DisclosureButton>
      <DisclosurePanel className="mb-3 pl-[22px]">
        {aim && (
          <div className="my-2 flex flex-wrap items-end gap-x-4 gap-y-2">
            <Choice
              label="Picture"
              width="w-32"
              value={aim.picture}
              options={PICTURES}
              edits={put("picture")}
            />
            <Choice
              label="Of"
              width="w-44"
              none="whichever makes one"
              value={aim.of ?? ""}
              options={makers}
              edits={put("of")}
            />
            <Choice label="It is" width="w-28" value={aim.need} options={NEEDS} edits={put("need")} />
            <Choice
              label="How live"
              width="w-36"
              value={aim.liveness}
              options={LIVENESS}
              edits={put("liveness")}
            />
            <div className="w-28">
              <span className="text-faint block text-note">With sound</span>
              <YesNo
                label={`Sound of ${proof.title}`}
                value={aim.sound ?? null}
                edits={(v) => [set("aim", proof.aim, "sound", v)]}
              />
            </div>
            {(["from_at", "until_at"] as const).map((field) => (
              <Field
                key={field}
                label={field === "from_at" ? "From (empty: the start)" : "Until (empty: the end)"}
                width="w-44"
                value={aim[field] ? asTyped(aim[field]) : ""}
                edits={(text) => [set("aim", proof.aim, field, text.trim() || null)]}
              />
            ))}
            <button type="button" className="link pb-1" onClick={() => void edit([remove("aim", aim.id)])}>
              Do not ask for it<span className="sr-only">: {proof.title}</span>
            </button>
          </div>
        )}
        <ProofBody aim={proof.aim} />
        {way && !wanted && (
          <button type="button" className="button mt-2" onClick={() => setWanted(way)}>
            Get it there<span className="sr-only">: {proof.title}</span>
          </button>
        )}
        {wanted && (
          <div className="mt-3">
            <Finder wanted={wanted} onWant={setWanted} />
          </div>
        )}
      </DisclosurePanel>
    </Disclosure>
  );
}
