/** Longer side of a kept picture, px, and its quality: enough for the screen of an oscilloscope. */
const SIDE = 960;
const QUALITY = 0.72;
/** Characters of a kept picture at most: several go with one save. */
const MOST = 380_000;

/** A picture as it is kept with a run: a JPEG of a modest size, so that nothing else of the file travels with it. */
export async function pictureOf(file: File): Promise<string | undefined> {
  try {
    const bitmap = await createImageBitmap(file);
    for (let side = SIDE; side >= 240; side /= 1.5) {
      const scale = Math.min(1, side / Math.max(bitmap.width, bitmap.height));
      const canvas = document.createElement('canvas');
      canvas.width = Math.max(1, Math.round(bitmap.width * scale));
      canvas.height = Math.max(1, Math.round(bitmap.height * scale));
      canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
      const data = canvas.toDataURL('image/jpeg', QUALITY);
      if (data.length <= MOST) return data;
    }
    return undefined;
  } catch {
    return undefined;
  }
}
