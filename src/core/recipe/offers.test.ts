/** Every kind of step says what it can be begun with: what it offers is a step of its own schema, on what is there. */
import { describe, expect, it } from 'vitest';
import { robeHook } from '../../../demo/robe-hook';
import { steamDiffuser } from '../../../demo/steam-diffuser';
import { steamTower } from '../../../demo/steam-tower';
import { addStep, bodiesBefore, emptyProfile, newProject, setProfile } from './edit';
import { type Built, nextOffers, offeringOf } from './offers';
import type { Project } from './schema';
import { definitions, type StepKind, stepDefinitions } from './steps';

const built = (skins: readonly string[], made: Readonly<Record<string, readonly string[]>> = {}): Built => ({
  skins: new Set(skins),
  made: (step) => made[step],
});
const NONE = built([]);
const PROJECTS = [newProject('Empty'), steamDiffuser, robeHook, steamTower];

describe('what can come next', () => {
  it('is a step of its own schema, picks into a list it has, and uses bodies that are there', () => {
    for (const p of PROJECTS)
      for (const skins of [NONE, built(bodiesBefore(p))])
        for (const o of nextOffers(p, skins).offers) {
          const d = stepDefinitions[o.kind]!;
          const r = d.inputs.safeParse(o.inputs);
          expect([o.kind, o.label, r.success ? '' : r.error.message]).toEqual([o.kind, o.label, '']);
          if (o.pick) expect([o.label, Array.isArray(o.inputs[o.pick.field])]).toEqual([o.label, true]);
          for (const v of Object.keys(o.values ?? {})) expect(Object.keys(d.values)).toContain(v);
          for (const b of d.uses(o.inputs as never).bodies) expect(bodiesBefore(p)).toContain(b);
          expect(addStep(p, o.kind, o.inputs, o.values).project.steps).toHaveLength(p.steps.length + 1);
        }
  });
  it('raises letters as one body of several pieces, and nothing else so', () => {
    const drawn = (text: string): Project =>
      setProfile(newProject('Label'), {
        ...emptyProfile('words', 'Words', 'level', false),
        points: [{ id: 'p1', x: 0, y: 0 }],
        curves: [{ kind: 'text', id: 'c1', point: 'p1', text, height: '5 mm', angle: '0°' }],
      });
    const pieces = (text: string) =>
      nextOffers(drawn(text), NONE)
        .offers.filter((o) => o.kind === 'extrude' && o.inputs.profile === 'words')
        .map((o) => [o.inputs.mode, o.inputs.pieces]);
    expect(pieces('Salt').slice(0, 3)).toEqual([
      ['new', 'together'],
      ['surface', undefined],
      ['join', undefined],
    ]);
    expect(pieces('S')[0]).toEqual(['new', undefined]);
  });
  it('is told apart by its words', () => {
    for (const p of PROJECTS) {
      const words = nextOffers(p, NONE).offers.map((o) => `${o.label} ${o.hint}`);
      expect(words.length).toBe(new Set(words).size);
    }
  });
  it('covers every kind: it is offered, or what it needs is said', () => {
    for (const p of PROJECTS)
      for (const skins of [NONE, built(bodiesBefore(p))]) {
        const { offers, missing } = nextOffers(p, skins);
        for (const kind of Object.keys(definitions) as StepKind[])
          expect([kind, offers.some((o) => o.kind === kind) !== missing.some((m) => m.kind === kind)]).toEqual([kind, true]);
      }
    expect(nextOffers(robeHook, NONE).missing.map((m) => m.kind)).toEqual([
      'revolve',
      'bring',
      'combine',
      'remove',
      'extend',
      'drape',
      'seton',
      'knit',
      'meshcombine',
      'thicken',
      'tiles',
      'trim',
      'close',
      'scan',
      'scanclean',
      'scanplace',
      'scanfit',
    ]);
  });
  it('goes to scans with what is done to scans alone, and to nothing else with them', () => {
    const scan = { ...robeHook, steps: [], bodies: {}, profiles: [] };
    const p = addStep({ ...scan, imports: { f1: { name: 'x', solids: [], scan: 'AAAA' } } }, 'scan', { file: 'f1', unit: 'mm' }).project;
    const { offers } = nextOffers(p, built(['s1']));
    const about = offers.filter((o) => Object.values(o.inputs).includes('s1'));
    expect(about.map((o) => o.kind)).toEqual(['move', 'curve', 'scanclean', 'scanplace', 'scanfit']);
    // A copy of it, and a copy of that, are what was measured too.
    const move = definitions.move.offers(offeringOf(p, NONE))[0]!.inputs;
    const copied = addStep(p, 'move', { ...move, result: 'copied' }).project;
    const again = addStep(copied, 'move', { ...move, body: 's2', result: 'copied' }).project;
    expect(
      offeringOf(again, NONE)
        .scans.map((b) => b.id)
        .toSorted(),
    ).toEqual(['s1', 's2', 's3']);
    expect(offeringOf(again, NONE).solids).toEqual([]);
  });
  it('pulls a sheet onto scans first, as long as it is as its cage formed it', () => {
    let p: Project = { ...robeHook, steps: [], bodies: {}, profiles: [], imports: { f1: { name: 'x', solids: [], scan: 'AAAA' } } };
    for (const [kind, inputs] of [
      ['scan', { file: 'f1', unit: 'mm' }],
      ['form', { ...definitions.form.offers(offeringOf(p, NONE)).at(-1)!.inputs }],
    ] as const)
      p = addStep(p, kind, inputs).project;
    const pulls = (now: Project) => nextOffers(now, built(['s1', 's2'])).offers.filter((o) => o.kind === 'drape');
    expect(pulls(p).map((o) => o.inputs)).toEqual([{ body: 's2', onto: 's1' }]);
    p = addStep(p, 'thicken', { body: 's2', side: 'front' }).project;
    expect(pulls(p)).toEqual([]);
  });
  it('raises as a wall what closes no outline, but as a skin where that is wanted', () => {
    const open = { ...robeHook.profiles[0]!, half: false, curves: robeHook.profiles[0]!.curves.slice(0, 1) };
    const { offers } = nextOffers({ ...robeHook, profiles: [open] }, NONE);
    const raised = offers.filter((o) => o.kind === 'extrude').map((o) => [o.inputs.mode, o.inputs.fill]);
    expect(raised).toContainEqual(['new', 'about']);
    expect(raised).toContainEqual(['surface', 'solid']);
    expect(raised.filter(([mode, fill]) => mode !== 'surface' && fill === 'solid')).toEqual([]);
  });
  it('goes for every body, the latest first, and for surfaces only what needs no inside', () => {
    const bodies = bodiesBefore(steamDiffuser);
    const { offers } = nextOffers(steamDiffuser, NONE);
    expect(bodies.length).toBeGreaterThan(1);
    for (const kind of ['split', 'mirror', 'hole', 'lid', 'cavity', 'draft', 'move', 'shell', 'fillet'] as const) {
      const on = offers.filter((o) => o.kind === kind).map((o) => o.inputs.body);
      expect([kind, [...new Set(on)]]).toEqual([kind, bodies.toReversed()]);
    }
    const skins = nextOffers(steamDiffuser, built([bodies[0]!])).offers;
    expect(skins.filter((o) => o.kind === 'shell').every((o) => o.inputs.body !== bodies[0])).toBe(true);
    expect(skins.filter((o) => o.kind === 'thicken').map((o) => o.inputs.body)).toEqual([bodies[0]]);
  });
  it('opens a hollow at the face that is topmost on the body as it is built, by the step that made it', () => {
    const open = (top: Built['top']): unknown =>
      nextOffers(steamDiffuser, { ...NONE, ...(top ? { top } : {}) }).offers.find((o) => o.kind === 'shell' && o.inputs.body === 's1')!
        .inputs.open;
    expect(open(() => 's2/c1&s3/c4')).toEqual([{ topOf: 's2' }]);
    expect(open(() => 's1/c3#2')).toEqual([{ topOf: 's1' }]);
    // Nothing built yet, nothing level, or a name of a step that is gone: by the recipe, whose last straight line is the collar's.
    for (const none of [undefined, () => undefined, () => 'gone/c1']) expect(open(none)).toEqual([{ topOf: 's2' }]);
  });
  it('stands where the sheet is worked from, and knows nothing of what comes later', () => {
    const first = steamDiffuser.steps[0]!.id;
    const c = offeringOf({ ...steamDiffuser, marker: first }, NONE);
    expect(c.solids.map((b) => b.id)).toEqual([first]);
    expect(c.raised?.id).toBe(first);
  });
  it('cuts into the body from a drawing that lies on its face, and away from the plane elsewhere', () => {
    const drawn = (by: string) => {
      const p = newProject('Vessel');
      const placed = addStep(p, 'plane', { by, from: 'level', faces: [{ body: 's1', face: 's1/end' }] }, {});
      const on = setProfile(placed.project, emptyProfile('mark', 'Mark', placed.id, false));
      return nextOffers(on, NONE).offers.find((o) => o.label === 'Extrude Mark, cut')!.inputs;
    };
    expect([drawn('on').way, drawn('touch').way, drawn('distance').way]).toEqual(['back', 'back', 'out']);
  });
  it('parts a body by the plane that was placed last', () => {
    const plane = addStep(newProject('Test'), 'plane', { by: 'distance', from: 'level' });
    const split = nextOffers(plane.project, NONE).offers.find((o) => o.kind === 'split')!;
    expect(split.inputs.plane).toBe(plane.id);
  });
  it('lofts through all closed outlines that nothing is built from, mirrors in the plane a body lies against, splits by one through it', () => {
    const ring = (p: Project, [id, plane]: readonly [string, string]): Project =>
      setProfile(p, {
        ...emptyProfile(id, id, plane, false),
        points: [{ id: 'm', x: 0, y: 0 }],
        curves: [{ kind: 'circle', id: 'c', centre: 'm', radius: 5 }],
      });
    const line = (p: Project, id: string): Project =>
      setProfile(p, {
        ...emptyProfile(id, id, 'front', false),
        points: [
          { id: 'a', x: 0, y: 0 },
          { id: 'b', x: 0, y: 9 },
        ],
        curves: [{ kind: 'line', id: 'l', from: 'a', to: 'b' }],
      });
    const above = (p: Project, from: string) => addStep(p, 'plane', { by: 'distance', from }, { distance: '20 mm' });
    const low = above(line({ ...newProject('Empty'), profiles: [], steps: [], bodies: {} }, 'rail'), 'level');
    const high = above(low.project, low.id);
    const p = (
      [
        ['r', 'level'],
        ['s', low.id],
        ['t', high.id],
      ] as const
    ).reduce(ring, high.project);
    const sections = (q: Project): unknown => nextOffers(q, NONE).offers.find((o) => o.kind === 'loft')?.inputs.sections;
    expect(sections(p)).toEqual(['r', 's', 't']);
    // What is left over across them, or lies in one plane with the latest, is not meant.
    expect(sections((['front', high.id] as const).reduce((q, plane) => ring(q, [`on ${plane}`, plane]), p))).toEqual([
      'r',
      's',
      `on ${high.id}`,
    ]);
    expect(sections(ring(p, ['u', 'front']))).toEqual(['r', 's', 't']);
    const used = addStep(
      p,
      'extrude',
      nextOffers(p, NONE).offers.find((o) => o.kind === 'extrude' && o.inputs.profile === 'r')!.inputs,
    ).project;
    expect(sections(used)).toEqual(['s', 't']);
    // The one that is left goes on from a face.
    const one = addStep(used, 'extrude', { ...used.steps.at(-1)!.inputs, profile: 's' }).project;
    const next = nextOffers(one, NONE).offers.find((o) => o.kind === 'loft');
    expect([next?.inputs.sections, next?.pick?.what]).toEqual([['t'], 'faces']);
    // Without a plane that was placed.
    const bare = ring(line({ ...newProject('Empty'), profiles: [], steps: [], bodies: {} }, 'rail'), ['r', 'level']);
    const block = addStep(bare, 'extrude', { ...used.steps.at(-1)!.inputs, profile: 'r' }).project;
    const plane = (min: number[], max: number[]): unknown =>
      nextOffers(block, { ...NONE, box: () => ({ min, max }) }).offers.find((o) => o.kind === 'mirror')?.inputs.plane;
    const cut = (min: number[], max: number[]): unknown =>
      nextOffers(block, { ...NONE, box: () => ({ min, max }) }).offers.find((o) => o.kind === 'split')?.inputs.plane;
    expect([cut([-5, -5, -2], [5, 5, 9]), cut([-5, -5, 0], [5, 5, 9]), cut([-5, 0, 0], [5, 5, 9]), cut([1, 1, 1], [2, 2, 2])]).toEqual([
      'level',
      'front',
      'side',
      'level',
    ]);
    expect([
      plane([-5, -5, 0], [5, 5, 9]),
      plane([-5, 0, 0], [5, 5, 9]),
      plane([-9, -5, 0], [0, 5, 9]),
      plane([0, 0, 0], [80, 16, 9]),
    ]).toEqual(['side', 'front', 'side', 'front']);
  });
});
