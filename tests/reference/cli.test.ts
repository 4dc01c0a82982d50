/** The headless runner against its contract: one JSON object on stdout, exit codes 0, 1, 2, one clear line on stderr. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { steamDiffuser } from '../../demo/steam-diffuser';
import { newProject } from '../../src/core/recipe/edit';
import { writeProject } from '../../src/core/recipe/file';
import { pastedSizes } from '../../src/core/sizes/table';

const dir = mkdtempSync(join(tmpdir(), 'lathe-'));
const file = (name: string, content: string): string => {
  const path = join(dir, name);
  writeFileSync(path, content);
  return path;
};
const beaker = file('beaker.lathe.json', writeProject(newProject('Beaker')));
const lathe = (...args: string[]) => {
  const r = spawnSync('npm', ['run', '-s', 'lathe', '--', ...args], { encoding: 'utf8' });
  return { code: r.status, out: r.stdout, err: r.stderr.split('\n').filter((l) => l && !l.startsWith('npm warn')) };
};

describe('lathe sizes', () => {
  const sized = (text: string): string => {
    const project = newProject('Beaker');
    const table = pastedSizes(text, project);
    if (!table.ok) throw new Error(table.error);
    return file('sized.lathe.json', writeProject({ ...project, sizes: table.value }));
  };
  it('builds every size of the table, in its order, each into a folder of its own; one that can’t be made is told', () => {
    const out = join(dir, 'sizes');
    const r = lathe('sizes', sized('size,height\nlow one,50\nflat,0\ntall,120'), '--out', out, '--formats', 'step', '--json');
    expect(r.err).toEqual([]);
    expect(r.code).toBe(1);
    const all = JSON.parse(r.out);
    expect(all.map((b: { size: string; ok: boolean }) => [b.size, b.ok])).toEqual([
      ['low one', true],
      ['flat', false],
      ['tall', true],
    ]);
    // Frustums (mensuration).
    expect(all[0].bodies[0].volume).toBeCloseTo((Math.PI * 50 * (625 + 750 + 900)) / 3, 2);
    expect(all[2].bodies[0].volume).toBeCloseTo((Math.PI * 120 * (625 + 750 + 900)) / 3, 2);
    expect(all[1].steps[0].state).toBe('failed');
    expect(existsSync(join(out, 'low-one', 'beaker_body-1.step'))).toBe(true);
    expect(existsSync(join(out, 'tall', 'beaker_body-1.step'))).toBe(true);
  });
  it('says that there are none', () => {
    const r = lathe('sizes', beaker);
    expect(r.code).toBe(2);
    expect(r.err[0]).toContain('has no sizes');
  });
});

describe('lathe build', () => {
  it('prints one JSON object with dimensions, steps, bodies, gauges and exports', () => {
    const out = join(dir, 'out');
    const r = lathe('build', beaker, '--set', 'height=3 in', '--out', out, '--formats', 'step,stl', '--json');
    expect(r.code).toBe(0);
    const report = JSON.parse(r.out);
    expect(Object.keys(report)).toEqual(['ok', 'ms', 'units', 'dimensions', 'steps', 'bodies', 'gauges', 'exports']);
    expect(report).toMatchObject({ ok: true, units: 'mm' });
    expect(report.dimensions[0]).toEqual({ name: 'height', expr: '3 in', value: expect.closeTo(76.2, 9) });
    expect(report.steps[0]).toMatchObject({ id: 's1', kind: 'revolve', state: 'done', message: null });
    expect(report.bodies[0]).toMatchObject({ name: 'Body 1', closed: true, faces: 3 });
    expect(report.bodies[0].volume).toBeCloseTo((Math.PI * 76.2 * (625 + 750 + 900)) / 3, 2);
    expect(report.bodies[0].bbox.max[2]).toBeCloseTo(76.2, 5);
    expect(report.gauges.find((g: { id: string }) => g.id === 'closed')).toMatchObject({ value: 'yes', verdict: 'pass' });
    for (const e of report.exports) {
      expect(existsSync(e.path)).toBe(true);
      expect(readFileSync(e.path).length).toBe(e.bytes);
    }
    expect(report.exports.map((e: { path: string }) => e.path.split('/').pop())).toEqual(['beaker_body-1.step', 'beaker_body-1.stl']);
  });
  it('exits with 1 when a step fails, and says why', () => {
    const r = lathe('build', beaker, '--set', 'height=0', '--json');
    expect(r.code).toBe(1);
    const report = JSON.parse(r.out);
    expect(report.ok).toBe(false);
    expect(report.steps[0].state).toBe('failed');
    expect(report.steps[0].message).toContain('Body');
  });
  it('gives a step up that runs longer than it may, says which, and writes nothing', () => {
    const out = join(dir, 'late');
    const r = lathe('build', 'demo/steam-tower.lathe.json', '--limit', '0.05', '--out', out, '--json');
    expect(r.code).not.toBe(0);
    expect(r.err).toHaveLength(1);
    expect(r.err[0]).toMatch(/^step \d+ \(.+\) ran for 0\.05 s without an end: given up, nothing was written$/);
    expect(r.out).toBe('');
    expect(existsSync(out)).toBe(false);
    expect(lathe('build', beaker, '--limit', '0')).toMatchObject({ code: 2 });
    expect(lathe('build', beaker, '--limit', '60').code).toBe(0);
  });
  it('builds the demo; its one failing target is mended by one number', () => {
    const demo = file('demo.lathe.json', writeProject(steamDiffuser));
    const verdicts = (...set: string[]): Record<string, string> =>
      Object.fromEntries(
        JSON.parse(lathe('build', demo, ...set, '--json').out)
          .gauges.filter((g: { target: string }) => g.target !== '–')
          .map((g: { id: string; verdict: string }) => [g.id, g.verdict]),
      );
    expect(Object.entries(verdicts()).filter(([, v]) => v !== 'pass')).toEqual([['wall-min', 'fail']]);
    expect(Object.values(verdicts('--set', 'wall=2.4')).every((v) => v === 'pass')).toBe(true);
  });
});

describe('bad usage and bad files', () => {
  it.each([
    [['build', join(dir, 'missing.json')], "can't be read"],
    [['build', file('empty.json', '')], 'The file is empty'],
    [['build', file('new.json', '{"format":"ivory-lathe","version":99}')], 'newer version'],
    [['build', beaker, '--set', 'nothing=1'], 'no dimension called “nothing”'],
    [['build', beaker, '--set', 'height'], 'name=expr'],
    [['build', beaker, '--formats', 'iges', '--out', dir], 'no format “iges”'],
    [['build', beaker, '--formats', 'stl'], '--out'],
    [['build', beaker, '--deviation', '9', '--out', dir], 'between 0.001 and 5'],
    [['build', beaker, '--bogus'], 'bogus'],
    [['build'], 'a file is missing'],
    [['melt'], 'no command “melt”'],
    [[], 'usage'],
  ])('lathe %s exits with 2', (args, words) => {
    const r = lathe(...(args as string[]));
    expect(r.code).toBe(2);
    expect(r.out).toBe('');
    expect(r.err.join('\n')).toContain(words);
  });
});

describe('lathe demo and validate', () => {
  it('lists the demo recipes and their paths', () => {
    const r = lathe('demo');
    expect(r.code).toBe(0);
    expect(r.out.split('\n')).toContain('Steam diffuser\tdemo/steam-diffuser.lathe.json');
    expect(r.out.trim().split('\n')).toHaveLength(7);
  });
  it('finds a sound project sound, and lists what is to mend', () => {
    expect(lathe('validate', beaker)).toMatchObject({ code: 0, out: 'Beaker: sound, 1 steps\n' });
    const p = newProject('Broken');
    const r = lathe('validate', file('broken.json', writeProject({ ...p, profiles: [], dimensions: [{ name: 'height', expr: 'wall' }] })));
    expect(r.code).toBe(1);
    expect(r.out).toContain('step s1: the profile “body” does not exist');
    expect(r.out).toContain('dimension height: there is no dimension called “wall”');
  });
});
