import { useCallback } from "react";
import { useSetupAhead } from "../api/setup";
import { useAhead } from "../api/views";
import type { Stage } from "./stages";

/** Asks for what a stage draws first, while its page is being made. */
export function useStageAhead(): (stage: Stage) => void {
  const views = useAhead();
  const day = useSetupAhead();
  return useCallback(
    (stage) => {
      views(stage.first);
      if (stage.id === "set-up") day();
    },
    [views, day],
  );
}
