import { type ReactNode, useMemo, useState } from 'react';
import { evaluateAs } from '../../core/dimensions/expression';
import type { Project } from '../../core/recipe/schema';
import { edgeWords } from '../../core/recipe/words';
import type { EdgePlace, NewDimension, Shop, ShopView } from '../../core/shop/document';
import { withDimension, withView } from '../../core/shop/edit';
import { PAPERS, type Paper, SCALES, type Scale, TOLERANCE_WORDS, TOLERANCES, type ToleranceClass } from '../../core/shop/paper';
import { type RecipeDimension, recipeIn, recipeKey } from '../../core/shop/sheet';
import type { ViewEdge } from '../../core/shop/sight';
import { CUT_SIDES, CUT_WORDS, SIDE_WORDS, SIDES, VIEW_FRAMES, type ViewSide } from '../../core/shop/views';
import { Pick } from '../inspect/fields';
import { type Picked, SheetView } from '../shop/SheetView';
import { saveDrawing } from '../shop/save';
import { type SheetState, shopOf, useSheet } from '../shop/useSheet';
import { useBench } from '../state/bench';
import { change, tableOf, useProject } from '../state/project';
import { Pane } from '../ui/Pane';
import { ValueField } from '../ui/ValueField';

/** The working drawing: views, sections, dimensions and title block on a sheet of paper, as the shop gets it. */
export function DrawingPage() {
  const project = useProject((s) => s.project);
  return project && <DrawingOf project={project} />;
}

const changeShop = (edit: (shop: Shop) => Shop): void => change((p) => ({ ...p, shop: edit(shopOf(p)) }));
const changeView = (id: string, more: Partial<ShopView>): void =>
  changeShop((s) => ({ ...s, views: s.views.map((v) => (v.id === id ? { ...v, ...more } : v)) }));
const addDimension = (d: NewDimension): void => changeShop((s) => withDimension(s, d));

