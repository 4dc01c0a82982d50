/** Projects that come with the application, with their pictures, which are written by `npm run pictures`. */
import { readProject } from '../../core/recipe/file';
import { type KeptPicture, keepPicture } from '../storage/kept';
import { createProject } from '../storage/store';

export type OwnPictures = Readonly<Record<string, Omit<KeptPicture, 'id'> | undefined>>;

/** They come when they are first shown: the first page does not wait for them. */
export const ownPictures = async (): Promise<OwnPictures> => (await import('../../../demo/pictures.json')).default;

/** One of them as a project of one's own, with its picture; its id. */
export async function addShipped(raw: unknown): Promise<string> {
  const read = readProject(raw);
  if (!read.ok) throw new Error(read.error);
  const id = await createProject(read.value);
  const looks = (await ownPictures())[read.value.name];
  if (looks) await keepPicture({ id, ...looks });
  return id;
}
