import { toast } from 'sonner';
import { evaluateAs } from '../../core/dimensions/expression';
import { writeDxf } from '../../core/exchange/dxf';
import { writeSvg } from '../../core/exchange/svg';
import { byScale, byShift, byTurn, copy, move } from '../../core/profile/alter';
import { addDerived, type NewDerived } from '../../core/profile/draw';
import { dimensionNotes } from '../../core/profile/notes';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { curveWords } from '../../core/profile/words';
import { slug } from '../../core/recipe/file';
import type { Profile, Project } from '../../core/recipe/schema';
import { bodyWords } from '../../core/recipe/words';
import { tableOf } from '../state/project';
import { ask } from '../ui/ask';
import { download } from '../ui/download';
import type { Act } from './BoardMenus';
import { bodiesToFollow, followWhole, pickEdges } from './PlaneFields';
import { readPlace } from './place';
import { mirrorLineOf, type Picked } from './tools';

interface Input {
  readonly project: Project;
  readonly profile: Profile;
  readonly resolved: ResolvedProfile | null;
  readonly picked: readonly Picked[];
  readonly setPicked: (p: readonly Picked[]) => void;
  readonly commit: (p: Profile) => void;
  readonly showAll: () => void;
  readonly comb: number | null;
  readonly setComb: (c: number | null) => void;
  readonly bringIn: () => void;
  readonly placePicture: () => void;
}

