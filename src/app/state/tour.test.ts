import { expect, it } from 'vitest';
import { addStep, emptyProject, newProject } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import { passed, type Seen, TOUR } from './tour';

const seen = (project: Project, more: Partial<Seen> = {}): Seen => ({ project, states: {}, cutOpen: false, page: 'bench', ...more });

it('goes on when what it asked for was done, and not before', () => {
  const beaker = newProject('Beaker');
  expect(passed(0, seen(emptyProject('Empty')))).toBe(0);
  expect(passed(0, seen(beaker))).toBe(1);
  const { project, id } = addStep(beaker, 'shell', { body: 's1', open: [{ topOf: 's1' }] });
  expect(passed(1, seen(project))).toBe(2);
  expect(passed(2, seen(project, { states: { [id]: 'done' } }))).toBe(2);
  expect(passed(2, seen(project, { states: { [id]: 'failed' } }))).toBe(3);
  expect(passed(3, seen(project, { states: { [id]: 'failed' } }))).toBe(3);
  expect(passed(3, seen(project, { states: { [id]: 'warned' } }))).toBe(4);
  expect(passed(4, seen(project, { cutOpen: true }))).toBe(5);
  expect(passed(5, seen(project, { page: 'make' }))).toBe(TOUR.length);
});
it('passes what was done already, one after the other, and stays where it is told to', () => {
  const { project, id } = addStep(newProject('Beaker'), 'shell', { body: 's1', open: [{ topOf: 's1' }] });
  expect(passed(0, seen(project, { states: { [id]: 'done' }, cutOpen: true, page: 'make' }))).toBe(2);
});
