import { useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { LIVENESS, PICTURES } from "../../api/vocabulary";
import { Select, TextInput } from "../../parts/inputs";
import { Wrong } from "../../parts/Wrong";

type Asked = Schemas["WantedPicture"];

const SOUND = [
  ["yes", "with sound"],
  ["no", "no sound"],
] as const;

/** Asks for a picture: who must see it, on what, how live. What it is shown on is added where the plan has none yet. */
export function AskFor() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const ends = useView("brief")?.ends ?? [];
  const [end, setEnd] = useState("");
  const [name, setName] = useState("");
  const [place, setPlace] = useState("");
  const [picture, setPicture] = useState<Asked["picture"]>("program");
  const [liveness, setLiveness] = useState<(typeof LIVENESS)[number][0] | "">("");
  const [sound, setSound] = useState<"yes" | "no" | "">("yes");
  const [wrong, setWrong] = useState("");
  const chosen = ends.find((e) => e.end === end) ?? ends[0];
  const { places } = standing.plan;
  const ask = async () => {
    if (!chosen) return;
    const body: Asked = {
      end: chosen.end,
      name: chosen.new ? name.trim() || null : null,
      place: chosen.has_place ? place || places[0]?.id || null : null,
      picture,
      liveness: liveness || null,
      sound: sound === "" ? null : sound === "yes",
    };
    setName("");
    try {
      const path = { id: standing.id };
      const edits = taken(await api.POST("/api/plans/{id}/asked/aim", { params: { path }, body }));
      setWrong("");
      await edit(edits, "asked for a picture");
    } catch (error) {
      setName(name);
      setWrong(error instanceof Refused ? error.message : "The server cannot be reached. Nothing was asked.");
    }
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-x-3 gap-y-2"
      data-not-kept={name.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        void ask();
      }}
    >
      <Select
        label="Who must see it, on what"
        width="w-56"
        value={chosen?.end ?? ""}
        options={ends.map((e) => [e.end, e.words] as const)}
        choose={setEnd}
      />
      {chosen?.new && (
        <TextInput label="Called" width="w-36" value={name} placeholder="Alder" write={setName} />
      )}
      {chosen?.has_place && places.length > 0 && (
        <Select
          label="Where"
          width="w-36"
          value={place || places[0]?.id || ""}
          options={places.map((p) => [p.id, p.name] as const)}
          choose={setPlace}
        />
      )}
      <Select
        label="Which picture"
        width="w-28"
        value={picture}
        options={PICTURES}
        choose={(v) => v && setPicture(v)}
      />
      <Select
        label="How live"
        width="w-36"
        none="as usual there"
        value={liveness}
        options={LIVENESS}
        choose={setLiveness}
      />
      <Select label="Sound" width="w-28" none="not said" value={sound} options={SOUND} choose={setSound} />
      <button type="submit" className="button">
        Ask for it
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}
