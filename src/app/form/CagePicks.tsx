import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { evaluateAs } from '../../core/dimensions/expression';
import {
  all,
  borders,
  byPlane,
  combined,
  countOf,
  grown,
  loops,
  middleOf,
  nothing,
  type Picked,
  type PickHow,
  type PickKind,
  partnersOnly,
  pickedAs,
  ringsAcross,
  shrunk,
  toggled,
  verticesOf,
  withPartners,
} from '../../core/form/edit/select';
import { partnersOf } from '../../core/form/edit/symmetry';
import type { Project } from '../../core/recipe/schema';
import { fixed } from '../../core/units/units';
import { tableOf } from '../state/project';
import { type ReadCage, setShaping, useShaping } from '../state/shaping';
import { ValueField } from '../ui/ValueField';

const ONE: Readonly<Record<PickKind, readonly [string, string]>> = {
  vertices: ['vertex', 'vertices'],
  edges: ['edge', 'edges'],
  faces: ['face', 'faces'],
};

/** What is picked of the cage, and ways to pick more or less of it. */
export function CagePicks({ project, read, picked }: { project: Project; read: ReadCage; picked: Picked }) {
  const { kind, refusal, note } = useShaping(useShallow(({ kind, refusal, note }) => ({ kind, refusal, note })));
  const cage = read.texts;
  const set = (p: Picked): void => setShaping({ picked: p, kind: p.kind, refusal: null, note: null });
  const symmetric = read.symmetry.mirror.length > 0 || read.symmetry.fold > 1;
  const partners = (f: typeof withPartners): void => {
    const found = partnersOf(cage, read.symmetry);
    if (found.ok) set(f(cage, picked, found.value));
    else setShaping({ refusal: found.error.what });
  };
  const n = countOf(picked);
  const at = n > 0 ? middleOf(cage, verticesOf(cage, picked)) : null;
  const more: readonly (readonly [string, string, () => Picked, boolean?])[] = [
    ['all', 'Pick everything', () => all(cage, kind)],
    ['none', 'Let go of everything', () => nothing(kind)],
    ['the others', 'Pick what is not picked', () => toggled(all(cage, kind), picked)],
    ['loops', 'Run on along the loops of what is picked', () => loops(cage, picked), n === 0],
    ['rings', 'The edges across the quads from what is picked on', () => ringsAcross(cage, picked), n === 0],
    ['grow', 'What lies beside it too', () => grown(cage, picked), n === 0],
    ['shrink', 'Without its rim', () => shrunk(cage, picked), n === 0],
    ['borders', 'All edges that have one face', () => borders(cage)],
  ];
  return (
    <div className="flex flex-col gap-1.5" role="group" aria-label="Picked">
      <div className="flex items-center gap-1">
        <span className="mr-1 text-ink2">pick</span>
        {(['vertices', 'edges', 'faces'] as const).map((k) => (
          <button
            key={k}
            type="button"
            aria-pressed={kind === k}
            className={kind === k ? 'btn-strong px-1.5! py-0!' : 'btn px-1.5! py-0!'}
            onClick={() => set(n > 0 ? pickedAs(cage, picked, k) : nothing(k))}
          >
            {k}
          </button>
        ))}
      </div>
      <p data-testid="picked">
        {n === 0 ? (
          <span className="text-ink2">
            Click {kind === 'edges' ? 'an' : 'a'} {ONE[kind][0]} of the cage on the stage; with Shift for more
            {kind === 'vertices' ? '' : ', twice for its row'}; Shift-drag a frame.
          </span>
        ) : (
          <>
            {n} {ONE[kind][n === 1 ? 0 : 1]},{' '}
            <span className="whitespace-nowrap">
              middle at <span className="font-mono">{at!.map((x) => fixed(x, 2)).join(', ')}</span>
            </span>
          </>
        )}
      </p>
      <div className="flex flex-wrap gap-x-2 gap-y-0.5">
        {more.map(([words, title, f, off]) => (
          <button
            key={words}
            type="button"
            className="link disabled:text-ink2 disabled:no-underline"
            title={title}
            disabled={off}
            onClick={() => set(f())}
          >
            {words}
          </button>
        ))}
        {symmetric && (
          <>
            <button type="button" className="link" title="Their images too" disabled={n === 0} onClick={() => partners(withPartners)}>
              with partners
            </button>
            <button type="button" className="link" title="Their images instead" disabled={n === 0} onClick={() => partners(partnersOnly)}>
              partners
            </button>
          </>
        )}
      </div>
      <ByPlane
        project={project}
        some={n > 0}
        onPick={(axis, side, offset, how) => set(combined(how, picked, byPlane(cage, kind, { normal: axis, offset }, side)))}
      />
      {refusal && (
        <p role="alert" className="text-madder">
          ■ {refusal}
        </p>
      )}
      {note && <p role="status">● {note}</p>}
    </div>
  );
}

const HOWS: readonly (readonly [PickHow, string, string])[] = [
  ['replace', 'pick', 'Pick what lies there'],
  ['add', 'pick too', 'Pick what lies there too'],
  ['narrow', 'keep only', 'Of what is picked, keep what lies there'],
];

type Side = 'over' | 'under' | 'on';
const AXES = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;

/** Everything to one side of a plane. */
function ByPlane({
  project,
  some,
  onPick,
}: {
  project: Project;
  /** Whether anything is picked that can be added to. */
  some: boolean;
  onPick: (axis: readonly [number, number, number], side: Side, offset: number, how: PickHow) => void;
}) {
  const [axis, setAxis] = useState<'x' | 'y' | 'z'>('z');
  const [side, setSide] = useState<Side>('over');
  const [offset, setOffset] = useState('0 mm');
  const check = (t: string) => evaluateAs(t, 'length', tableOf(project).scope);
  const at = check(offset);
  return (
    <div className="flex flex-wrap items-center gap-1" role="group" aria-label="By a plane">
      where
      <select className="chip" aria-label="Axis of the plane" value={axis} onChange={(e) => setAxis(e.target.value as 'x')}>
        <option>x</option>
        <option>y</option>
        <option>z</option>
      </select>
      is
      <select className="chip" aria-label="Side of the plane" value={side} onChange={(e) => setSide(e.target.value as Side)}>
        <option value="over">more than</option>
        <option value="under">less than</option>
        <option value="on">just</option>
      </select>
      <ValueField label="place of the plane" value={offset} check={check} onCommit={setOffset} />
      {HOWS.map(([how, words, title]) => (
        <button
          key={how}
          type="button"
          className="btn px-1.5! py-0!"
          title={title}
          disabled={!at.ok || (how !== 'replace' && !some)}
          onClick={() => at.ok && onPick(AXES[axis], side, at.value, how)}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
