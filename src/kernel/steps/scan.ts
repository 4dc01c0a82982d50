/** A scan, from the facets the project keeps. */
import type { TriMesh } from '../../core/mesh/mesh';
import { bounds } from '../../core/mesh/mesh';
import { SCAN_UNITS } from '../../core/recipe/steps/scan';
import { fail, ok } from '../../core/result';
import { roughness } from '../../core/scan/clean';
import { unpackMesh } from '../../core/scan/packed';
import { manifold, topologyOf } from '../../core/scan/topology';
import { fixed } from '../../core/units/units';
import { SCAN_ONLY, SCANNED, scanBody, scanMesh } from '../scans';
import type { ContextOf, StepOutcome } from './operation';

export function scan({ kernel, project, step }: ContextOf<'scan'>): StepOutcome {
  const file = project.imports?.[step.inputs.file];
  const again = ['bring it in again'];
  if (!file?.scan) return fail({ what: 'there is no scan', why: 'the project no longer holds the file', tryInstead: again });
  const read = unpackMesh(file.scan);
  if (!read.ok) return fail({ what: `${file.name} can’t be brought in`, why: read.error, tryInstead: again });
  const scale = SCAN_UNITS[step.inputs.unit];
  const mesh: TriMesh = { ...read.value, positions: read.value.positions.map((x) => x * scale) };
  const sound = manifold(mesh);
  if (sound.mesh.faceOf.length === 0)
    return fail({ what: `${file.name} can’t be brought in`, why: 'none of its facets has an area', tryInstead: ['another file'] });
  const body = scanBody(kernel, sound.mesh, [`${step.id}${SCANNED}`]);
  const skin = scanMesh(body)!;
  const { islands, borders } = topologyOf(skin);
  const { min, max } = bounds(sound.mesh.positions);
  const size = max.map((m, k) => fixed(m - min[k]!, 0)).join(' × ');
  const note = [
    `${sound.mesh.faceOf.length.toLocaleString('en')} facets, ${size} mm as it lies`,
    islands.length > 1 ? `${islands.length} islands` : 'one island',
    borders.length > 0 ? `${borders.length} open borders` : 'closed',
    sound.dropped > 0 ? `${sound.dropped} doubled or crossing facets left out` : '',
    `rough by ${fixed(roughness(skin), 2)} mm`,
  ];
  return ok({
    bodies: [{ id: step.id, body }],
    volumeChange: 0,
    warnings: [],
    note: `${note.filter(Boolean).join(', ')}; ${SCAN_ONLY}`,
  });
}
