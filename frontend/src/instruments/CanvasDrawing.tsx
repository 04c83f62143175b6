import type { Schemas } from "../api/client";

type CanvasData = Schemas["Canvas"];
const TALL = 236;
const GAP = 48;
const CAPTION = 276;

/** A picture and its canvas to scale: what a crop would keep, what the whole picture takes, what is safe. */
export function CanvasDrawing({
  canvas,
  layout,
}: {
  canvas: CanvasData;
  layout: Schemas["StreamCanvas"]["layout"];
}) {
  const { picture, canvas: sheet, crop, fit, action, graphics } = canvas;
  const scale = TALL / Math.max(sheet.height, picture.height * 0.62);
  const small = scale * 0.62;
  const left = 1;
  const right = left + Math.max(picture.width * small, CAPTION) + GAP;
  const rect = (r: Schemas["Rect"], by: number, x: number, y: number) => ({
    x: x + r.x * by,
    y: y + r.y * by,
    width: r.width * by,
    height: r.height * by,
  });
  return (
    <svg
      width={right + sheet.width * scale + 190}
      height={TALL + 26}
      className="block max-w-full"
      role="img"
      aria-label={`${picture.width} by ${picture.height} on ${sheet.width} by ${sheet.height}: a crop keeps ${canvas.kept.value} % of the width, the whole picture takes ${canvas.share.value} % of the height.`}
    >
      <rect
        x={left}
        y={4}
        width={picture.width * small}
        height={picture.height * small}
        fill="var(--wash)"
        stroke="var(--ink)"
      />
      <rect
        {...rect(crop, small, left, 4)}
        fill={layout === "crop" ? "var(--paper)" : "none"}
        stroke="var(--accent)"
        strokeWidth="2"
        strokeDasharray="6 3"
      />
      <text x={left} y={picture.height * small + 20} className="fill-ink text-note">
        program {picture.width} × {picture.height}
      </text>
      <text x={left} y={picture.height * small + 36} className="fill-faint text-note">
        dashed: what a centre crop keeps, {crop.width.toFixed(0)} px wide
      </text>
      <rect
        x={right}
        y={4}
        width={sheet.width * scale}
        height={sheet.height * scale}
        fill="var(--paper)"
        stroke="var(--ink)"
        strokeWidth="1.6"
      />
      {layout === "crop" ? (
        <rect x={right} y={4} width={sheet.width * scale} height={sheet.height * scale} fill="var(--wash)" />
      ) : (
        <rect {...rect(fit, scale, right, 4)} fill="var(--wash)" stroke="var(--ink)" />
      )}
      <rect {...rect(action, scale, right, 4)} fill="none" stroke="var(--faint)" strokeDasharray="1 4" />
      <rect {...rect(graphics, scale, right, 4)} fill="none" stroke="var(--faint)" strokeDasharray="5 3" />
      <g className="fill-ink text-note">
        <text x={right + sheet.width * scale + 12} y={18}>
          canvas {sheet.width} × {sheet.height}
        </text>
        {layout !== "crop" && (
          <text x={right + sheet.width * scale + 12} y={36}>
            {fit.y.toFixed(0)} px free above and below
          </text>
        )}
        <text x={right + sheet.width * scale + 12} y={54} className="fill-faint">
          dotted: action safe
        </text>
        <text x={right + sheet.width * scale + 12} y={70} className="fill-faint">
          dashed: graphics safe
        </text>
      </g>
    </svg>
  );
}
