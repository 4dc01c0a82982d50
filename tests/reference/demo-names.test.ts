/**
 * The demos of bodies keep their picks: each dimension by ±50 %, a step put before, two that do not depend on each other swapped. Where the
 * picks landed is read off the finished body: its bounds, by the dimensions that name them. A refusal in words is allowed, a wrong place is not.
 */
import { describe, expect, it } from 'vitest';
import { ladleGrip } from '../../demo/ladle-grip';
import { robeHook } from '../../demo/robe-hook';
import { soapTray } from '../../demo/soap-tray';
import { evaluateDimensions } from '../../src/core/dimensions/dimensions';
import type { Bounds } from '../../src/core/mesh/mesh';
import { addStep, moveStep, setDimension } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { Engine } from '../../src/engine/engine';
import { testKernel } from '../support/kernel';
import { everyCase } from '../support/properties';

const engine = new Engine({ open: testKernel });

interface Demo {
  readonly project: Project;
  readonly body: string;
  /** What the bounds must be by the dimensions, as pairs of read and wanted. */
  readonly wanted: (b: Bounds, d: (name: string) => number) => readonly (readonly [number, number])[];
  /** Two neighbours that do not depend on each other. */
  readonly swap: readonly [string, number];
}

const demos: Readonly<Record<string, Demo>> = {
  'ladle grip': {
    project: ladleGrip,
    body: 's2',
    wanted: (b, d) => [[b.max[2] - b.min[2], d('length')]],
    swap: ['s1', 1],
  },
  'robe hook': {
    project: robeHook,
    body: 's3',
    wanted: (b, d) => [[b.max[2], d('lift') + d('ball') / 2]],
    swap: ['s4', 4],
  },
  'soap tray': {
    project: soapTray,
    body: 's2',
    wanted: (b, d) => [
      [b.max[0] - b.min[0], d('width') + d('wire')],
      [b.max[2], d('rise') + Math.max(d('wire'), d('bar')) / 2],
    ],
    swap: ['s1', 0],
  },
};

describe.each(Object.entries(demos))('the %s', (_, demo) => {
  const judge = async (project: Project): Promise<string | null> => {
    const r = await engine.rebuild(project);
    const bad = r.steps.find((s) => s.state === 'failed');
    if (bad) return (bad.why?.length ?? 0) > 5 && bad.tryInstead.length > 0 ? null : `failed without words: ${bad.message}`;
    const { scope } = evaluateDimensions(project.dimensions);
    const value = (name: string): number => {
      const v = scope(name);
      return v?.ok ? v.value.value : Number.NaN;
    };
    const body = r.bodies.find((b) => b.id === demo.body);
    if (!body?.closed) return 'no closed body';
    const off = demo.wanted(body.bbox, value).find(([read, want]) => !(Math.abs(read - want) <= 0.01));
    return off ? `${off[0]} where ${off[1]} is wanted` : null;
  };
  it('keeps its picks as it is, with a step before, and with two swapped', async () => {
    expect(await judge(demo.project)).toBeNull();
    const more = addStep(
      demo.project,
      'primitive',
      { shape: 'sphere', plane: 'level', places: [{ at: ['400 mm', '0', '0'] }], mode: 'new', body: null },
      { diameter: '5 mm' },
    );
    expect(await judge(moveStep(more.project, more.id, 0))).toBeNull();
    expect(await judge(moveStep(more.project, more.id, 1))).toBeNull();
  });
  const sizes = demo.project.dimensions.filter((d) => /^[\d.]+ mm$/.test(d.expr));
  it.each(sizes.map((d) => [d.name, Number.parseFloat(d.expr)] as const))(
    'keeps its picks at half, and where every case is run at one and a half, of %s',
    async (name, v) => {
      // A half tells more than one and a half: picks come nearer to each other.
      for (const k of everyCase ? [0.5, 1.5] : [0.5]) expect(await judge(setDimension(demo.project, name, `${v * k} mm`))).toBeNull();
    },
  );
});
