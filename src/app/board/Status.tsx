import { removeConstraint } from '../../core/profile/draw';
import type { ProfileError } from '../../core/profile/resolve';
import { isDimension } from '../../core/profile/solver/terms';
import { constraintWords, curveWords, pointWords } from '../../core/profile/words';
import type { Constraint, Profile } from '../../core/recipe/schema';
import type { BoardReport } from '../board-worker';
import type { Picked } from './tools';

interface Props {
  readonly profile: Profile;
  readonly report: BoardReport | null;
  readonly error: ProfileError | null;
  readonly onPick: (p: readonly Picked[]) => void;
  readonly onChange: (p: Profile) => void;
}

/** A direction in words: along, up, or the angle. */
function wayWords(d: { x: number; y: number }): string {
  const angle = ((Math.atan2(d.y, d.x) * 180) / Math.PI + 180) % 180;
  if (angle < 1 || angle > 179) return 'only across';
  if (Math.abs(angle - 90) < 1) return 'only up and down';
  return `only along ${angle.toFixed(0)}°`;
}

/** What is still free, what repeats, what contradicts: in words, each with what to do about it. */
export function Status({ profile, report, error, onPick, onChange }: Props) {
  const byId = (id: string): Constraint | undefined => profile.constraints.find((c) => c.id === id);
  const conflict = report?.conflict ?? [];
  const d = error ? undefined : report?.diagnosis;
  const repeats = d?.repeats ?? [];
  const undo = (id: string): React.ReactNode => {
    const c = byId(id);
    if (!c) return null;
    return (
      <span className="whitespace-nowrap">
        <button type="button" className="link text-inherit!" onClick={() => onChange(removeConstraint(profile, id))}>
          remove this one
        </button>
        {isDimension(c) && (
          <>
            {' · '}
            <button
              type="button"
              className="link text-inherit!"
              onClick={() =>
                onChange({
                  ...profile,
                  constraints: profile.constraints.map((k) => (k.id === id ? ({ ...c, driving: false } as Constraint) : k)),
                })
              }
            >
              only read it
            </button>
          </>
        )}
      </span>
    );
  };
  return (
    <div className="flex flex-col items-start gap-1" data-testid="board-status">
      {conflict.length > 0 && (
        <div role="alert" className="pointer-events-auto bg-madderwash px-2 py-1 text-madder">
          ■ {conflict.length > 1 ? 'These can’t hold together:' : 'This can’t hold:'}
          <ul className="list-inside">
            {conflict.map((id) => {
              const c = byId(id);
              return (
                c && (
                  <li key={id}>
                    <button type="button" className="text-left hover:underline" onClick={() => onPick([{ kind: 'constraint', id }])}>
                      {constraintWords(profile, c)}
                    </button>{' '}
                    — {undo(id)}
                  </li>
                )
              );
            })}
          </ul>
          The last shape that held is shown.
        </div>
      )}
      {report?.stopped && (
        <p role="status" className="pointer-events-auto bg-amberwash px-2 py-0.5 text-[12px] text-amber">
          ▲ What is held and what is free is not known: {report.stopped.replace(/^T/, 't')}. It is worked out again with the next change.
        </p>
      )}
      {repeats.slice(0, 3).map((r) => {
        const c = byId(r.constraint);
        return (
          c && (
            <div key={r.constraint} className="pointer-events-auto bg-amberwash px-2 py-1 text-amber">
              ▲ “{constraintWords(profile, c)}” repeats what {r.by.length > 0 ? 'others' : 'the frame'} already say
              {r.by.length > 0 ? '' : 's'}
              {r.by.length > 0 &&
                r.by.length <= 4 &&
                ` (${r.by
                  .map((id) => byId(id))
                  .filter((k): k is Constraint => k !== undefined)
                  .map((k) => constraintWords(profile, k))
                  .join('; ')})`}
              : {undo(r.constraint)}
            </div>
          )
        );
      })}
      {d && profile.curves.length > 0 && (
        <p className="pointer-events-auto bg-panel/90 px-2 py-0.5 text-[12px] text-ink2" data-testid="freedoms">
          {d.freedoms === 0 ? (
            'Fully held: nothing is left free.'
          ) : (
            <>
              {d.freedoms} {d.freedoms === 1 ? 'freedom' : 'freedoms'} left:{' '}
              {d.free.slice(0, 3).map((f, i) => (
                <span key={f.point}>
                  {i > 0 && ', '}
                  <button
                    type="button"
                    className="hover:text-teal hover:underline"
                    onClick={() => onPick([{ kind: 'point', id: f.point }])}
                  >
                    {pointWords(f.point)} {f.direction ? wayWords(f.direction) : 'any way'}
                  </button>
                </span>
              ))}
              {d.free.length > 3 && `, ${d.free.length - 3} more points`}
              {d.freeRadii.slice(0, 2).map((id, i) => (
                <span key={id}>
                  {d.free.length + i > 0 && ', '}size of{' '}
                  <button type="button" className="hover:text-teal hover:underline" onClick={() => onPick([{ kind: 'curve', id }])}>
                    {curveWords(profile, id)}
                  </button>
                </span>
              ))}
              {d.freeHandles.slice(0, 2).map((h, i) => (
                <span key={h.curve + h.at}>
                  {d.free.length + d.freeRadii.length + i > 0 && ', '}handle of{' '}
                  <button
                    type="button"
                    className="hover:text-teal hover:underline"
                    onClick={() => onPick([{ kind: 'curve', id: h.curve }])}
                  >
                    {curveWords(profile, h.curve)}
                  </button>
                </span>
              ))}
            </>
          )}
        </p>
      )}
    </div>
  );
}
