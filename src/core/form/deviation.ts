/** How far the exact faces of forms lie from the smooth limits of their cages. */
import { type Frame, isOriginPlane, ORIGIN_PLANES, overPlane } from '../curves/frame';
import type { Scope } from '../dimensions/expression';
import { stepsBehind } from '../recipe/lineage';
import type { Project } from '../recipe/schema';
import { isOf } from '../recipe/steps';
import { type Cage, type Net, netOf, type P3 } from './cage';
import { type FormPatch, type FormSkin, facesOver, patchesOf } from './patches';
import { cageOf } from './read';

/** Refinements about irregular vertices, by how closely the faces of a form follow. */
const LEVELS = { well: 4, finely: 6 } as const;

/** Skins that were asked for last: a step makes one, and the gauges read it right after. */
const recent = new Map<string, FormSkin>();
const KEPT = 4;

/** The exact faces of a cage with what they miss. @param net the cage's own */
export function skinOf(cage: Cage, net: Net, follow: keyof typeof LEVELS): FormSkin {
  const key = `${follow} ${JSON.stringify(cage)}`;
  let skin = recent.get(key);
  if (!skin) {
    skin = patchesOf(net, LEVELS[follow]);
    recent.set(key, skin);
    if (recent.size > KEPT) recent.delete(recent.keys().next().value!);
  }
  return skin;
}

/** The exact faces alone, for skins that nobody asks how far they miss. */
export const facesFollowing = (net: Net, follow: keyof typeof LEVELS): readonly FormPatch[] => facesOver(net, LEVELS[follow]);

/**
 * The largest distance of a body's faces from the limits of the cages it comes of, mm; null for a body that comes of none.
 * @returns `at` on the limit, null where the form stands on a plane that is not one through the origin
 */
export function formDeviation(project: Project, scope: Scope, body: string): { value: number; at: P3 | null } | null {
  let worst: { value: number; at: P3 | null } | null = null;
  const behind = stepsBehind(project, body);
  const pulled = new Set(behind.flatMap((s) => (isOf(s, 'drape') ? [s.inputs.body] : [])));
  for (const step of behind) {
    // What was pulled onto something follows another cage.
    if (!isOf(step, 'form') || pulled.has(step.id)) continue;
    const { inputs } = step;
    const cage = cageOf(inputs.source, scope);
    const net = cage.ok ? netOf(cage.value) : null;
    if (!cage.ok || !net?.ok) continue;
    const found = skinOf(cage.value, net.value, inputs.follow).deviation;
    const plane: Frame | null = isOriginPlane(inputs.plane) ? ORIGIN_PLANES[inputs.plane] : null;
    if (!worst || found.value > worst.value) worst = { value: found.value, at: plane ? overPlane(plane, found.at) : null };
  }
  return worst;
}
