import { beforeEach, describe, expect, it } from 'vitest';
import type { GaugeReading } from '../../core/brief/gauges';
import { newProject, setDimension } from '../../core/recipe/edit';
import { keptOf } from '../../core/revisions/kept';
import { setBench } from './bench';
import { goBackTo, keepState, renameState } from './keeping';
import { change, openProject, redo, undo, useProject } from './project';

const now = () => useProject.getState().project!;
const heightOf = (): string => now().dimensions.find((d) => d.name === 'height')!.expr;
const gauge = (value: number | null): GaugeReading => ({
  id: 'height',
  label: 'Height',
  value,
  unit: 'mm',
  digits: 2,
  min: null,
  max: null,
  target: '–',
  verdict: 'unknown',
  applies: true,
  words: 'no target',
});
const to = (text: string): void => change((p) => setDimension(p, 'height', text));

beforeEach(() => {
  openProject('p', newProject('Beaker'));
  setBench({ stale: false, measuring: false });
});

describe('kept states', () => {
  it('are no step of the work: undo and redo go past them, and leave them', () => {
    to('90 mm');
    keepState('higher', 'hand', [gauge(90)]);
    to('95 mm');
    undo();
    expect([heightOf(), keptOf(now()).length]).toEqual(['90 mm', 1]);
    undo();
    expect([heightOf(), keptOf(now()).length]).toEqual(['80 mm', 1]);
    undo();
    redo();
    expect([heightOf(), keptOf(now()).length]).toEqual(['90 mm', 1]);
    renameState('k1', 'the high one');
    undo();
    expect([heightOf(), keptOf(now())[0]!.name]).toEqual(['80 mm', 'the high one']);
  });
  it('are kept once where nothing changed, unless by hand; gauges of an older state are not told as theirs', () => {
    expect(keepState('a.stl', 'export', [gauge(80)])).toBe(true);
    expect(keepState('a.stl', 'export', [gauge(80)])).toBe(false);
    expect(keepState('again', 'hand', [gauge(80), gauge(null)])).toBe(true);
    setBench({ stale: true });
    to('99 mm');
    keepState('meanwhile', 'hand', [gauge(80)]);
    expect(keptOf(now()).map((k) => k.readings)).toEqual([{ height: 80 }, { height: 80 }, {}]);
  });
  it('are gone back to with what was before kept, and undone', () => {
    keepState('first', 'hand', []);
    to('90 mm');
    expect(goBackTo('k1', []).ok).toBe(true);
    expect([heightOf(), keptOf(now()).map((k) => k.by)]).toEqual(['80 mm', ['hand', 'return']]);
    undo();
    expect([heightOf(), keptOf(now()).length]).toEqual(['90 mm', 2]);
    expect(goBackTo('k9', [])).toMatchObject({ ok: false });
    expect([heightOf(), keptOf(now()).length]).toEqual(['90 mm', 2]);
  });
});
