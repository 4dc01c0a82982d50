/** A sheet to measure parts by: where each place is on the body, and room for what it reads. */
import { xmlText } from '../exchange/encode';
import { along, triple } from '../geometry/vectors';
import type { MeasureReading } from '../inspect/measured';
import type { Project } from '../recipe/schema';
import { emptyShop, type Shop, type ShopDimension } from '../shop/document';
import { composeSheet, type DrawnView, type RecipeDimension, recipeIn, recipeKey, type Sheet } from '../shop/sheet';
import { VIEW_FRAMES, type ViewSide } from '../shop/views';
import { scaleIn } from '../units/units';
import type { Made, Place } from './document';
import { shownOf } from './places';
import type { PlaceRow } from './table';

/** Views that a place is looked for in, in this order. */
const MEASURING_SIDES = ['front', 'top', 'right'] as const satisfies readonly ViewSide[];

/** Gauges that go from end to end of a view. */
const OVERALL: Readonly<Record<string, { readonly side: (typeof MEASURING_SIDES)[number]; readonly way: 'across' | 'up' } | undefined>> = {
  height: { side: 'front', way: 'up' },
  width: { side: 'front', way: 'across' },
  diameter: { side: 'front', way: 'across' },
  depth: { side: 'right', way: 'across' },
};

const viewOf = (side: ViewSide): string => `v_${side}`;

/** Two places of a measurement as a dimension in space. */
function inSpace(place: Place, m: MeasureReading, nominal: number): RecipeDimension | null {
  const ends = m.centres && Math.abs(m.centres.value - nominal) < 1e-6 ? m.centres : m.distance;
  if (!ends || !(ends.value > 1e-6)) return null;
  const way = triple((k) => (ends.to[k]! - ends.from[k]!) / ends.value);
  return {
    words: place.name,
    of: { step: place.id, value: 'place' },
    value: ends.value,
    sign: '',
    a: ends.from,
    b: along(ends.from, way, ends.value),
    way,
  };
}

/** Where each place stands on the sheet. */
export interface PlacesDrawn {
  readonly recipe: ReadonlyMap<string, RecipeDimension>;
  /** Numbers as in the table, by the places. */
  readonly called: ReadonlyMap<string, string>;
  readonly dimensions: readonly ShopDimension[];
  /** Views that it takes. */
  readonly sides: readonly (typeof MEASURING_SIDES)[number][];
}

/** Every place that can be drawn, in a view that shows it at full length. @param measured what measurements read on the model */
export function placesDrawn(rows: readonly PlaceRow[], measured: (id: string) => MeasureReading | undefined): PlacesDrawn {
  const recipe = new Map<string, RecipeDimension>();
  const called = new Map<string, string>();
  const dimensions: ShopDimension[] = [];
  rows.forEach(({ place, nominal }, i) => {
    const { of } = place;
    const overall = of.kind === 'gauge' ? OVERALL[of.gauge] : undefined;
    const read = of.kind === 'measure' && nominal !== null ? measured(of.measure) : undefined;
    const dimension = read && inSpace(place, read, nominal!);
    const side = overall?.side ?? (dimension && MEASURING_SIDES.find((s) => recipeIn(dimension, VIEW_FRAMES[s])));
    if (!side) return;
    if (dimension) recipe.set(recipeKey(dimension.of), dimension);
    called.set(place.id, `(${i + 1})`);
    dimensions.push(
      overall
        ? { kind: 'overall', id: place.id, view: viewOf(side), way: overall.way }
        : { kind: 'value', id: place.id, view: viewOf(side), step: place.id, value: 'place' },
    );
  });
  const sides = MEASURING_SIDES.filter((s) => s === 'front' || dimensions.some((d) => d.view === viewOf(s)));
  return { recipe, called, dimensions, sides };
}

/** The views with their places drawn in, numbered as in the table. @param drawn views of the body by their sides */
export function placesSheet(
  project: Project,
  { recipe, called, dimensions, sides }: PlacesDrawn,
  drawn: ReadonlyMap<ViewSide, DrawnView>,
  date: string,
): Sheet {
  const shop: Shop = {
    ...emptyShop(project.units, date),
    paper: project.units === 'in' ? 'letter' : 'a4',
    views: sides.map((side) => ({ id: viewOf(side), side, hidden: false, smooth: false })),
    dimensions: [...dimensions],
    tolerance: undefined,
    told: false,
  };
  const views = new Map(sides.flatMap((side) => (drawn.has(side) ? [[viewOf(side), drawn.get(side)!] as const] : [])));
  return composeSheet(shop, views, recipe, new Map(), {
    name: `${project.name}, to measure by`,
    client: project.client,
    material: '',
    notes: [],
    units: project.units,
    called,
  });
}

const STYLE = `@page{size:SIZE landscape;margin:0}
body{margin:0;font:10pt/1.35 'Hanken Grotesk Variable','Hanken Grotesk',system-ui,sans-serif;color:#182126}
svg{display:block;width:100%;height:auto;page-break-after:always}
main{padding:12mm}h1{font-size:14pt;margin:0 0 2mm}p{margin:0 0 2mm}
table{border-collapse:collapse;width:100%}th,td{border:0.3mm solid #7b868d;padding:1.5mm 2mm;text-align:left;vertical-align:top}
td.n,th.n{text-align:right;white-space:nowrap}td.e{min-width:16mm;height:8mm}tr{page-break-inside:avoid}`;

/** Pieces that a sheet has room for where none are named yet. */
const ROOM = 5;

/** The page that is printed: the drawing, then the table. @param pieces names of those that are to be measured */
export function measuringPage(project: Project, made: Made, rows: readonly PlaceRow[], drawing: string, pieces: readonly string[]): string {
  const named = pieces.length > 0 ? pieces : Array.from({ length: ROOM }, (_, i) => String(i + 1));
  const head = ['', 'place', 'should be', 'from', 'to', 'with']
    .map((h, i) => `<th${i > 1 && i < 5 ? ' class="n"' : ''}>${h}</th>`)
    .join('');
  const body = rows
    .map(({ place, nominal, limits, quantity }, i) => {
      const show = (v: number | null): string => (v === null ? '' : shownOf(v, quantity, project));
      const cells = [
        `<td>${i + 1}</td><td>${xmlText(place.name)}</td>`,
        `<td class="n">${show(nominal)} ${scaleIn(quantity, project.units).unit}</td>`,
        `<td class="n">${show(limits.low)}</td><td class="n">${show(limits.high)}</td>`,
        `<td>${xmlText(made.devices[quantity].name)}</td>`,
        named.map(() => '<td class="e"></td>').join(''),
      ];
      return `<tr>${cells.join('')}</tr>`;
    })
    .join('\n');
  const title = xmlText(`${project.name}, to measure by`);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${title}</title><style>${STYLE.replace('SIZE', project.units === 'in' ? 'letter' : 'A4')}</style></head><body>
${drawing.replace(/^<\?xml[^>]*\?>\s*/, '')}
<main><h1>${title}</h1>
<p>made on ____________ &nbsp; measured on ____________ &nbsp; by ________________________ &nbsp; at ______ °C</p>
<table><thead><tr>${head}${named.map((p) => `<th>${xmlText(p)}</th>`).join('')}</tr></thead><tbody>
${body}
</tbody></table></main></body></html>`;
}
