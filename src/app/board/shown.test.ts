import { describe, expect, it } from 'vitest';
import { diffuserBody } from '../../../demo/steam-diffuser';
import { polyProfile } from '../../../tests/support/kernel';
import { addStep, emptyProject, newProject, removeStep, setProfile } from '../../core/recipe/edit';
import { usesOfStep } from '../../core/recipe/uses';
import { boardRoom, shownOnBoard } from './shown';

const plain = newProject('Bench');
const withForm = addStep(plain, 'form', {} as never).project;
const form = withForm.steps.at(-1)!.id;

describe('what the board shows', () => {
  it('is the form that is selected, whatever drawing was chosen before', () => {
    expect(shownOnBoard(withForm, form, plain.profiles[0]!.id).form?.id).toBe(form);
  });
  it('is the drawing that was chosen while another step is selected', () => {
    const two = setProfile(diffuserBody, {
      ...polyProfile(
        [
          [0, 0],
          [1, 0],
          [0, 1],
        ],
        true,
      ),
      id: 'new',
      name: 'new',
    });
    expect(shownOnBoard(two, 's2', 'new').profile?.id).toBe('new');
    expect(shownOnBoard(two, null, 'new').profile?.id).toBe('new');
  });
  it('goes on from the form that is left when another step is deleted', () => {
    const left = removeStep(withForm, plain.steps[0]!.id);
    expect(left.steps.map((s) => s.id)).toEqual([form]);
    expect(shownOnBoard(left, plain.steps[0]!.id, null).form?.id).toBe(form);
  });
  it('is the drawing of the step that is selected, or of the last before it that has one', () => {
    expect(shownOnBoard(diffuserBody, 's1', null).profile?.id).toBe('belly');
    expect(shownOnBoard(diffuserBody, 's3', null).profile?.id).toBe('lip');
    expect(shownOnBoard(diffuserBody, 's4', null).profile?.id).toBe('lip');
  });
  it('is a drawing that nothing is made from where there is no other, and nothing where there is none', () => {
    expect(shownOnBoard({ ...plain, steps: [] }, null, 'gone').profile?.id).toBe(plain.profiles[0]!.id);
    expect(shownOnBoard({ ...plain, steps: [], profiles: [] }, null, null)).toEqual({ profile: undefined });
  });
});

describe('the room of the board', () => {
  const shared = { room: 'shared', step: null, drawing: false, asked: false } as const;
  it('is its share for a form and for what a step is drawn from, and a strip for other steps', () => {
    expect(boardRoom(withForm, { ...shared, step: form })).toBe('share');
    expect(boardRoom(diffuserBody, { ...shared, step: 's1' })).toBe('share');
    const bare = diffuserBody.steps.find((s) => usesOfStep(diffuserBody, s).profiles.length === 0)!;
    expect(boardRoom(diffuserBody, { ...shared, step: bare.id })).toBe('strip');
    expect(boardRoom(diffuserBody, shared)).toBe('share');
    expect(boardRoom(diffuserBody, { ...shared, step: 'gone' })).toBe('share');
    expect(boardRoom(emptyProject('Bare'), shared)).toBe('strip');
    expect(boardRoom(setProfile(emptyProject('Bare'), plain.profiles[0]!), shared)).toBe('share');
  });
  it('is its share where a drawing was asked for or is to be picked from, and as it was set by hand', () => {
    const bare = { ...shared, step: diffuserBody.steps.find((s) => usesOfStep(diffuserBody, s).profiles.length === 0)!.id };
    expect(boardRoom(diffuserBody, { ...bare, drawing: true })).toBe('share');
    expect(boardRoom(diffuserBody, { ...bare, asked: true })).toBe('share');
    expect(boardRoom(diffuserBody, { ...bare, room: 'board' })).toBe('most');
    expect(boardRoom(withForm, { ...shared, step: form, room: 'stage' })).toBe('strip');
  });
});
