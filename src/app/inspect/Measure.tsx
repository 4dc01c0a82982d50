import { useState } from 'react';
import { removeMeasurement } from '../../core/recipe/edit';
import { measurementWords, readingWords, thingWords } from '../../core/recipe/measure-words';
import type { MeasuredThing, Project } from '../../core/recipe/schema';
import { edgeWords, faceWords } from '../../core/recipe/words';
import type { BodyScene } from '../../engine/types';
import { setBench, showMark, useBench } from '../state/bench';
import { keepMeasurement, setFirst, useInspect } from '../state/inspecting';
import { change } from '../state/project';

/** Everything of a body that has a name, in words. */
function thingsOf(scene: BodyScene | undefined, project: Project): { words: string; thing: MeasuredThing }[] {
  if (!scene) return [];
  const faces = scene.faceNames.map((face) => ({ words: faceWords(face, project), thing: { body: scene.id, face } }));
  const edges = scene.edgeNames
    .filter((edge) => edge !== '')
    .map((edge) => ({ words: edgeWords(edge, project), thing: { body: scene.id, edge } }));
  return [...faces, ...edges];
}

/** From what, to what: picked on the stage or chosen from lists. */
export function MeasureSettings({ project }: { project: Project }) {
  const chosen = useInspect((s) => s.body);
  const first = useInspect((s) => s.first);
  const scene = useBench((s) => s.scenes.find((b) => b.id === chosen) ?? s.scenes[0]);
  const picking = useBench((s) => (s.picking && 'measure' in s.picking.target ? s.picking.what : null));
  const things = thingsOf(scene, project);
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  // Nothing chosen is no first thing.
  const find = (key: string): MeasuredThing | undefined => (key === '' ? undefined : things[Number(key)]?.thing);
  const list = (label: string, value: string, none: string, onChange: (v: string) => void) => (
    <label className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      <select className="field min-w-0 flex-1 py-0.5!" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">{none}</option>
        {things.map((t, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: things stand in the body's own order
          <option key={i} value={i}>
            {t.words}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <>
      <div className="flex flex-wrap gap-1">
        {(
          [
            ['things', 'Pick faces, edges'],
            ['spots', 'Pick places'],
          ] as const
        ).map(([what, words]) => (
          <button
            key={what}
            type="button"
            aria-pressed={picking === what}
            className={picking === what ? 'btn-strong py-0!' : 'btn py-0!'}
            onClick={() => {
              setFirst(null);
              setBench({ picking: picking === what ? null : { target: { measure: true }, what } });
            }}
          >
            {words}
          </button>
        ))}
      </div>
      {first && (
        <p className="text-[12px]" data-testid="first-thing">
          From {thingWords(first, project)}. Pick the second, or{' '}
          <button type="button" className="link" onClick={() => keepMeasurement(first, null)}>
            measure it alone
          </button>
        </p>
      )}
      {list('From', from, 'choose…', setFrom)}
      {list('To', to, 'by itself', setTo)}
      <button
        type="button"
        className="btn self-start py-0!"
        disabled={!find(from)}
        onClick={() => {
          const a = find(from);
          // From a thing to itself is the thing alone.
          if (a) keepMeasurement(a, to === from ? null : (find(to) ?? null));
        }}
      >
        Measure
      </button>
    </>
  );
}

/** What was measured: it stays until it is taken away, and goes into the report. */
export function Measured({ project }: { project: Project }) {
  const readings = useInspect((s) => s.measured);
  const taken = project.measures ?? [];
  if (taken.length === 0)
    return (
      <p className="text-ink2">
        Nothing is measured yet. Pick a face, an edge or a place and then another one, or choose them from the lists. What you measure
        stays: it is read anew whenever the body is built, and stands in the report.
      </p>
    );
  return (
    <ol aria-label="Measured">
      {taken.map((m) => {
        const reading = readings.find((r) => r.id === m.id);
        const words = reading === undefined ? ['…'] : 'why' in reading ? [`■ ${reading.why}`] : readingWords(reading, project.units);
        const at = reading && !('why' in reading) ? (reading.distance?.from ?? reading.a.at) : null;
        return (
          <li key={m.id} className="border-b border-line py-1.5">
            <div className="flex items-start justify-between gap-2">
              <button
                type="button"
                className="text-left hover:text-teal"
                disabled={!at}
                onClick={() => at && showMark([...at], measurementWords(m, project))}
              >
                {measurementWords(m, project)}
              </button>
              <button
                type="button"
                className="link shrink-0"
                aria-label={`Take away: ${measurementWords(m, project)}`}
                onClick={() => change((p) => removeMeasurement(p, m.id))}
              >
                ×
              </button>
            </div>
            <p className={`font-mono ${words[0]!.startsWith('■') ? 'text-madder' : ''}`}>{words[0]}</p>
            {words.length > 1 && <p className="text-[12px] text-ink2">{words.slice(1).join(' · ')}</p>}
          </li>
        );
      })}
    </ol>
  );
}
