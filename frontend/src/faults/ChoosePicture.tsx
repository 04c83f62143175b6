import type { FaultPlace } from "../api/faults";

/** Which picture does not appear. */
export function ChoosePicture(props: {
  places: readonly FaultPlace[];
  choose: (picture: string) => void;
  large?: boolean;
}) {
  return (
    <label className="mb-3 block max-w-96">
      <span className="text-faint block text-small">What does not appear?</span>
      <select
        className={`field ${props.large ? "min-h-12 text-head" : ""}`}
        value=""
        onChange={(event) => props.choose(event.target.value)}
      >
        <option value="">Choose the picture</option>
        {props.places.map((p) => (
          <option key={p.picture} value={p.picture}>
            {p.at}
          </option>
        ))}
      </select>
    </label>
  );
}
