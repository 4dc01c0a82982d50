import { type PointerEvent as Press, useMemo, useRef, useState } from 'react';
import { distance2, type Point2 } from '../../core/curves/planar';
import { pathData } from '../../core/exchange/svg';
import type { EdgePlace } from '../../core/shop/document';
import { ontoPaper, type PlacedView, placeOn, type Sheet } from '../../core/shop/sheet';
import { nearestAlong } from '../../core/shop/sight';
import { markSvg } from '../../core/shop/write';

/** What is picked on the sheet: an edge of a view, or a place on one. */
export interface Picked {
  readonly view: string;
  readonly body: string;
  readonly edge: string;
  /** Null where the whole edge is meant. */
  readonly at: EdgePlace['at'] | null;
}

/** What is dragged, and how far so far, mm of paper. */
interface Drag {
  readonly what: { readonly dimension: string } | { readonly view: string } | 'paper';
  readonly from: Point2;
  readonly by: Point2;
}

/** How near the pointer has to come, px. */
const NEAR = 8;

interface Props {
  readonly sheet: Sheet;
  readonly picked: readonly Picked[];
  readonly onPick: (p: Picked | null, more: boolean) => void;
  readonly chosen: string | null;
  readonly onChoose: (dimension: string | null) => void;
  readonly onMoveDimension: (id: string, text: Point2, from: Point2) => void;
  readonly onMoveView: (id: string, by: Point2) => void;
}

/** The sheet as paper one works on: edges and places picked, dimensions and views dragged, the paper moved and enlarged. */
export function SheetView({ sheet, picked, onPick, chosen, onChoose, onMoveDimension, onMoveView }: Props) {
  const ref = useRef<SVGSVGElement>(null);
  const [view, setView] = useState<{ x: number; y: number; k: number }>({ x: 0, y: 0, k: 1 });
  const [near, setNear] = useState<Picked | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const ink = useMemo(() => sheet.marks.map(markSvg).join(''), [sheet]);
  const box = { x: view.x, y: view.y - sheet.height, w: sheet.width / view.k, h: sheet.height / view.k };
  /** mm of paper a px, and the place on the paper under the pointer. */
  const under = (e: { clientX: number; clientY: number }): { at: Point2; mm: number } => {
    const m = ref.current!.getScreenCTM()!.inverse();
    return { at: { x: m.a * e.clientX + m.e, y: -(m.d * e.clientY + m.f) }, mm: m.a };
  };
  const follow = (e: Press): void => {
    const { at, mm } = under(e);
    if (drag) return setDrag({ ...drag, by: { x: at.x - drag.from.x, y: at.y - drag.from.y } });
    setNear(nearestOn(sheet, at, NEAR * mm));
  };
  const end = (e: Press): void => {
    if (!drag) return;
    const { by, what } = drag;
    setDrag(null);
    const moved = Math.hypot(by.x, by.y) > 0.3;
    if (what === 'paper') {
      if (moved) return setView((v) => ({ ...v, x: v.x - by.x, y: v.y + by.y }));
      onChoose(null);
      return onPick(near, e.shiftKey);
    }
    if ('view' in what) return moved ? onMoveView(what.view, by) : undefined;
    const d = sheet.views.flatMap((v) => v.dimensions).find((k) => k.id === what.dimension);
    if (moved && d) onMoveDimension(d.id, { x: d.text.x + by.x, y: d.text.y + by.y }, d.from);
  };
  const begin = (what: Drag['what']) => (e: Press) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    ref.current!.setPointerCapture(e.pointerId);
    setDrag({ what, from: under(e).at, by: { x: 0, y: 0 } });
  };
  const shift = drag && drag.what !== 'paper' ? `translate(${drag.by.x} ${-drag.by.y})` : undefined;
  return (
    <svg
      ref={ref}
      role="application"
      aria-label="The drawing"
      data-testid="sheet"
      className="h-full w-full cursor-crosshair bg-line2 outline-none"
      viewBox={`${box.x} ${box.y} ${box.w} ${box.h}`}
      onPointerMove={follow}
      onPointerDown={begin('paper')}
      onPointerUp={end}
      onPointerLeave={() => setNear(null)}
      onWheel={(e) => {
        const { at } = under(e);
        const k = Math.min(12, Math.max(0.6, view.k * Math.exp(-e.deltaY / 500)));
        // What is under the pointer stays there.
        const f = view.k / k;
        setView({ k, x: at.x - (at.x - view.x) * f, y: -at.y + sheet.height - (-at.y + sheet.height - view.y) * f });
      }}
      onDoubleClick={() => setView({ x: 0, y: 0, k: 1 })}
    >
      <rect x={0} y={-sheet.height} width={sheet.width} height={sheet.height} fill="#fff" />
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: made here, with all text escaped */}
      <g fill="none" stroke="#000" strokeLinejoin="round" className="select-none font-sans" dangerouslySetInnerHTML={{ __html: ink }} />
      {sheet.views.map((v) => (
        <g
          key={v.view.id}
          transform={drag && drag.what !== 'paper' && 'view' in drag.what && drag.what.view === v.view.id ? shift : undefined}
        >
          <rect
            x={v.box.x0 - 3}
            y={-v.box.y1 - 7.5}
            width={4}
            height={4}
            className="cursor-move fill-[#0a6a66]"
            opacity={0.5}
            data-testid={`grip-${v.view.id}`}
            onPointerDown={begin({ view: v.view.id })}
          >
            <title>Drag to move this view</title>
          </rect>
          {drag && drag.what !== 'paper' && 'view' in drag.what && drag.what.view === v.view.id && (
            <rect
              x={v.box.x0}
              y={-v.box.y1}
              width={v.box.x1 - v.box.x0}
              height={v.box.y1 - v.box.y0}
              fill="none"
              stroke="#0a6a66"
              strokeWidth={0.3}
            />
          )}
          {v.dimensions.map((d) => (
            <g
              key={d.id}
              transform={drag && drag.what !== 'paper' && 'dimension' in drag.what && drag.what.dimension === d.id ? shift : undefined}
            >
              <rect
                role="button"
                tabIndex={0}
                aria-label={`Dimension ${d.words}`}
                data-testid={`dimension-${d.id}`}
                x={d.text.x - d.words.length * 0.9 - 1}
                y={-d.text.y - 4}
                width={d.words.length * 1.8 + 2}
                height={5}
                fill="#0a6a66"
                fillOpacity={chosen === d.id ? 0.25 : 0}
                className="cursor-move outline-none hover:[fill-opacity:0.15] focus:[fill-opacity:0.25]"
                onFocus={() => onChoose(d.id)}
                onPointerDown={(e) => {
                  onChoose(d.id);
                  begin({ dimension: d.id })(e);
                }}
                onKeyDown={(e) => {
                  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
                  if (!way) return;
                  e.preventDefault();
                  onMoveDimension(d.id, { x: d.text.x + way[0]!, y: d.text.y + way[1]! }, d.from);
                }}
              />
            </g>
          ))}
        </g>
      ))}
      {picked.map((p) => (
        <PickedMark key={`${p.view} ${p.body} ${p.edge} ${p.at}`} sheet={sheet} p={p} soft={false} />
      ))}
      {near && <PickedMark sheet={sheet} p={near} soft />}
    </svg>
  );
}

