/** Questions asked of built bodies, against mensuration; and that report, numbers and gauges hold the same figures. */
import { parseHTML } from 'linkedom';
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, box, empty, engine } from '../../tests/support/parts';
import { asXml, NAMES } from '../../tests/support/unicode';
import { readGauges } from '../core/brief/gauges';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { type Ask, standardAsks } from '../core/inspect/asks';
import type { Project } from '../core/recipe/schema';
import type { KernelBody } from '../kernel/body';
import type { Kernel } from '../kernel/open';
import { type Answer, inspectAll, inspectBody, sectionOutlines } from './inspect';
import { measureBody } from './measure';
import { allNumbers, numbersCsv, reportHtml } from './report';

/** A drum R 20, 60 high, hollowed to 3. */
const drum = add(
  empty(),
  'primitive',
  { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
  { diameter: '40', height: '60' },
);
const cup: Project = {
  ...add(drum, 'shell', { body: 's1', open: [{ face: 's1/top' }] }, { wall: '3 mm' }),
  brief: { ...empty().brief, material: 'petg', uses: ['food'], targets: [{ gauge: 'wall-min', min: '2.5' }] },
};

let kernel: Kernel;
let body: KernelBody;
beforeAll(async () => {
  kernel = await testKernel();
  await engine.rebuild(cup);
  body = engine.bodies()[0]!.body;
});
const put = async <W extends Ask['what']>(question: Extract<Ask, { what: W }>, of: KernelBody = body) =>
  (await inspectBody(kernel, cup, 's1', of, question, async () => true)) as Extract<Answer, { what: W }>;

describe('a cup is asked', () => {
  const asks = standardAsks(2.5);
  it('how thick it is: three everywhere, nowhere thinner than the brief allows', async () => {
    const a = await put<'walls'>(asks.walls);
    expect(a.thinnest[0]!.thickness).toBeCloseTo(3, 3);
    expect(a.below).toBe(0);
    expect(a.overlay!.values).toHaveLength(a.facets);
    expect(a.overlay!.positions).toHaveLength(9 * a.facets);
    // Asked for four, all of it is thin but the corner of floor and wall.
    const thin = await put<'walls'>({ ...asks.walls, limit: 4 });
    const skin = 2 * Math.PI * 20 * 60 + Math.PI * 400 + 2 * Math.PI * 17 * 57 + Math.PI * 289 + Math.PI * (400 - 289);
    expect(thin.below! / skin).toBeGreaterThan(0.85);
    const ray = await put<'walls'>({ ...asks.walls, method: 'ray' });
    expect(ray.thinnest[0]!.thickness).toBeCloseTo(3, 1);
  });
  it('what its sections show: a ring above the floor, a disc within it', async () => {
    const a = await put<'sections'>(asks.sections);
    const middle = a.rows[40]!;
    expect(middle.offset).toBeCloseTo(30, 1);
    expect(middle.area / (Math.PI * (400 - 289))).toBeCloseTo(1, 2);
    expect(middle.perimeter / (2 * Math.PI * 37)).toBeCloseTo(1, 2);
    expect(middle.least).toBeCloseTo(3, 3);
    expect(a.rows[1]!.area / (Math.PI * 400)).toBeCloseTo(1, 2);
    const across = await put<'sections'>({ ...asks.sections, way: { by: 'axis', axis: 'x' }, rows: 5 });
    // Through the axis: two walls and the floor.
    expect(across.rows[2]!.area / (2 * 3 * 57 + 40 * 3)).toBeCloseTo(1, 2);
    const outlines = sectionOutlines(kernel, body, { place: 30, normal: [0, 0, 1], offset: 30 });
    expect(outlines.loops).toHaveLength(2);
    for (const p of outlines.places.flat()) expect(p[2]).toBeCloseTo(30, 6);
  });
  it('how it bends, how its faces meet, how light runs over it', async () => {
    const bend = await put<'curvature'>(asks.curvature);
    expect(bend.convex[0]!.radius).toBeCloseTo(20, 4);
    expect(bend.concave[0]!.radius).toBeCloseTo(17, 4);
    const gauss = await put<'curvature'>({ ...asks.curvature, show: 'gaussian' });
    expect(Math.max(...gauss.overlay!.values.filter((v) => Number.isFinite(v)).map(Math.abs))).toBeLessThan(1e-6);
    const { joins } = await put<'joins'>(asks.joins);
    expect(joins).toHaveLength(4);
    for (const j of joins) expect(j.angle).toBeCloseTo(Math.PI / 2, 6);
    const light = await put<'reflection'>(asks.reflection);
    // Normals off the exact surfaces: of length one, and straight out of the wall.
    const { positions: p, normals: n } = light.overlay!;
    for (let i = 0; i < p.length; i += 3) {
      expect(Math.hypot(n![i]!, n![i + 1]!, n![i + 2]!)).toBeCloseTo(1, 4);
      if (Math.abs(n![i + 2]!) > 0.5) continue;
      const r = Math.hypot(p[i]!, p[i + 1]!);
      expect(Math.abs((p[i]! * n![i]! + p[i + 1]! * n![i + 1]!) / r)).toBeCloseTo(1, 4);
    }
  });
  it('whether it leaves the mould and prints: straight walls, nothing in the air', async () => {
    const draft = await put<'draft'>(asks.draft);
    expect(draft.undercutArea).toBeLessThan(1);
    expect(draft.below / (2 * Math.PI * (20 * 60 + 17 * 57))).toBeCloseTo(1, 1);
    const upside = await put<'draft'>({ ...asks.draft, sign: -1 });
    // Pulled down, the floor inside and the rim can’t come off.
    expect(upside.undercutArea).toBeGreaterThan(Math.PI * 289 * 0.9);
    const over = await put<'overhang'>(asks.overhang);
    expect([over.area, over.islands.length, over.bridges.length]).toEqual([0, 0, 0]);
    expect(over.contact / (Math.PI * 400)).toBeCloseTo(1, 2);
  });
  it('what it holds and whether it stands', async () => {
    const a = await put<'holds'>({ ...asks.holds, wanted: 20_000 });
    expect(a.vessel!.toBrim / (Math.PI * 289 * 57)).toBeCloseTo(1, 3);
    expect(a.vessel!.height! / (20_000 / (Math.PI * 289))).toBeCloseTo(1, 2);
    expect(a.foot / (Math.PI * 400)).toBeCloseTo(1, 2);
    // Centre of the empty cup: of the full drum less the cavity.
    const [whole, cavity] = [Math.PI * 400 * 60, Math.PI * 289 * 57];
    const z = (whole * 30 - cavity * (3 + 28.5)) / (whole - cavity);
    expect(a.empty.tipping).toBeCloseTo(Math.atan(20 / z), 2);
    expect(a.full!.tipping).toBeLessThan(a.empty.tipping);
  });
  it('and gives up when it is told to', async () => {
    for (const question of Object.values(asks))
      if (!['reflection', 'measure'].includes(question.what))
        expect(await inspectBody(kernel, cup, 's1', body, question, async () => false)).toBeNull();
  });
});

describe('a report', () => {
  it('holds the numbers of the gauges and of the page, in every form', async () => {
    const answers = (await inspectAll(kernel, cup, 's1', body, 2.5, async () => true))!;
    expect(answers.map((a) => a.what)).toEqual([
      'walls',
      'sections',
      'curvature',
      'combs',
      'joins',
      'label',
      'draft',
      'overhang',
      'measure',
      'holds',
    ]);
    expect(answers.every((a) => a.overlay === null)).toBe(true);
    const { scope } = evaluateDimensions(cup.dimensions);
    const measured = (await measureBody(kernel, cup, scope, 's1', body, async () => true))!;
    const numbers = allNumbers(answers, body.faces) as unknown as {
      walls: { thinnest: { wall: number }[] };
      holds: { capacity: number };
      joins: { class: string }[];
      draft: { limit: number };
    };
    expect(numbers.walls.thinnest[0]!.wall).toBe(measured.readings.wallMin);
    expect(numbers.holds.capacity).toBe(measured.readings.capacityBrim);
    expect(numbers.joins.map((j) => j.class)).toEqual(['G0', 'G0', 'G0', 'G0']);
    expect(numbers.draft.limit).toBeCloseTo(1, 9);
    const csv = numbersCsv(allNumbers(answers, body.faces));
    expect(csv.split('\n')[0]).toBe('what,value');
    expect(csv).toContain(`"walls.thinnest.0.wall",${measured.readings.wallMin}`);
    const gauges = readGauges(cup.brief.targets, measured.readings, 'petg', scope);
    const html = reportHtml({ ...cup, name: 'Cup <& co>' }, 's1', gauges, answers, body.faces, '1 May', null);
    expect(html).toContain('<h1>Cup &lt;&amp; co&gt;</h1>');
    expect(html).toContain('3.000 mm');
    expect(html).toContain('certifies nothing');
    expect(html).toContain('<polyline');
    // It fetches nothing and runs nothing.
    expect(html).not.toMatch(/<script|https?:\/\/|<link/);
  });
  it('says every name as it is, read by linkedom, and runs nothing of it', async () => {
    const answers = (await inspectAll(kernel, cup, 's1', body, 2.5, async () => true))!;
    // White space is the page's own affair.
    const seen = (t: string | null): string =>
      asXml(t ?? '')
        .replace(/[\s\p{Cc}]+/gu, ' ')
        .trim();
    for (const name of [...NAMES, '<img src=x onerror=alert(1)>', '</title><script>alert(1)</script>', '" onload="alert(1)']) {
      const named: Project = { ...cup, name, client: name, bodies: { s1: { name } } };
      const { document } = parseHTML(reportHtml(named, 's1', [], answers, body.faces, 'today', 'data:image/png;base64,AA=='));
      expect(seen(document.querySelector('h1')!.textContent)).toBe(seen(name));
      expect(seen(document.querySelector('h1 + p')!.textContent)).toContain(seen(name));
      expect(seen(document.querySelector('img')!.getAttribute('alt'))).toContain(seen(name));
      expect(document.querySelectorAll('script, iframe, object, link, [onerror], [onload]').length).toBe(0);
      expect(document.querySelectorAll('img').length).toBe(1);
      // Faces and edges stand under the body's name.
      expect(seen(document.querySelector('table td')!.textContent)).toContain(seen(name));
    }
  });
  it('of a body that holds nothing says so', async () => {
    const block = { ...box(empty(), [30, 20, 10]), brief: cup.brief };
    await engine.rebuild(block);
    const solid = engine.bodies()[0]!.body;
    const answers = (await inspectAll(kernel, block, 's1', solid, null, async () => true))!;
    const html = reportHtml(block, 's1', [], answers, solid.faces, 'today', 'data:image/png;base64,AA==');
    expect(html).toContain('It holds nothing.');
    expect(html).toContain('<img');
    expect(numbersCsv({ a: 'say "so"', b: null, c: true })).toBe('what,value\n"a","say ""so"""\n"b",\n"c",true\n');
  });
});
