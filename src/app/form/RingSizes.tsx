import { useMemo } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import { netOf } from '../../core/form/cage';
import { farthest } from '../../core/form/farthest';
import { limitMesh } from '../../core/form/limit';
import { cageOf } from '../../core/form/read';
import { bounds } from '../../core/mesh/mesh';
import type { Project } from '../../core/recipe/schema';
import { fail, type Result } from '../../core/result';
import { tableOf } from '../state/project';
import { ValueField } from '../ui/ValueField';
import type { RingSource } from './RingTable';

/** A length times a factor: a plain one is reckoned, an expression keeps its names. */
export function scaledText(text: string, by: number): string {
  const plain = /^\s*(-?\d+(?:\.\d+)?)\s*mm\s*$/.exec(text);
  return plain ? `${Number((Number(plain[1]) * by).toFixed(6))} mm` : `(${text}) * ${Number(by.toFixed(9))}`;
}

/** The largest diameter and the height of the smooth body; setting one scales the table so that the body meets it. */
export function RingSizes({ project, source, onApply }: { project: Project; source: RingSource; onApply: (s: RingSource) => void }) {
  const { scope } = tableOf(project);
  const size = useMemo(() => {
    const cage = cageOf(source, scope);
    const net = cage.ok ? netOf(cage.value) : null;
    if (!net?.ok) return null;
    const { places } = limitMesh(net.value, 3);
    const { min, max } = bounds(places);
    return { diameter: 2 * farthest(places), height: max[2] - min[2] };
  }, [source, scope]);
  if (!size) return null;
  const check = (t: string): Result<number, string> => {
    const r = evaluateAs(t, 'length', scope);
    return r.ok && !(r.value > 0) ? fail('a size is more than nothing') : r;
  };
  const set = (what: 'diameter' | 'height', text: string): void => {
    const r = check(text);
    if (!r.ok) return;
    const by = r.value / size[what];
    // Scaling the whole table scales the smooth body exactly as much.
    onApply(
      what === 'diameter'
        ? {
            ...source,
            ridge: scaledText(source.ridge, by),
            rows: source.rows.map((row) => ({ ...row, radius: scaledText(row.radius, by) })),
          }
        : { ...source, rows: source.rows.map((row) => ({ ...row, height: scaledText(row.height, by) })) },
    );
  };
  return (
    <span className="flex flex-wrap items-center gap-x-3 py-0.5 text-[12px]" role="group" aria-label="Sizes of the body">
      {(['diameter', 'height'] as const).map((what) => (
        <span key={what} className="flex items-center gap-1">
          {what === 'diameter' ? 'largest ⌀ on the body' : 'height on the body'}
          <ValueField
            label={`${what === 'diameter' ? 'largest diameter' : 'height'} on the body`}
            value={`${Number(size[what].toFixed(3))} mm`}
            check={check}
            onCommit={(t) => set(what, t)}
          />
        </span>
      ))}
    </span>
  );
}