const viewOf = (sheet: Sheet, id: string): PlacedView | undefined => sheet.views.find((v) => v.view.id === id);
const put = (v: PlacedView, p: Point2): Point2 => ({ x: v.origin.x + p.x * v.scale, y: v.origin.y + p.y * v.scale });

function PickedMark({ sheet, p, soft }: { sheet: Sheet; p: Picked; soft: boolean }) {
  const v = viewOf(sheet, p.view);
  const edge = v?.drawn.edges.find((e) => e.body === p.body && e.name === p.edge);
  if (!v || !edge) return null;
  const at = p.at && placeOn(edge, p.at);
  const look = { stroke: '#b06a00', strokeWidth: soft ? 0.7 : 1, fill: 'none', pointerEvents: 'none' as const, opacity: soft ? 0.6 : 1 };
  if (at) {
    const q = put(v, at);
    return <circle cx={q.x} cy={-q.y} r={1.4} {...look} />;
  }
  return <path d={pathData(ontoPaper(edge.curve, v.origin, v.scale))} {...look} />;
}

/** The nearest place of an edge, or else the nearest edge, within some mm of paper. */
function nearestOn(sheet: Sheet, at: Point2, within: number): Picked | null {
  let best: Picked | null = null;
  let least = within;
  for (const v of sheet.views) {
    if (at.x < v.box.x0 - within || at.x > v.box.x1 + within || at.y < v.box.y0 - within || at.y > v.box.y1 + within) continue;
    const own = { x: (at.x - v.origin.x) / v.scale, y: (at.y - v.origin.y) / v.scale };
    const bare = (e: (typeof v.drawn.edges)[number]) => ({ view: v.view.id, body: e.body, edge: e.name });
    for (const e of v.drawn.edges) {
      const places = e.circle?.whole ? (['centre'] as const) : (['low', 'middle', 'high', 'centre'] as const);
      for (const k of places) {
        const q = placeOn(e, k);
        // Places win over the edges they lie on.
        const d = q ? distance2(q, own) * v.scale * 0.6 : Infinity;
        if (d < least) [least, best] = [d, { ...bare(e), at: k }];
      }
      const d = nearestAlong(e.curve, own).distance * v.scale;
      if (d < least) [least, best] = [d, { ...bare(e), at: null }];
    }
  }
  return best;
}
