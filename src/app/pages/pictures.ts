/** Pictures that come with the application, of projects that do. Written by `npm run pictures`. */
import pictures from '../../../demo/pictures.json';
import type { KeptPicture } from '../storage/kept';

export const ownPicture = (name: string): Omit<KeptPicture, 'id'> | undefined =>
  (pictures as Readonly<Record<string, Omit<KeptPicture, 'id'>>>)[name];
