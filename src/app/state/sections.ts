/** Sections of bodies by planes, cut in a worker that keeps the bodies it was given. */
import type { Plane } from '../../core/mesh/slice';
import type { Result } from '../../core/result';
import { Helper, type Unanswered } from '../../engine/helper';
import type { BodyScene } from '../../engine/types';
import type { SectionApi } from '../section-worker';

const cutter = new Helper<SectionApi>(
  () => new Worker(new URL('../section-worker.ts', import.meta.url), { type: 'module' }),
  'The section',
  { seconds: 30, idle: 120 },
);

export type Cut = NonNullable<ReturnType<SectionApi['cut']>>;

/** What the worker has of each body. */
const loaded = new Map<string, BodyScene>();

/** @returns null where there is no such body any more */
export async function cutBody(scene: BodyScene, plane: Plane): Promise<Result<Cut | null, Unanswered>> {
  for (let trial = 0; ; trial++) {
    if (loaded.get(scene.id) !== scene) {
      const { id, positions, normals, indices, faceOf } = scene;
      const r = await cutter.ask((api) => api.load(id, { positions, normals, indices, faceOf }));
      if (!r.ok) return r;
      loaded.set(id, scene);
    }
    const r = await cutter.ask((api) => api.cut(scene.id, plane));
    // A new worker knows nothing of the body yet.
    if (!r.ok || r.value || trial > 0) return r;
    loaded.delete(scene.id);
  }
}
