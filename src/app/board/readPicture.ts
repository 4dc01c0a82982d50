import type { Picture } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';

/** Longest side kept, px: enough to draw by, small enough to live in the project's file. */
const LONGEST = 1400;
const MAX_BYTES = 40_000_000;

/** A chosen picture made small enough for the project; 100 mm wide until it is scaled. */
export async function readPicture(file: File): Promise<Result<Picture>> {
  if (file.size > MAX_BYTES) return fail('The picture is larger than 40 MB.');
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch {
    return fail('The file is no picture that can be read; PNG, JPEG and WebP can.');
  }
  const k = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(bitmap.width * k));
  canvas.height = Math.max(1, Math.round(bitmap.height * k));
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  const data = canvas.toDataURL('image/jpeg', 0.8);
  if (data.length > 2_000_000) return fail('The picture can’t be made small enough for a project.');
  return ok({ data, ratio: bitmap.height / bitmap.width, x: 0, y: 0, width: 100, strength: 0.5, locked: false });
}
