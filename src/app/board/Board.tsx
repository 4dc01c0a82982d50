import { ChevronsDown, ChevronsUp, Minus } from 'lucide-react';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { distance2, flatten, type Point2 } from '../../core/curves/planar';
import type { PlaneDrawing } from '../../core/exchange/drawing';
import { smallGaps } from '../../core/profile/alter';
import { withFollowed, withoutFollowed } from '../../core/profile/follow';
import { filled } from '../../core/profile/material';
import { areaAndCentroid, findOutline, outlineLength, turnedVolume } from '../../core/profile/outline';
import { readPoles } from '../../core/profile/pole';
import { findRegions, type Region } from '../../core/profile/regions';
import { readings as readAll } from '../../core/profile/relate';
import { type ResolvedProfile, resolveProfile } from '../../core/profile/resolve';
import { asDrawn, settle } from '../../core/profile/session';
import type { DrawOptions, Place } from '../../core/profile/shapes';
import { setProfile } from '../../core/recipe/edit';
import type { Profile, Project } from '../../core/recipe/schema';
import { fixed, formatArea, formatLength, formatVolume } from '../../core/units/units';
import { readDrawing } from '../files/read';
import { FormPane } from '../form/FormPane';
import { openDrawing, setBench, useBench } from '../state/bench';
import { takePick } from '../state/picking';
import { change, tableOf } from '../state/project';
import { stepsOf } from '../state/standing';
import { BoardFields } from './BoardFields';
import { BoardMenus } from './BoardMenus';
import { BringIn } from './BringIn';
import { Comb, Drawing, Paper } from './Drawing';
import { FrameLine } from './FrameLine';
import { Marks } from './Marks';
import { Notices } from './Notices';
import { Prompt } from './Prompt';
import { readPicture } from './readPicture';
import { shownOnBoard } from './shown';
import { GRIDS, isDraw, type Picked, type Tool, toolInfo } from './tools';
import { useActs } from './useActs';
import { useAround } from './useAround';
import { usePointer } from './usePointer';
import { useReport } from './useReport';
import { useSpace, useView } from './useView';

/** Ends nearer than this that do not coincide are offered to be closed, mm. */
const GAP = 0.5;

