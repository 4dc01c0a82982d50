/**
 * The finished jobs that ship with the application are what their cards say, and are built without a failure. All of them with EVERY_CASE=1;
 * else three that take seconds.
 */
import { readdirSync } from 'node:fs';
import { expect, it } from 'vitest';
import { JOBS } from '../../demo/jobs';
import { readProject, slug } from '../../src/core/recipe/file';
import type { Project } from '../../src/core/recipe/schema';
import { Engine } from '../../src/engine/engine';
import { testKernel } from '../support/kernel';
import { everyCase } from '../support/properties';

const engine = new Engine({ open: testKernel });
const QUICK = ['Drain wedge', 'Bent towel rail', 'Wall bracket skin'];
/** What is to be a skin in the end. */
const SKINS = ['Wall bracket skin'];

const projectOf = async (name: string): Promise<Project> => {
  const read = readProject(await JOBS.find((job) => job.name === name)!.load());
  if (!read.ok) throw new Error(read.error);
  return read.value;
};

it('each has its project, under its own name, made for the bathhouse', async () => {
  expect(readdirSync('demo/jobs').sort()).toEqual(JOBS.map((job) => `${slug(job.name)}.lathe.json`).sort());
  for (const { name, words } of JOBS) {
    const project = await projectOf(name);
    expect([project.name, project.client, project.brief.purpose]).toEqual([name, 'Marram Bathhouse', words]);
    expect(project.steps.length).toBeGreaterThan(0);
  }
});

it.each(JOBS.map((job) => job.name).filter((name) => everyCase || QUICK.includes(name)))(
  '%s is built from its file',
  async (name) => {
    const result = await engine.rebuild(await projectOf(name));
    expect(result.steps.filter((s) => s.state === 'failed' || s.state === 'skipped').map((s) => [s.id, s.message, s.why])).toEqual([]);
    expect(result.bodies.some((b) => (SKINS.includes(name) ? b.borders.length === 1 && b.area > 1000 : b.closed && b.volume > 100))).toBe(
      true,
    );
  },
  600_000,
);
