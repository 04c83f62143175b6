const LONGEST_PX = 1600;
const QUALITY = 0.85;

/** A photograph as it is sent: no longer than 1600 px, as JPEG in base64. The camera's own file is several times as large. */
export async function smaller(file: File): Promise<string> {
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
  const scale = Math.min(1, LONGEST_PX / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  return canvas.toDataURL("image/jpeg", QUALITY).split(",")[1] ?? "";
}
