import { describe, expect, it } from 'vitest';
import { definitions } from '../../core/recipe/steps';
import { raisers } from './raisers';

describe('steps whose tools can be raised again', () => {
  it('are the ones that have a raiser', () => {
    const again = Object.values(definitions)
      .filter((d) => d.again)
      .map((d) => d.kind);
    expect(again.toSorted()).toEqual(Object.keys(raisers).toSorted());
  });
});