/** The drafting board: a profile beside its axis, solved as it is drawn, the body on the stage turning with every drag. */
function Board({ project, stored }: { project: Project; stored: Profile }) {
  const svg = useRef<SVGSVGElement>(null);
  const [tool, setTool] = useState<Tool>('select');
  const [picked, setPicked] = useState<readonly Picked[]>([]);
  const [draft, setDraft] = useState<ResolvedProfile | null>(null);
  const [pending, setPending] = useState<readonly Place[]>([]);
  const [options, setOptions] = useState<DrawOptions>({ sides: 6, degree: 3, text: 'Marram', textHeight: '8 mm', construction: false });
  const [corner, setCorner] = useState('3 mm');
  const [comb, setComb] = useState<number | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const photo = useRef<HTMLInputElement>(null);
  const [coming, setComing] = useState<{ name: string; drawing: PlaneDrawing } | null>(null);
  const [pictureAt, setPictureAt] = useState<Point2 | null>(null);
  const [kept, setKept] = useState<readonly string[]>([]);
  const room = useBench((s) => s.room);
  const place = useBench((s) => s.result?.profiles.get(stored.id));
  const follows = place?.follows ?? undefined;
  const profile = useMemo(() => withFollowed(stored, follows), [stored, follows]);
  /** What it follows is not known yet, or can't be found. */
  const waiting = stored.projections.length > 0 && profile === stored;
  const half = profile.half;
  const picture = profile.picture && { ...profile.picture, ...(pictureAt ?? {}) };
  const scope = tableOf(project).scope;
  const solved = useMemo(() => resolveProfile(profile, scope), [profile, scope]);
  const shown = useMemo(() => {
    if (draft) return draft;
    if (solved.ok) return solved.value;
    const drawn = asDrawn(profile, scope);
    return drawn.ok ? drawn.value : null;
  }, [draft, solved, profile, scope]);
  const report = useReport(waiting ? null : profile, scope);
  const readings = useMemo(() => (shown ? readAll(profile, shown) : new Map<string, number>()), [profile, shown]);
  const outline = useMemo(
    () => (half && shown && (draft || solved.ok) ? findOutline(shown, profile.name) : null),
    [half, shown, draft, solved.ok, profile.name],
  );
  const poles = useMemo(() => (half && outline?.ok ? readPoles(outline.value) : []), [outline, half]);
  const regions = useMemo(() => (shown ? findRegions(shown, half) : null), [shown, half]);
  const gaps = useMemo(() => (solved.ok ? smallGaps(profile, solved.value, GAP) : []), [profile, solved]);
  const space = useSpace(svg);
  const { size, folded } = space;
  const around = useAround(profile, project, !folded);
  const { view, setView, showAll, px, toMm } = useView(svg, space, profile, solved, scope, around, (regions?.regions.length ?? 0) > 0);
  const grid = GRIDS.find((g) => g * view.k >= 7) ?? 100;

  const choose = (t: Tool): void => {
    if (folded) openDrawing(profile.id);
    setTool(t);
    setPending([]);
    svg.current?.focus({ preventScroll: true });
  };
  // Before anything can be typed: what is typed at once must not be taken back.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another profile on the board begins anew, not a change of the one that is drawn
  useLayoutEffect(() => {
    setPicked([]);
    setPending([]);
    setKept([]);
    setTool(profile.curves.length === 0 ? 'line' : 'select');
  }, [profile.id]);
  // The room is known a frame after the board stands. A board opened again shows what it showed.
  const fitted = useRef('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: fits when another profile is put on the board, not while drawing on one
  useEffect(() => {
    if (folded || fitted.current === profile.id) return;
    if (showAll()) fitted.current = profile.id;
  }, [profile.id, folded]);

  const path = (pts: readonly Point2[], mirror = false): string =>
    pts
      .map((p, i) => {
        const q = px(mirror ? { x: -p.x, y: p.y } : p);
        return `${i === 0 ? 'M' : 'L'}${q.x.toFixed(2)} ${q.y.toFixed(2)}`;
      })
      .join('');
  const commit = useCallback(
    (next: Profile): void => {
      // What is followed is put in anew: an edit may have let go of some of it, or come without.
      const plain = withoutFollowed(next);
      const r = settle(withFollowed(plain, follows), scope);
      change((p) => setProfile(p, withoutFollowed(r.profile)));
    },
    [scope, follows],
  );
  const pick = (p: Picked, more: boolean): void => {
    if (answerPick(p, profile, project)) return;
    setPicked((old) => {
      if (!more) return [p];
      return old.some((k) => k.kind === p.kind && k.id === p.id)
        ? old.filter((k) => k.id !== p.id)
        : [...old.filter((k) => k.kind !== 'constraint'), p];
    });
  };

  // What the keyboard reaches is chosen; the space bar keeps it while the next is reached.
  const pointing = useRef(false);
  const held = useRef<readonly Picked[]>([]);
  const reach = (p: Picked): void => {
    if (!pointing.current) setPicked([...held.current.filter((k) => k.id !== p.id), p]);
  };
  const hold = (): void => {
    held.current = picked;
  };

  const pointer = usePointer({
    project,
    profile,
    resolved: solved.ok ? solved.value : null,
    half,
    view,
    setView,
    tool,
    setTool: choose,
    pending,
    setPending,
    options,
    corner,
    grid,
    around,
    toMm,
    commit,
    setDraft,
    setPicked,
    setKept,
    picked,
    focus: () => svg.current?.focus(),
    setPictureAt,
  });
  const { acts, more } = useActs({
    project,
    profile,
    resolved: solved.ok ? solved.value : null,
    picked,
    setPicked,
    commit,
    showAll,
    comb,
    setComb,
    bringIn: () => file.current?.click(),
    placePicture: () => photo.current?.click(),
  });

  const open = !waiting && solved.ok && outline && !outline.ok ? outline.error : null;
  // That half an outline is open is a fault only where a step fails for it: as a surface it may be.
  const makers = useMemo(() => stepsOf(project, profile.id), [project, profile.id]);
  const wanted = useBench((s) => makers.some((id) => s.reports[id]?.state === 'failed'));
  const problem = waiting ? null : !solved.ok ? solved.error : wanted ? open : null;
  const conflict = !solved.ok && !waiting ? (report?.conflict ?? []) : [];
  const bad = poles.filter((p) => p.verdict !== 'smooth');
  const active = tool === 'select';
  const axisX = px({ x: 0, y: 0 }).x;
  const levelY = px({ x: 0, y: 0 }).y;
  const snap = pointer.snap;
  const { units } = project;
  const figures = useMemo(() => {
    const at = (p: Point2): string => [p.x, p.y].map((v) => formatLength(v, units)).join(', ');
    if (half && outline?.ok) {
      const { area, centroid } = areaAndCentroid(outline.value);
      return `turned ${formatVolume(turnedVolume(outline.value), units)} · half ${formatArea(Math.abs(area), units)} · centroid ${at(centroid)} · outline ${formatLength(outlineLength(outline.value), units, 1)}`;
    }
    // What is filled: a letter's eye is no region of its own.
    const all = filled(regions?.regions ?? []);
    if (all.length === 0) return '';
    const sum = (f: (r: Region) => number): number => all.reduce((n, r) => n + f(r), 0);
    const area = sum((r) => r.area);
    const centroid = { x: sum((r) => r.area * r.centroid.x) / area, y: sum((r) => r.area * r.centroid.y) / area };
    const several = all.length > 1 ? `${all.length} regions · ` : '';
    const holes = sum((r) => r.holes.length);
    const holed = holes > 0 ? ` · ${holes} hole${holes > 1 ? 's' : ''}` : '';
    return `${several}${formatArea(area, units)} · centroid ${at(centroid)} · border ${formatLength(
      sum((r) => r.length),
      units,
      1,
    )}${holed}`;
  }, [half, outline, regions, units]);

  return (
    <section aria-label="Board" className="flex h-full flex-col bg-card">
      <div className="flex h-8 shrink-0 items-center gap-2 border-b border-line px-2">
        <select
          aria-label="Profile on the board"
          className="chip max-w-32 font-semibold"
          value={profile.id}
          onChange={(e) => openDrawing(e.target.value)}
        >
          {project.profiles.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
        <BoardMenus tool={tool} onTool={choose} acts={acts} more={more} />
        <span className="ml-auto truncate text-[12px] text-ink2" title={active ? figures : undefined} data-testid="board-hint">
          {active ? figures : toolInfo(tool).hint}
        </span>
        {(folded || room === 'stage') && (
          <button type="button" className="link" onClick={() => openDrawing(profile.id)}>
            Open
          </button>
        )}
        <button
          type="button"
          aria-pressed={room === 'board'}
          aria-label="Larger board"
          title={room === 'board' ? 'Give the stage its room back' : 'Larger board'}
          className="px-1 hover:text-teal"
          onClick={() => setBench({ room: room === 'board' ? 'shared' : 'board' })}
        >
          {room === 'board' ? <ChevronsDown size={14} aria-hidden /> : <ChevronsUp size={14} aria-hidden />}
        </button>
        {!folded && (
          <button
            type="button"
            aria-label="Larger stage"
            title="Larger stage"
            className="px-1 hover:text-teal"
            onClick={() => setBench({ room: 'stage' })}
          >
            <Minus size={14} aria-hidden />
          </button>
        )}
      </div>
      <input
        ref={file}
        type="file"
        accept=".svg,.dxf"
        aria-label="Drawing file"
        className="hidden"
        onChange={async (e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (!chosen) return;
          const r = await readDrawing(chosen);
          if (r.ok) setComing({ name: chosen.name, drawing: r.value });
          else toast.error(r.error);
        }}
      />
      <input
        ref={photo}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        aria-label="Picture file"
        className="hidden"
        onChange={async (e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (!chosen) return;
          const r = await readPicture(chosen);
          if (r.ok) commit({ ...profile, picture: { ...r.value, x: half ? -r.value.width / 2 : 0, y: 0 } });
          else toast.error(r.error);
        }}
      />
      {coming && (
        <BringIn
          drawing={coming.drawing}
          name={coming.name}
          profile={profile}
          onClose={() => setComing(null)}
          onDone={(next, curves) => {
            commit(next);
            setComing(null);
            setPicked(curves.map((id) => ({ kind: 'curve', id })));
          }}
        />
      )}
      <div className={`relative min-h-0 flex-1 select-none overflow-hidden ${folded ? 'invisible' : ''}`}>
        <svg
          ref={svg}
          tabIndex={0}
          role="application"
          aria-label={`Drawing of ${profile.name}`}
          className={`h-full w-full touch-none ${active ? '' : 'cursor-crosshair'}`}
          onPointerDownCapture={() => {
            pointing.current = true;
            held.current = [];
          }}
          onPointerUpCapture={() => {
            pointing.current = false;
          }}
          onPointerMove={pointer.onMove}
          onPointerUp={pointer.onUp}
          onPointerLeave={pointer.onUp}
          onPointerDown={pointer.onDown}
          onWheel={pointer.onWheel}
          onKeyDown={(e) => {
            if (e.key === ' ' && active) {
              e.preventDefault();
              hold();
            } else if (e.key === 'Enter' && (tool === 'round' || tool === 'cut')) {
              const id = (e.target as Element).getAttribute('data-point');
              if (id) pointer.soften(id);
            } else {
              if (e.key === 'Escape') held.current = [];
              pointer.onKey(e);
            }
          }}
          onContextMenu={(e) => e.preventDefault()}
        >
          <Paper view={view} size={size} grid={grid} />
          {picture && picture.strength > 0 && (
            <image
              href={picture.data}
              x={px({ x: picture.x, y: picture.y }).x}
              y={px({ x: picture.x, y: picture.y + picture.width * picture.ratio }).y}
              width={picture.width * view.k}
              height={picture.width * picture.ratio * view.k}
              opacity={picture.strength}
              preserveAspectRatio="none"
              pointerEvents="none"
              data-testid="reference-picture"
            />
          )}
          {regions?.regions.map((r) => {
            const loop = (curves: typeof r.outer, mirror: boolean): string =>
              `${path(
                curves.flatMap((c) => flatten(c.curve, 0.3 / view.k + 0.01)),
                mirror,
              )}Z`;
            const all = (mirror: boolean): string => [r.outer, ...r.holes].map((l) => loop(l, mirror)).join('');
            return (
              <g key={`${r.centroid.x},${r.centroid.y},${r.area}`} pointerEvents="none">
                <path d={all(false)} fillRule="evenodd" className="fill-[#e9e3d3]/60" />
                {half && <path d={all(true)} fillRule="evenodd" className="fill-[#e9e3d3]/30" />}
              </g>
            );
          })}
          <path
            d={around.flatMap((a) => a.lines.map((l) => path(l))).join('')}
            fill="none"
            className="stroke-ink3"
            strokeWidth={0.8}
            opacity={0.7}
            pointerEvents="none"
            data-testid="around"
          />
          <FrameLine
            id="axis"
            label="The axis"
            d={`M${axisX} 0V${size.h}`}
            dash={half ? '12 3 2 3' : '2 4'}
            {...{ active, picked, pick }}
          />
          <FrameLine id="level" label="The base level" d={`M0 ${levelY}H${size.w}`} dash="2 4" {...{ active, picked, pick }} />
          {shown && (
            <>
              {comb !== null &&
                shown.curves
                  .filter((c) => c.curve.kind !== 'line' && (picked.length === 0 || picked.some((p) => p.id === c.id)))
                  .map((c) => <Comb key={c.id} curve={c.curve} px={px} scale={view.k} length={comb} />)}
              <Drawing
                profile={profile}
                resolved={shown}
                active={active}
                mirror={half}
                picked={picked}
                diagnosis={solved.ok ? report?.diagnosis : undefined}
                scale={view.k}
                px={px}
                path={path}
                toMm={toMm}
                onPick={pick}
                onFocus={reach}
                onDrag={pointer.begin}
              />
              <Marks
                profile={profile}
                resolved={shown}
                readings={readings}
                diagnosis={solved.ok ? report?.diagnosis : undefined}
                conflict={conflict}
                picked={picked}
                px={px}
                scale={view.k}
                active={active}
                onPick={pick}
                onFocus={reach}
                onDrag={pointer.begin}
                toMm={toMm}
              />
            </>
          )}
          <circle
            cx={axisX}
            cy={levelY}
            r={4}
            className={picked.some((p) => p.id === 'origin') ? 'fill-teal' : 'fill-none stroke-teal'}
            role="button"
            aria-label="The origin"
            pointerEvents={active ? 'all' : 'none'}
            onPointerDown={(e) => {
              e.stopPropagation();
              pick({ kind: 'frame', id: 'origin' }, e.shiftKey || e.ctrlKey || e.metaKey);
            }}
          />
          {pending.length > 0 && snap && (
            <path
              d={path([...pending.map((s) => s.at), snap.at])}
              fill="none"
              className="stroke-teal"
              strokeDasharray="4 3"
              pointerEvents="none"
            />
          )}
          {pending.map((s) => {
            const q = px(s.at);
            return <circle key={`${s.at.x},${s.at.y}`} cx={q.x} cy={q.y} r={3.5} className="fill-teal" pointerEvents="none" />;
          })}
          {snap && (
            <g pointerEvents="none">
              <circle cx={px(snap.at).x} cy={px(snap.at).y} r={5} className="fill-none stroke-teal" />
              <text
                x={px(snap.at).x + 10}
                y={px(snap.at).y - 8}
                className="fill-ink font-mono text-[11px]"
                style={{ paintOrder: 'stroke', stroke: 'var(--color-card)', strokeWidth: 3 }}
              >
                {half ? 'r' : 'x'} {fixed(snap.at.x, 2)} · {half ? 'h' : 'y'} {fixed(snap.at.y, 2)}
                {pending.length > 0 && ` · ${fixed(distance2(pending[pending.length - 1]!.at, snap.at), 2)} mm`} — {snap.reason}
              </text>
            </g>
          )}
          {poles.map((p) => {
            const q = px(p.at);
            const ok = p.verdict === 'smooth';
            return (
              <text
                key={`${p.curveId}${p.at.y}`}
                x={q.x - 8}
                y={q.y + (p.at.y >= Math.max(...poles.map((k) => k.at.y)) ? -19 : 16)}
                textAnchor="end"
                className={`text-[11px] ${ok ? 'fill-teal' : 'fill-madder font-semibold'}`}
                pointerEvents="none"
              >
                {ok ? '90° at the pole' : `${fixed(p.angle, 1)}° makes a ${p.verdict}`}
              </text>
            );
          })}
          {regions?.crossings.slice(0, 12).map((c) => {
            const q = px(c.at);
            return (
              <path
                key={`${q.x},${q.y}`}
                d={`M${q.x - 5} ${q.y - 5}l10 10m0-10l-10 10`}
                className="stroke-amber"
                strokeWidth={2}
                pointerEvents="none"
              />
            );
          })}
          {problem?.at && (
            <g pointerEvents="none" data-testid="profile-problem-mark">
              <circle cx={px(problem.at).x} cy={px(problem.at).y} r={11} className="fill-none stroke-madder" strokeWidth={2} />
              <path d={`M${px(problem.at).x - 5} ${px(problem.at).y - 5}l10 10m0-10l-10 10`} className="stroke-madder" strokeWidth={2} />
            </g>
          )}
        </svg>
        {active && (
          <BoardFields
            project={project}
            profile={profile}
            resolved={shown}
            readings={readings}
            picked={picked}
            half={half}
            place={place}
            onPick={setPicked}
            onChange={commit}
            onRemove={pointer.remove}
            onScalePicture={() => choose('scale-picture')}
          />
        )}
        <Notices
          {...{ profile, solved, shown, report, place, gaps, waiting, active, problem, commit }}
          open={problem || makers.length > 0 ? null : open}
          conflicting={conflict.length > 0}
          bad={bad}
          empty={profile.curves.length === 0 && pending.length === 0}
          onPick={setPicked}
        />
        {isDraw(tool) || tool === 'round' || tool === 'cut' ? (
          <Prompt
            tool={tool}
            scope={scope}
            pending={pending}
            options={options}
            setOptions={setOptions}
            corner={corner}
            setCorner={setCorner}
            onPlace={pointer.place}
            onFinish={() => pointer.finish(pending)}
            onEnd={() => choose('select')}
            onRefuse={(words) => toast(words)}
            kept={kept.map((id) => pointer.keptWords(id)).filter(Boolean)}
            onRefuseKept={() => {
              commit({ ...profile, constraints: profile.constraints.filter((c) => !kept.includes(c.id)) });
              setKept([]);
            }}
          />
        ) : null}
      </div>
    </section>
  );
}

/** A point or curve clicked while a step asks for a place or a line goes to the step. */
function answerPick(p: Picked, profile: Profile, project: Project): boolean {
  const what = useBench.getState().picking?.what;
  if (what === 'places' && p.kind === 'point') takePick({ profile: profile.id, point: p.id }, project);
  else if (what === 'paths' && (p.kind === 'curve' || p.kind === 'derived'))
    takePick({ profile: profile.id, curve: p.curve ?? p.id }, project);
  else return false;
  return true;
}

/** The board for what one is at. */
export function BoardPane({ project }: { project: Project }) {
  const step = useBench((s) => s.step);
  const chosen = useBench((s) => s.profile);
  const { form, profile } = shownOnBoard(project, step, chosen);
  if (form) return <FormPane key={form.id} project={project} step={form} />;
  if (!profile) return <p className="truncate px-4 py-1.5 text-ink2">No drawing yet: begin one among the next steps.</p>;
  return <Board project={project} stored={profile} />;
}