function DrawingOf({ project }: { project: Project }) {
  const state = useSheet(project);
  const { shop, sheet, drawing, failed } = state;
  const bodies = useBench((s) => s.result?.bodies.length ?? 0);
  const [picked, setPicked] = useState<readonly Picked[]>([]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const drop = (id: string): void => {
    changeShop((s) => ({ ...s, dimensions: s.dimensions.filter((d) => d.id !== id) }));
    setChosen(null);
  };
  const take = (p: Picked | null): void => {
    if (!p) return setPicked([]);
    // A third one begins anew; those of another view too.
    setPicked((list) => (list.length >= 2 || list[0]?.view !== p.view ? [p] : [...list, p]));
  };
  const save = async (format: 'pdf' | 'svg' | 'dxf'): Promise<void> => {
    setBusy(true);
    await saveDrawing(project, sheet, format).finally(() => setBusy(false));
  };
  return (
    <main
      className="grid h-full grid-cols-[330px_minmax(0,1fr)] max-[820px]:grid-cols-1"
      onKeyDown={(e) => {
        if (
          (e.key === 'Delete' || e.key === 'Backspace') &&
          chosen &&
          !(e.target instanceof HTMLInputElement) &&
          !(e.target instanceof HTMLTextAreaElement)
        )
          drop(chosen);
        if (e.key === 'Escape') setPicked([]);
      }}
    >
      <aside className="overflow-auto border-r border-line2 px-4 py-3 text-[13px]">
        <h1 className="mb-2 text-lg font-semibold">Drawing</h1>
        <div className="mb-3 flex gap-2">
          {(['pdf', 'dxf', 'svg'] as const).map((f) => (
            <button
              key={f}
              type="button"
              className={f === 'pdf' ? 'btn-strong' : 'btn'}
              disabled={busy || drawing || sheet.views.length === 0}
              onClick={() => void save(f)}
            >
              Save {f.toUpperCase()}
            </button>
          ))}
        </div>
        <p role="status" className="mb-2 text-ink2">
          {bodies === 0 ? 'There is no body yet. Raise one on the bench.' : drawing ? 'drawing…' : `scale ${sheet.scale}`}
        </p>
        {failed.map((f) => (
          <p key={f} className="text-madder">
            ■ A view can’t be drawn: {f}
          </p>
        ))}
        {sheet.crowded && (
          <p className="mb-2 bg-amberwash px-2 py-1 text-amber">
            ▲ It has no room on this paper{shop.scale ? ` at ${shop.scale}` : ''}.{' '}
            {shop.scale && (
              <button type="button" className="link" onClick={() => changeShop(({ scale: _, ...s }) => s)}>
                Let the scale be found
              </button>
            )}{' '}
            {shop.paper === 'a4' || shop.paper === 'letter' ? (
              <button
                type="button"
                className="link"
                onClick={() => changeShop((s) => ({ ...s, paper: s.paper === 'a4' ? 'a3' : 'tabloid' }))}
              >
                Take larger paper
              </button>
            ) : null}
          </p>
        )}
        {sheet.lost.length > 0 && (
          <section className="mb-3 bg-amberwash px-2 py-1" aria-label="Dimensions that attach no more">
            {sheet.lost.map((l) => (
              <p key={l.id} className="text-amber">
                ▲ A dimension attaches no more: {l.why}.{' '}
                <button type="button" className="link" onClick={() => drop(l.id)}>
                  Take it off
                </button>
              </p>
            ))}
          </section>
        )}
        <PaperFields shop={shop} />
        <Views project={project} shop={shop} />
        <Recipe state={state} />
        <Between project={project} state={state} />
        <Words shop={shop} />
      </aside>
      <div className="relative min-h-0">
        <Pane called="The drawing">
          <SheetView
            sheet={sheet}
            picked={picked}
            onPick={take}
            chosen={chosen}
            onChoose={setChosen}
            onMoveDimension={(id, text, from) =>
              changeShop((s) => ({
                ...s,
                dimensions: s.dimensions.map((d) => (d.id === id ? { ...d, label: { x: text.x - from.x, y: text.y - from.y } } : d)),
              }))
            }
            onMoveView={(id, by) => {
              const old = shop.views.find((v) => v.id === id)?.moved ?? { x: 0, y: 0 };
              changeView(id, { moved: { x: old.x + by.x, y: old.y + by.y } });
            }}
          />
        </Pane>
        <div className="pointer-events-none absolute inset-x-0 top-2 flex justify-center">
          <div
            className="pointer-events-auto flex flex-wrap items-center gap-2 border border-line2 bg-panel px-3 py-1.5 text-[12px]"
            data-testid="pickbar"
          >
            {chosen ? (
              <>
                <span>Drag its figure, or use the arrow keys.</span>
                <button
                  type="button"
                  className="btn py-0!"
                  onClick={() =>
                    changeShop((s) => ({
                      ...s,
                      dimensions: s.dimensions.map((d) => (d.id === chosen ? { ...d, label: undefined } : d)),
                    }))
                  }
                >
                  Put it back in its row
                </button>
                <button type="button" className="btn py-0!" onClick={() => drop(chosen)}>
                  Take it off
                </button>
              </>
            ) : (
              <Offers state={state} project={project} picked={picked} done={() => setPicked([])} />
            )}
          </div>
        </div>
      </div>
    </main>
  );
}

const PLACE_WORDS: Readonly<Record<EdgePlace['at'], string>> = { low: 'lower end', middle: 'middle', high: 'upper end', centre: 'centre' };

/** What can be measured of what is picked. */
function Offers({ state, project, picked, done }: { state: SheetState; project: Project; picked: readonly Picked[]; done: () => void }) {
  if (picked.length === 0) return <span className="text-ink2">Click an edge, an end or a centre; then another one of the same view.</span>;
  const { view } = picked[0]!;
  const edgeOf = (p: Picked): ViewEdge | undefined => state.drawn.get(p.view)?.edges.find((e) => e.body === p.body && e.name === p.edge);
  const words = picked.map((p) => `${p.at ? `${PLACE_WORDS[p.at]} of ` : ''}${edgeWords(p.edge, project)}`).join(' and ');
  const offers: { words: string; dimension: NewDimension }[] = [];
  const [a, b] = picked.map(edgeOf);
  const on = (p: Picked) => ({ body: p.body, edge: p.edge });
  /** The place that is meant where a whole edge was picked. */
  const place = (p: Picked, e: ViewEdge | undefined): EdgePlace => ({ ...on(p), at: p.at ?? (e?.circle ? 'centre' : 'middle') });
  if (picked.length === 1 && a) {
    const p = picked[0]!;
    if (a.circle && a.circle.seen !== 'aslant' && (a.circle.seen === 'round' || a.circle.whole)) {
      offers.push({ words: 'Diameter', dimension: { kind: 'round', view, of: on(p), as: 'diameter' } });
      if (a.circle.seen === 'round') offers.push({ words: 'Radius', dimension: { kind: 'round', view, of: on(p), as: 'radius' } });
    }
    if (a.straight)
      offers.push({
        words: 'Length',
        dimension: { kind: 'between', view, a: { ...on(p), at: 'low' }, b: { ...on(p), at: 'high' }, way: 'straight' },
      });
  }
  if (picked.length === 2) {
    const [p, q] = [picked[0]!, picked[1]!];
    for (const [way, called] of [
      ['across', 'Distance across'],
      ['up', 'Distance up'],
      ['straight', 'Straight distance'],
    ] as const)
      offers.push({ words: called, dimension: { kind: 'between', view, a: place(p, a), b: place(q, b), way } });
    if (!p.at && !q.at && a?.curve.kind === 'line' && b?.curve.kind === 'line')
      offers.unshift({ words: 'Angle', dimension: { kind: 'angle', view, a: on(p), b: on(q) } });
  }
  return (
    <>
      <span className="max-w-[46ch] truncate" title={words}>
        {words}
      </span>
      {offers.map((o) => (
        <button
          key={o.words}
          type="button"
          className="btn py-0!"
          onClick={() => {
            addDimension(o.dimension);
            done();
          }}
        >
          {o.words}
        </button>
      ))}
      <button type="button" className="link" onClick={done}>
        let go
      </button>
    </>
  );
}

function Group({ title, children, open = false }: { title: string; children: ReactNode; open?: boolean }) {
  return (
    <details className="mb-3 border-t border-line pt-2" open={open}>
      <summary className="heading mb-1 cursor-pointer">{title}</summary>
      {children}
    </details>
  );
}

function Tick({ words, on, put }: { words: string; on: boolean; put: (on: boolean) => void }) {
  return (
    <label className="mb-1 flex items-center gap-2">
      <input type="checkbox" className="accent-teal" checked={on} onChange={(e) => put(e.target.checked)} />
      {words}
    </label>
  );
}

function PaperFields({ shop }: { shop: Shop }) {
  return (
    <Group title="Paper" open>
      <Pick<Paper>
        label="paper"
        value={shop.paper}
        options={(Object.keys(PAPERS) as Paper[]).map((p) => [p, PAPERS[p].words])}
        onChange={(paper) => changeShop((s) => ({ ...s, paper }))}
      />
      <Tick words="upright" on={shop.upright} put={(upright) => changeShop((s) => ({ ...s, upright }))} />
      <Pick<Scale | 'found'>
        label="scale"
        value={shop.scale ?? 'found'}
        options={[['found', 'as large as fits'], ...SCALES.map((s) => [s, s] as const)]}
        onChange={(v) => changeShop(({ scale: _, ...s }) => (v === 'found' ? s : { ...s, scale: v }))}
      />
      <Pick
        label="views stand"
        value={shop.projection}
        options={[
          ['first', 'the first-angle way'],
          ['third', 'the third-angle way'],
        ]}
        onChange={(projection) => changeShop((s) => ({ ...s, projection }))}
      />
      <Pick<ToleranceClass | 'none'>
        label="general tolerance"
        value={shop.tolerance ?? 'none'}
        options={[['none', 'none'], ...TOLERANCES.map((t) => [t, `ISO 2768-${t}, ${TOLERANCE_WORDS[t]}`] as const)]}
        onChange={(v) => changeShop(({ tolerance: _, ...s }) => (v === 'none' ? s : { ...s, tolerance: v }))}
      />
      {shop.tolerance && (
        <Tick words="written at each dimension" on={shop.limits} put={(limits) => changeShop((s) => ({ ...s, limits }))} />
      )}
    </Group>
  );
}

function Views({ project, shop }: { project: Project; shop: Shop }) {
  const { scope } = tableOf(project);
  const add = (side: ViewSide, cut?: string): void =>
    changeShop((s) => withView(s, { side, hidden: false, smooth: false, ...(cut === undefined ? {} : { cut }) }));
  return (
    <Group title="Views" open>
      <ul>
        {shop.views.map((v) => (
          <li key={v.id} className="mb-1 border-b border-line pb-1" data-testid={`view-${v.id}`}>
            <div className="flex items-center justify-between">
              <b className="font-medium">
                {v.cut === undefined ? SIDE_WORDS[v.side] : `Section, ${CUT_WORDS[v.side as keyof typeof CUT_WORDS] ?? v.side}`}
              </b>
              <span>
                {v.moved && (
                  <button type="button" className="link mr-2" onClick={() => changeView(v.id, { moved: undefined })}>
                    put back
                  </button>
                )}
                <button
                  type="button"
                  className="link"
                  onClick={() => changeShop((s) => ({ ...s, views: s.views.filter((k) => k.id !== v.id) }))}
                >
                  take off
                </button>
              </span>
            </div>
            {v.cut !== undefined && (
              <div>
                cut at{' '}
                <ValueField
                  label="Where it is cut"
                  value={v.cut}
                  check={(t) => evaluateAs(t, 'length', scope)}
                  onCommit={(cut) => changeView(v.id, { cut })}
                />{' '}
                from the origin towards the eye
              </div>
            )}
            <div className="flex flex-wrap gap-x-3 text-[12px]">
              <Tick words="hidden lines" on={v.hidden} put={(hidden) => changeView(v.id, { hidden })} />
              <Tick words="smooth edges" on={v.smooth} put={(smooth) => changeView(v.id, { smooth })} />
              {v.side !== 'corner' && (
                <span className="flex gap-3 whitespace-nowrap">
                  {(['across', 'up'] as const).map((way) => (
                    <button
                      key={way}
                      type="button"
                      className="link"
                      title="from end to end of this view"
                      onClick={() => addDimension({ kind: 'overall', view: v.id, way })}
                    >
                      {way === 'across' ? '+ width' : '+ height'}
                    </button>
                  ))}
                </span>
              )}
            </div>
          </li>
        ))}
      </ul>
      <select
        className="field w-full"
        aria-label="Add a view"
        value=""
        disabled={shop.views.length >= 12}
        onChange={(e) => {
          const [kind, side] = e.target.value.split(' ');
          if (side) add(side as ViewSide, kind === 'cut' ? (project.units === 'in' ? '0 in' : '0 mm') : undefined);
        }}
      >
        <option value="">add a view…</option>
        {SIDES.map((s) => (
          <option key={s} value={`view ${s}`}>
            {SIDE_WORDS[s]}
          </option>
        ))}
        {CUT_SIDES.map((s) => (
          <option key={s} value={`cut ${s}`}>
            Section, {CUT_WORDS[s]}
          </option>
        ))}
      </select>
    </Group>
  );
}

/** Between which lines of a view a dimension reaches. */
function reachOf(d: RecipeDimension, view: string, shop: Shop): string | undefined {
  const side = shop.views.find((v) => v.id === view)?.side;
  const m = side && recipeIn(d, VIEW_FRAMES[side]);
  if (!m) return undefined;
  if (m.kind !== 'linear') return `${view} ${JSON.stringify(m)}`;
  const along = (p: { x: number; y: number }): number => p.x * m.way.x + p.y * m.way.y;
  const ends = [along(m.a), along(m.b)].sort((a, b) => a - b).map((v) => v.toFixed(4));
  return `${view} ${Math.abs(m.way.x).toFixed(6)} ${m.sign} ${ends.join(' ')}`;
}

/** Dimensions that the recipe is driven by, each in the first view that sees it at full length. */
function Recipe({ state }: { state: SheetState }) {
  const { shop, recipe } = state;
  const list = useMemo(
    () =>
      [...recipe.values()].map((d) => {
        const view = shop.views.find((v) => v.side !== 'corner' && recipeIn(d, VIEW_FRAMES[v.side]));
        const put = shop.dimensions.find((k) => (k.kind === 'drawn' || k.kind === 'value') && recipeKey(k) === recipeKey(d.of));
        const dimension: NewDimension | null = view
          ? 'profile' in d.of
            ? { kind: 'drawn', view: view.id, ...d.of }
            : { kind: 'value', view: view.id, ...d.of }
          : null;
        return { d, put, dimension };
      }),
    [recipe, shop],
  );
  // Two that reach between the same lines say the same thing twice.
  const said = new Set(list.flatMap((l) => (l.put ? [reachOf(l.d, l.put.view, shop)] : [])));
  const open = list.flatMap((l) => {
    const reach = l.dimension && !l.put ? reachOf(l.d, l.dimension.view, shop) : undefined;
    if (reach === undefined || said.has(reach)) return [];
    said.add(reach);
    return [l.dimension!];
  });
  return (
    <Group title="Dimensions of the recipe" open>
      {list.length === 0 && <p className="text-ink2">The recipe has none that stand somewhere.</p>}
      {open.length > 0 && (
        <button type="button" className="btn mb-1" onClick={() => changeShop((s) => open.reduce(withDimension, s))}>
          Put all {open.length} on
        </button>
      )}
      {list.map(({ d, put, dimension }) => (
        <label
          key={recipeKey(d.of)}
          className={`mb-0.5 flex items-start gap-2 ${dimension || put ? '' : 'text-ink3'}`}
          title={dimension || put ? '' : 'no view sees it at full length'}
        >
          <input
            type="checkbox"
            className="mt-1 accent-teal"
            checked={put !== undefined}
            disabled={!dimension && !put}
            onChange={() =>
              put
                ? changeShop((s) => ({ ...s, dimensions: s.dimensions.filter((k) => k.id !== put.id) }))
                : dimension && addDimension(dimension)
            }
          />
          <span>{d.words}</span>
        </label>
      ))}
    </Group>
  );
}

/** The same as by picking, by lists: for those who do without a pointer. */
function Between({ project, state }: { project: Project; state: SheetState }) {
  const { shop, drawn } = state;
  const [view, setView] = useState('');
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const edges = drawn.get(view || (shop.views[0]?.id ?? ''))?.edges ?? [];
  const own = view || (shop.views[0]?.id ?? '');
  const picks = [from, to].flatMap((k): Picked[] => {
    const e = edges[Number(k)];
    return k === '' || !e ? [] : [{ view: own, body: e.body, edge: e.name, at: null }];
  });
  const none = (): void => {
    setFrom('');
    setTo('');
  };
  const options = [['', 'nothing'] as const, ...edges.map((e, i) => [String(i), edgeWords(e.name, project)] as const)];
  return (
    <Group title="Dimensions by list">
      <Pick
        label="view"
        value={own}
        options={shop.views.map((v) => [v.id, SIDE_WORDS[v.side]])}
        onChange={(v) => {
          setView(v);
          none();
        }}
      />
      <Pick label="of" value={from} options={options} onChange={setFrom} />
      <Pick label="and" value={to} options={options} onChange={setTo} />
      <div className="flex flex-wrap gap-2 text-[12px]">
        {picks.length > 0 && <Offers state={state} project={project} picked={picks} done={none} />}
      </div>
    </Group>
  );
}

function Words({ shop }: { shop: Shop }) {
  const field = (key: keyof Shop['title'], label: string) => (
    <label className="mb-1 flex items-center justify-between gap-2">
      <span className="text-ink2">{label}</span>
      <input
        className="field w-44"
        maxLength={80}
        value={shop.title[key]}
        onChange={(e) => changeShop((s) => ({ ...s, title: { ...s.title, [key]: e.target.value } }))}
      />
    </label>
  );
  return (
    <Group title="Title block and notes">
      {field('number', 'number')}
      {field('by', 'drawn by')}
      {field('date', 'date')}
      {field('finish', 'finish')}
      <label className="mb-1 block">
        <span className="text-ink2">notes, one a line</span>
        <textarea
          className="field h-20 w-full"
          maxLength={2000}
          value={shop.notes}
          onChange={(e) => changeShop((s) => ({ ...s, notes: e.target.value }))}
        />
      </label>
      <Tick words="walls, holes and cautions too" on={shop.told} put={(told) => changeShop((s) => ({ ...s, told }))} />
    </Group>
  );
}
