import { useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import { usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { ArrivalMatrix } from "../../instruments/ArrivalMatrix";
import { CanvasDrawing } from "../../instruments/CanvasDrawing";
import { Figure } from "../../parts/Figure";
import { Pages } from "../../parts/Pages";
import { Proofs } from "../../parts/Proofs";
import { Section } from "../../parts/Section";
import { AtPlace } from "./AtPlace";
import { Comms } from "./Comms";
import { Finder, PatchAll, type Wanted } from "./Finder";
import { Links } from "./Links";
import { MapSection } from "./MapSection";
import { useTrace, Ways } from "./Ways";

/** The signal path: the map of it, what joins what, and the ways to get a picture somewhere. */
export default function Signal() {
  const { standing } = usePlan();
  const { selected, pointed } = useSelection();
  const { devices } = standing.plan;
  const [wanted, setWanted] = useState<Wanted>({ source: "", end: "" });
  const device = !pointed && devices.some((d) => d.id === selected) ? selected : null;
  const trace = useTrace(device);
  const { id } = useParams();
  const navigate = useNavigate();
  const { search } = useLocation();
  const ask = (asked: Wanted) => {
    setWanted(asked);
    navigate(`/plans/${id}/signal/finder${search}`);
  };
  const ends = "link" in wanted ? { source: "", end: "" } : wanted;
  return (
    <Pages
      begin={devices.length > 1 && !standing.plan.links.length && "finder"}
      pages={[
        {
          id: "map",
          name: "Signal map",
          page: (
            <>
              <AtPlace />
              <div className="print-wide">
                <MapSection />
              </div>
              {device && trace && <Ways trace={trace} onWant={(here) => ask({ ...ends, ...here })} />}
            </>
          ),
        },
        {
          id: "finder",
          name: "Get a picture there",
          page: (
            <>
              <Finder wanted={wanted} onWant={setWanted} />
              <PatchAll />
            </>
          ),
        },
        {
          id: "arrivals",
          name: "What arrives where",
          page: (
            <>
              <Proofs />
              <ArrivalMatrix />
            </>
          ),
        },
        { id: "links", name: "Cables and streams", page: <Links onReroute={(link) => ask({ link })} /> },
        { id: "comms", name: "Who hears whom", page: <Comms /> },
        {
          id: "sound",
          name: "Sound and canvas",
          page: (
            <>
              <SoundSection />
              <Canvases />
            </>
          ),
        },
      ]}
    />
  );
}

function SoundSection() {
  const sounds = useView("signal")?.sounds ?? [];
  if (!sounds.length) return null;
  return (
    <Section title="Sound" aside="what is heard where a picture ends">
      <table className="w-full">
        <thead>
          <tr>
            <th>At</th>
            <th>Sound from</th>
            <th>Channels</th>
            <th>Also open</th>
            <th>Delay</th>
          </tr>
        </thead>
        <tbody>
          {sounds.map((sound) => (
            <tr key={sound.end}>
              <td>{sound.name}</td>
              <td>{sound.source}</td>
              <td>{sound.channels}</td>
              <td>{(sound.open ?? []).join(", ") || <span className="text-faint">nothing</span>}</td>
              <td>{sound.delay}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function Canvases() {
  const canvases = useView("signal")?.canvases ?? [];
  if (!canvases.length) return null;
  return (
    <Section title="Canvas" aside="drawn to scale">
      {canvases.map((each) => (
        <div key={each.stream} className="mb-4">
          <p className="mb-2">
            <strong>{each.name}</strong>
            {each.composes
              ? `, composed by ${each.encoder}.`
              : `. ${each.encoder} cannot compose it: a second encoder is needed.`}{" "}
            A centre crop keeps <Figure working={each.canvas.kept} /> of the width; shrunk whole, the picture
            takes <Figure working={each.canvas.share} /> of the height.
          </p>
          <CanvasDrawing canvas={each.canvas} layout={each.layout} />
        </div>
      ))}
    </Section>
  );
}
