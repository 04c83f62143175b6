import type { Edit, VideoFormat } from "../api/client";
import { RASTERS, RATES, SCANS } from "../api/vocabulary";
import { Choice } from "./Field";

/** Raster, frame rate and scan, each chosen and kept on its own: two quick choices never take each other back. */
export function FormatField(props: {
  label: string;
  value?: VideoFormat | null;
  /** The edit of one part of the format. */
  part: (field: keyof VideoFormat, value: number | string) => Edit | Edit[];
  hideLabel?: boolean;
  /** In the pane: all three on one line. */
  narrow?: boolean;
}) {
  const { label, value, part, hideLabel, narrow } = props;
  const raster = value ? `${value.width}x${value.height}` : "";
  const rasters =
    RASTERS.some(([key]) => key === raster) || !raster
      ? RASTERS
      : [...RASTERS, [raster, raster.replace("x", " × ")] as const];
  return (
    <fieldset className={`flex ${narrow ? "gap-1" : "flex-wrap gap-2"}`}>
      <legend className="sr-only">{label}</legend>
      <Choice
        label={hideLabel ? `${label}: raster` : "Raster, pixels"}
        hideLabel={hideLabel}
        width={narrow ? "w-[120px]" : "w-44"}
        value={raster}
        options={rasters}
        edits={(key) => {
          const [width = 0, height = 0] = key.split("x").map(Number);
          return [part("width", width), part("height", height)].flat();
        }}
      />
      <Choice
        label={hideLabel ? `${label}: frame rate` : "Frames/s"}
        hideLabel={hideLabel}
        width={narrow ? "w-[72px]" : "w-24"}
        value={value ? value.rate : ""}
        options={RATES}
        edits={(rate) => [part("rate", rate)].flat()}
      />
      <Choice
        label={hideLabel ? `${label}: scan` : "Scan"}
        hideLabel={hideLabel}
        width={narrow ? "w-[114px]" : "w-32"}
        value={value?.scan ?? ""}
        options={SCANS}
        edits={(scan) => [part("scan", scan)].flat()}
      />
    </fieldset>
  );
}
