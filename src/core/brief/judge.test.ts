import { describe, expect, it } from 'vitest';
import { newProject } from '../recipe/edit';
import type { Project } from '../recipe/schema';
import type { Readings } from './gauges';
import { judge, judgedBody, materialOf } from './judge';
import { massOf } from './materials';

const project: Project = {
  ...newProject('Two'),
  bodies: { s1: { name: 'Cup', hidden: true }, s2: { name: 'Lid', material: 'brass' }, s3: { name: 'Knob' } },
};
const READ: Readings = {
  height: 80,
  width: 60,
  depth: 60,
  diameter: 60,
  round: true,
  mouth: null,
  capacityBrim: null,
  capacityFill: null,
  wallMin: 2,
  wallMax: 5,
  closed: true,
  surface: false,
  openBorders: 0,
  volume: 5000,
  area: 9000,
  deviation: null,
};

const own = (id: string): string => id;

describe('what the brief judges', () => {
  it('is the body that was chosen, else the first that is shown, else the first', () => {
    expect(judgedBody(project, ['s1', 's2', 's3'], own, 's3')).toBe('s3');
    expect(judgedBody(project, ['s1', 's2', 's3'], own)).toBe('s2');
    expect(judgedBody(project, ['s1', 's2', 's3'], own, 'gone')).toBe('s2');
    expect(judgedBody(project, ['s1'], own)).toBe('s1');
    expect(judgedBody(project, [], own)).toBe(null);
  });
  it('is what was made, before a scan that it was made from', () => {
    const scanned = { ...project, bodies: {}, steps: [{ id: 's1', kind: 'scan' }] as unknown as Project['steps'] };
    expect(judgedBody(scanned, ['s1', 's2'], own)).toBe('s2');
    expect(judgedBody(scanned, ['s1', 's2'], own, 's1')).toBe('s1');
    expect(judgedBody(scanned, ['s1'], own)).toBe('s1');
  });
  it('is weighed as what it is made of, else as what the brief says', () => {
    expect(materialOf(project, 's2')).toBe('brass');
    expect(materialOf(project, 's3')).toBe(project.brief.material);
    expect(materialOf(project, null)).toBe(project.brief.material);
    const mass = (body: string) => judge(project, () => undefined, body, READ).find((g) => g.id === 'mass')!.value;
    expect(mass('s2')).toBe(massOf(5000, 'brass'));
    expect(mass('s3')).toBe(massOf(5000, project.brief.material));
    expect(mass('s2')).not.toBe(mass('s3'));
  });
});
