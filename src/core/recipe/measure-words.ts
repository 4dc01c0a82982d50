/** Measurements in words. */
import type { MeasureReading, ThingReading } from '../inspect/measured';
import { degrees, fixed, formatLength, type LengthUnit } from '../units/units';
import type { MeasuredThing, Measurement, Project } from './schema';
import { bodyWords, edgeWords, faceWords } from './words';

const ENDS = { low: 'lower end', middle: 'middle', high: 'upper end' } as const;

export function thingWords(thing: MeasuredThing, project: Project): string {
  const several = Object.keys(project.bodies).length > 1 ? `, ${bodyWords(thing.body, project)}` : '';
  if ('face' in thing) return `${'at' in thing ? 'a place on ' : ''}${faceWords(thing.face, project)}${several}`;
  return `${'end' in thing ? `${ENDS[thing.end]} of the ` : ''}${edgeWords(thing.edge, project)}${several}`;
}

export const measurementWords = (m: Measurement, project: Project): string =>
  m.b ? `${thingWords(m.a, project)} to ${thingWords(m.b, project)}` : thingWords(m.a, project);

const KINDS = {
  point: 'point',
  line: 'straight',
  circle: 'circle',
  curve: 'curve',
  plane: 'flat',
  cylinder: 'cylinder',
  ball: 'ball',
  face: 'curved',
} as const;

/** What a reading says, the main figure first. */
export function readingWords(m: MeasureReading, units: LengthUnit): string[] {
  const length = (v: number): string => formatLength(v, units, 3);
  if (!m.b) return alone(m.a, length);
  const out: string[] = [];
  if (m.distance) out.push(m.distance.value < 1e-7 ? 'they touch' : `${length(m.distance.value)} apart`);
  if (m.centres) out.push(`${length(m.centres.value)} between axes or centres`);
  if (m.angle !== null) out.push(m.angle < 1e-7 ? 'parallel' : `${fixed(degrees(m.angle), 2)}°`);
  return out.length > 0 ? out : ['nothing between them can be measured'];
}

function alone(t: ThingReading, length: (v: number) => string): string[] {
  const out: string[] = [];
  if (t.radius !== null) out.push(`⌀ ${length(2 * t.radius)}`, `radius ${length(t.radius)}`);
  if (t.length !== null) out.push(`${length(t.length)} long`);
  if (t.area !== null) out.push(`${fixed(t.area / 100, 3)} cm²`);
  if (t.kind === 'point') out.push(t.at.map((c) => fixed(c, 2)).join(', '));
  else out.push(KINDS[t.kind]);
  return out;
}
