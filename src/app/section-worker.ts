/** Cuts display meshes for the section view, away from the page's thread and from the busy kernel. */
import * as Comlink from 'comlink';
import type { TriMesh } from '../core/mesh/mesh';
import { type Plane, regions, sliceMesh } from '../core/mesh/slice';
import { type BodyMesh, weldedMesh } from '../kernel/tessellate';

const skins = new Map<string, TriMesh>();

const api = {
  load(id: string, mesh: BodyMesh): void {
    skins.set(id, weldedMesh(mesh));
  },
  cut(id: string, plane: Plane) {
    const skin = skins.get(id);
    if (!skin) return null;
    const section = sliceMesh(skin, plane);
    return { u: section.u, v: section.v, chains: section.chains, regions: regions(section) };
  },
};
export type SectionApi = typeof api;
Comlink.expose(api);
