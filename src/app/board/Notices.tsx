import { closeGaps, type smallGaps } from '../../core/profile/alter';
import { fixPole, type PoleReading } from '../../core/profile/pole';
import type { ProfileError, ResolvedProfile } from '../../core/profile/resolve';
import type { Profile } from '../../core/recipe/schema';
import type { Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { ProfilePlace } from '../../engine/types';
import type { BoardReport } from '../board-worker';
import { useBench } from '../state/bench';
import { Status } from './Status';
import type { Picked } from './tools';

interface Props {
  readonly profile: Profile;
  readonly solved: Result<ResolvedProfile, ProfileError>;
  /** What is drawn now: solved, dragged, or as it was last. */
  readonly shown: ResolvedProfile | null;
  readonly report: BoardReport | null;
  readonly place: ProfilePlace | undefined;
  readonly gaps: ReturnType<typeof smallGaps>;
  /** What the drawing follows is still being built. */
  readonly waiting: boolean;
  readonly active: boolean;
  readonly problem: ProfileError | null;
  /** Half an outline that is open still, which nothing is made from yet. */
  readonly open: ProfileError | null;
  /** The contradiction is told by the status; the plain problem would say it twice. */
  readonly conflicting: boolean;
  readonly bad: readonly PoleReading[];
  readonly empty: boolean;
  readonly commit: (next: Profile) => void;
  readonly onPick: (p: readonly Picked[]) => void;
}

/** What the drawing should be told, top left on the board: problems first, then what could be better, each with its fix. */
export function Notices({
  profile,
  solved,
  shown,
  report,
  place,
  gaps,
  waiting,
  active,
  problem,
  open,
  conflicting,
  bad,
  empty,
  commit,
  onPick,
}: Props) {
  // What places its plane was begun and has not all it needs.
  const awaited = useBench((s) => {
    const report = s.reports[profile.plane];
    return report?.state === 'failed' && report.unfinished ? report.tryInstead.join('; or ') : undefined;
  });
  return (
    <div className="pointer-events-none absolute left-2 top-2 flex max-h-[calc(100%-16px)] max-w-[44%] flex-col items-start gap-1 overflow-y-auto">
      {active && problem && !conflicting && profile.curves.length > 0 && (
        <p role="alert" className="pointer-events-auto bg-madderwash px-2 py-1 text-madder">
          ■ {problem.message}
        </p>
      )}
      {active && open && profile.curves.length > 0 && (
        <p className="bg-panel px-2 py-1 text-ink2">{open.message}; or raise a surface from it</p>
      )}
      {waiting && (
        <p className="pointer-events-auto bg-amberwash px-2 py-1 text-amber" data-testid="follow-problem">
          {place?.problem ? `▲ ${place.problem}.` : 'The bodies it follows are being built…'}
        </p>
      )}
      {!waiting && place?.problem && awaited && (
        <p className="bg-tealwash px-2 py-1 text-teal" data-testid="plane-awaited">
          Its plane comes next: {awaited}.
        </p>
      )}
      {!waiting && place?.problem && !awaited && (
        <p role="alert" className="pointer-events-auto bg-madderwash px-2 py-1 text-madder">
          ■ {place.problem}.
        </p>
      )}
      {active && !waiting && (
        <Status profile={profile} report={report} error={solved.ok ? null : solved.error} onPick={onPick} onChange={commit} />
      )}
      {active && gaps.length > 0 && (
        <p className="pointer-events-auto bg-amberwash px-2 py-1 text-amber">
          ▲ {gaps.length === 1 ? 'A gap' : `${gaps.length} gaps, the first`} of {fixed(gaps[0]!.gap, 3)} mm between {gaps[0]!.a} and{' '}
          {gaps[0]!.b} keeps the outline open.{' '}
          <button type="button" className="link text-amber!" onClick={() => commit(closeGaps(profile, gaps))}>
            Close {gaps.length === 1 ? 'it' : 'them'}
          </button>
        </p>
      )}
      {active &&
        bad.map((p) => (
          <p key={p.curveId + p.at.y} className="pointer-events-auto bg-amberwash px-2 py-1 text-amber">
            ▲ The profile meets the axis at {fixed(p.angle, 1)}°, which turns a {p.verdict} at height {fixed(p.at.y, 1)} mm.{' '}
            {shown && (
              <button type="button" className="link text-amber!" onClick={() => commit(fixPole(profile, p, shown.points))}>
                Fix: {p.fix}
              </button>
            )}
          </p>
        ))}
      {empty && (
        <p className="bg-panel px-2 py-1 text-ink2">
          {profile.half
            ? 'Draw half of the body to the right of the axis. Start on the axis, end on the axis; or draw a closed ring beside it. Places can be clicked, or typed below.'
            : 'Draw closed outlines; one inside another is a hole. Places can be clicked, or typed below.'}
        </p>
      )}
    </div>
  );
}
