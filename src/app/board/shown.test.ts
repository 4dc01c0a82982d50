import { describe, expect, it } from 'vitest';
import { diffuserBody } from '../../../demo/steam-diffuser';
import { polyProfile } from '../../../tests/support/kernel';
import { addStep, newProject, removeStep, setProfile } from '../../core/recipe/edit';
import { shownOnBoard } from './shown';

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