/** What the Alter and More menus can do with what is chosen. */
export function useActs(i: Input): { acts: readonly Act[]; more: readonly Act[] } {
  const { project, profile, resolved, picked } = i;
  const scope = tableOf(project).scope;
  const curves = picked.filter((p) => p.kind === 'curve').map((p) => p.id);
  const points = picked.filter((p) => p.kind === 'point').map((p) => p.id);
  const none = curves.length === 0 ? 'choose curves first' : undefined;
  const nothing = curves.length + points.length === 0 ? 'choose something first' : undefined;
  const about = points.length === 1 && resolved ? resolved.points.get(points[0]!)! : { x: 0, y: 0 };
  const derived = (d: NewDerived): void => {
    const r = addDerived(profile, d);
    i.commit(r.profile);
    i.setPicked([{ kind: 'derived', id: r.id }]);
  };
  const off = <T extends object>(o: T, why: string | undefined): T & { off?: string } => (why ? { ...o, off: why } : o);
  const mirrorLine = mirrorLineOf(profile, picked);
  const value = (title: string, initial: string, kind: 'angle' | 'number', use: (v: number) => void): void =>
    ask({
      title,
      initial,
      check: (t) => evaluateAs(t, kind, scope),
      done: (t) => {
        const r = evaluateAs(t, kind, scope);
        if (r.ok) use(r.value);
      },
    });
  const place = (title: string, use: (p: { x: number; y: number }) => void): void =>
    ask({
      title,
      initial: '10, 0',
      check: (t) => readPlace(t, scope, { x: 0, y: 0 }),
      done: (t) => {
        const r = readPlace(t, scope, { x: 0, y: 0 });
        if (r.ok) use(r.value);
      },
    });
  const save = (kind: 'svg' | 'dxf', dimensions: boolean): void => {
    if (!resolved) return;
    const name = `${slug(project.name, profile.name)}${dimensions ? '_dimensions' : ''}.${kind}`;
    if (kind === 'dxf') {
      download(name, writeDxf(resolved.curves), 'image/vnd.dxf');
      return;
    }
    const notes = dimensions ? dimensionNotes(resolved) : [];
    download(name, writeSvg(resolved.curves, `${project.name}, ${profile.name}`, notes), 'image/svg+xml');
  };
  const acts: Act[] = [
    off(
      {
        words: 'Offset, kept',
        hint: 'a parallel that follows',
        run: () => derived({ kind: 'offset', of: curves, distance: '2 mm', side: 'left', ends: 'open' }),
      },
      none,
    ),
    off(
      {
        words: 'Mirror, kept',
        hint: mirrorLine === 'axis' ? 'about the axis; choose a line last for another' : `about ${curveWords(profile, mirrorLine)}`,
        run: () => derived({ kind: 'mirror', of: curves.filter((c) => c !== mirrorLine), line: mirrorLine }),
      },
      curves.some((c) => c !== mirrorLine) ? undefined : 'choose curves first, the mirror line last',
    ),
    off(
      {
        words: 'Row of copies',
        hint: 'by spacing, in a length, or as many as fit',
        run: () =>
          derived({ kind: 'linear', of: curves, angle: '90°', count: '3', by: 'spacing', length: '10 mm', margin: '0 mm', gap: '2 mm' }),
      },
      none,
    ),
    off(
      {
        words: 'Ring of copies',
        hint: 'about the origin or a chosen point',
        run: () => derived({ kind: 'circular', of: curves, centre: points[0] ?? 'origin', count: '6', by: 'extent', angle: '360°' }),
      },
      none,
    ),
    off(
      {
        words: 'Move by…',
        hint: 'across, up',
        run: () => place('Move by', (p) => i.commit(move(profile, curves, points, byShift(p.x, p.y)))),
      },
      nothing,
    ),
    off(
      {
        words: 'Copy by…',
        hint: 'with the relations among them',
        run: () =>
          place('Copy, moved by', (p) => {
            const r = copy(profile, curves, byShift(p.x, p.y));
            i.commit(r.profile);
            i.setPicked(r.curves.map((id) => ({ kind: 'curve', id })));
          }),
      },
      none,
    ),
    off(
      {
        words: 'Turn by…',
        hint: points.length === 1 ? `about ${points[0]}` : 'about the origin',
        run: () => value('Turn by', '90°', 'angle', (a) => i.commit(move(profile, curves, points, byTurn(about, a)))),
      },
      none,
    ),
    off(
      {
        words: 'Scale by…',
        hint: points.length === 1 ? `from ${points[0]}` : 'from the origin',
        run: () =>
          value('Scale by', '1.2', 'number', (k) => {
            if (k > 0) i.commit(move(profile, curves, points, byScale(about, k)));
            else toast('A scale is more than nothing');
          }),
      },
      none,
    ),
  ];
  const more: Act[] = [
    { words: 'Fit', hint: 'the whole drawing in view', run: i.showAll },
    {
      words: i.comb === null ? 'Curvature comb' : 'Curvature comb off',
      hint: i.comb === null ? 'of the chosen curves, or of all' : '',
      run: () => i.setComb(i.comb === null ? 40 : null),
    },
    off(
      { words: 'Longer teeth', hint: 'of the comb', run: () => i.setComb((i.comb ?? 40) * 1.5) },
      i.comb === null ? 'show the comb first' : undefined,
    ),
    off(
      { words: 'Shorter teeth', hint: 'of the comb', run: () => i.setComb((i.comb ?? 40) / 1.5) },
      i.comb === null ? 'show the comb first' : undefined,
    ),
    ...bodiesToFollow(project, profile).flatMap((b): Act[] => [
      { words: 'Follow edges…', hint: `of ${bodyWords(b, project)}, picked on the stage`, run: () => pickEdges(profile, b) },
      { words: 'Follow the outline', hint: `of ${bodyWords(b, project)}`, run: () => i.commit(followWhole(profile, b, 'outline')) },
      { words: 'Follow the section', hint: `of ${bodyWords(b, project)}`, run: () => i.commit(followWhole(profile, b, 'section')) },
    ]),
    { words: 'Picture to draw by…', hint: 'a photo or sketch under the drawing', run: i.placePicture },
    { words: 'Bring in a drawing…', hint: 'SVG or DXF', run: i.bringIn },
    off({ words: 'Save as SVG', hint: 'full size, in mm', run: () => save('svg', false) }, resolved ? undefined : 'it has no shape now'),
    off({ words: 'Save with dimensions', hint: 'SVG', run: () => save('svg', true) }, resolved ? undefined : 'it has no shape now'),
    off({ words: 'Save as DXF', hint: 'in mm', run: () => save('dxf', false) }, resolved ? undefined : 'it has no shape now'),
    {
      words: 'Choose everything',
      hint: '',
      run: () => i.setPicked(profile.curves.map((c) => ({ kind: 'curve', id: c.id }))),
    },
  ];
  return { acts, more };
}
