import type { Schemas } from "../api/client";

type Place = Schemas["WalkPlace"];

const KEPT = (plan: string) => `humble-relay:order:${plan}`;

/** The places as this phone walks them: as they were put, those that nobody has put anywhere after them, in the shortest order. */
export function inOrder(places: readonly Place[], order: readonly string[]): Place[] {
  const at = (place: Place) => {
    const found = order.indexOf(place.id);
    return found < 0 ? order.length : found;
  };
  if (!order.length) return [...places];
  // How far it is from one to the next is known of the shortest walk alone.
  return places.toSorted((a, b) => at(a) - at(b)).map((place) => ({ ...place, walk_m: null }));
}

export const keptOrder = (plan: string): string[] => {
  const kept: unknown = JSON.parse(localStorage.getItem(KEPT(plan)) ?? "[]");
  return Array.isArray(kept) ? kept.filter((id) => typeof id === "string") : [];
};

export const keepOrder = (plan: string, order: readonly string[]) =>
  localStorage.setItem(KEPT(plan), JSON.stringify(order));

/** The places in the order they are walked, each to be put earlier; and back to the shortest walk. */
export function WalkingOrder(props: {
  places: readonly Place[];
  ordered: boolean;
  put: (order: string[]) => void;
}) {
  const { places, ordered, put } = props;
  const earlier = (at: number) => {
    const ids = places.map((place) => place.id);
    ids.splice(at - 1, 2, ids[at] ?? "", ids[at - 1] ?? "");
    put(ids);
  };
  return (
    <details className="mt-4">
      <summary className="link cursor-pointer py-3">
        {ordered ? "The order you walk in" : "The shortest walk from the desk"}
      </summary>
      <ol>
        {places.map((place, at) => (
          <li
            key={place.id}
            className="border-rule flex min-h-12 items-center justify-between gap-3 border-b"
          >
            <span>
              {at + 1} {place.name}
              {!ordered && (
                <span className="text-faint block text-small">
                  {at === 0
                    ? "the desk"
                    : place.walk_m === null
                      ? "distance not known"
                      : `${Math.round(place.walk_m)} m on`}
                </span>
              )}
            </span>
            {at > 0 && (
              <button type="button" className="button min-h-11" onClick={() => earlier(at)}>
                Earlier<span className="sr-only">: {place.name}</span>
              </button>
            )}
          </li>
        ))}
      </ol>
      {ordered && (
        <button type="button" className="button mt-2 min-h-12 w-full" onClick={() => put([])}>
          The shortest walk again
        </button>
      )}
    </details>
  );
}
