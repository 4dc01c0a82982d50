import { useMemo } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import type { Way } from '../../core/inspect/asks';
import type { Project } from '../../core/recipe/schema';
import type { Result } from '../../core/result';
import { radians } from '../../core/units/units';
import { useBench } from '../state/bench';
import { linesInSpace } from '../state/lines';
import { tableOf } from '../state/project';
import { ACROSS, angleText, Pick, ValueRow } from './fields';

/** Which way the planes are moved. */
export function WaySettings({
  project,
  way,
  check,
  onChange,
}: {
  project: Project;
  way: Way;
  check: (t: string) => Result<number, string>;
  onChange: (w: Way) => void;
}) {
  const result = useBench((s) => s.result);
  const lines = useMemo(() => linesInSpace(project, result), [project, result]);
  const turn = (t: string): Result<number, string> => evaluateAs(t, 'angle', tableOf(project).scope);
  return (
    <>
      <Pick
        label="Across"
        value={way.by === 'axis' ? way.axis : way.by === 'slant' ? 'slant' : way.path}
        options={[...ACROSS, ['slant', 'a leaning direction'] as const, ...lines.map((l) => [l.id, `along ${l.words}`] as const)]}
        onChange={(v: string) => {
          const line = lines.find((l) => l.id === v);
          if (line) onChange({ by: 'path', path: line.id, line: line.line });
          else if (v === 'slant') onChange({ by: 'slant', lean: radians(30), turn: 0 });
          else onChange({ by: 'axis', axis: v as 'x' });
        }}
      />
      {way.by === 'slant' && (
        <>
          <ValueRow label="Leans from upright" value={angleText(way.lean)} check={check} onTake={(lean) => onChange({ ...way, lean })} />
          <ValueRow
            label="Towards (0° right, 90° back)"
            value={angleText(way.turn)}
            check={turn}
            onTake={(v) => onChange({ ...way, turn: v })}
          />
        </>
      )}
    </>
  );
}
