/** All that was measured of a body as one printable page, and as plain numbers: mm, mm², mm³ and degrees. */

import { cautionsFor } from '../core/brief/cautions';
import { type GaugeReading, showReading } from '../core/brief/gauges';
import { xmlText } from '../core/exchange/encode';
import { joinClass, nearlySmooth } from '../core/inspect/joins';
import { measurementWords, readingWords } from '../core/recipe/measure-words';
import type { Project } from '../core/recipe/schema';
import { bodyWords, edgeWords, faceWords } from '../core/recipe/words';
import { degrees, fixed } from '../core/units/units';
import type { Answer } from './inspect';

type Plain = string | number | boolean | null | readonly Plain[] | { readonly [key: string]: Plain };

/** The numbers of an answer, as files hold them. @param faces names of the body's faces */
function numbersOf(answer: Answer, faces: readonly string[]): Plain {
  const face = (i: number): string => faces[i] ?? '';
  const at = (p: readonly number[]): Plain => [...p];
  switch (answer.what) {
    case 'walls': {
      const place = (p: (typeof answer.thinnest)[0]) => ({ wall: p.thickness, face: face(p.face), at: at(p.at) });
      return {
        limit: answer.limit,
        below: answer.below,
        thinnest: answer.thinnest.map(place),
        thickest: answer.thickest.map(place),
        knifeEdges: answer.knives.map((k) => ({ edge: k.edge, angle: k.angle, at: at(k.at) })),
      };
    }
    case 'sections':
      return {
        along: answer.way.by === 'axis' ? answer.way.axis : answer.way.by,
        rows: answer.rows.map(({ place, area, perimeter, least, most, mean }) => ({ place, area, perimeter, least, most, mean })),
      };
    case 'curvature': {
      const place = (t: (typeof answer.convex)[0]) => ({ radius: t.radius, face: face(t.face), at: at(t.at) });
      return { convex: answer.convex.map(place), concave: answer.concave.map(place) };
    }
    case 'joins':
      return answer.joins.map((j) => ({
        edge: j.edge,
        class: joinClass(j),
        length: j.length,
        gap: j.gap,
        angle: degrees(j.angle),
        bend: j.bend,
        mismatch: j.mismatch,
      }));
    case 'combs':
      return answer.curves.map((c) => ({
        edge: c.edge,
        length: c.length,
        tightest: c.tightest ? { radius: c.tightest.radius, at: at(c.tightest.at) } : null,
        inflections: c.inflections,
      }));
    case 'reflection':
      return {};
    case 'label':
      return {
        limit: answer.limit,
        zones: answer.zones.map((z) => ({
          faces: z.faces.map(face),
          area: z.area,
          width: z.width,
          height: z.height,
          label: { ...z.label },
          around: z.around,
          strain: z.strain,
          saddle: z.saddle,
          at: at(z.at),
        })),
        saddles: answer.saddles.map((z) => ({ area: z.area, gaussian: z.gaussian, at: at(z.at) })),
      };
    case 'measure':
      return answer.list.map(
        (m): Plain =>
          'why' in m
            ? { id: m.id, lost: m.why }
            : {
                id: m.id,
                distance: m.distance?.value ?? null,
                angle: m.angle === null ? null : degrees(m.angle),
                centres: m.centres?.value ?? null,
                radius: m.a.radius,
                length: m.a.length,
                area: m.a.area,
              },
      );
    case 'draft':
      return {
        limit: degrees(answer.limit),
        below: answer.below,
        undercut: answer.undercutArea,
        sideActions: answer.sideActions,
        faces: answer.faces.map((f) => ({ face: face(f.face), area: f.area, least: degrees(f.least) })),
      };
    case 'overhang':
      return {
        limit: degrees(answer.limit),
        area: answer.area,
        contact: answer.contact,
        bridges: answer.bridges.map((b) => ({ area: b.area, span: b.span, at: at(b.at) })),
        islands: answer.islands.map((i) => ({ height: i.height, at: at(i.at) })),
      };
    case 'deviation':
      return {
        from: answer.from,
        tolerance: answer.tolerance,
        mean: answer.mean,
        rms: answer.rms,
        within: answer.within,
        compared: answer.compared,
        over: answer.over.map((p) => ({ value: p.value, at: at(p.at) })),
        under: answer.under.map((p) => ({ value: p.value, at: at(p.at) })),
      };
    case 'holds':
      return {
        brim: answer.vessel?.brim ?? null,
        floor: answer.vessel?.floor ?? null,
        capacity: answer.vessel?.toBrim ?? null,
        rows: answer.vessel?.rows.map(({ height, volume }) => ({ height, volume })) ?? [],
        foot: answer.foot,
        tippingEmpty: degrees(answer.empty.tipping),
        tippingFull: answer.full ? degrees(answer.full.tipping) : null,
      };
  }
}

/** Everything of a report under the questions' names. */
export const allNumbers = (answers: readonly Answer[], faces: readonly string[]): Record<string, Plain> =>
  Object.fromEntries(answers.map((a) => [a.what, numbersOf(a, faces)]));

/** One line a number, with its path; what a spreadsheet reads. */
export function numbersCsv(numbers: Plain): string {
  const lines = ['what,value'];
  const walk = (path: string, v: Plain): void => {
    if (v !== null && typeof v === 'object') for (const [k, x] of Object.entries(v)) walk(path === '' ? k : `${path}.${k}`, x as Plain);
    else lines.push(`"${path.replaceAll('"', '""')}",${typeof v === 'string' ? `"${v.replaceAll('"', '""')}"` : (v ?? '')}`);
  };
  walk('', numbers);
  return `${lines.join('\n')}\n`;
}

const rows = (list: readonly (readonly (string | number)[])[]): string =>
  list.map((r) => `<tr>${r.map((c, i) => `<td${i > 0 ? ' class="n"' : ''}>${xmlText(String(c))}</td>`).join('')}</tr>`).join('\n');
const table = (head: readonly string[], body: readonly (readonly (string | number)[])[]): string =>
  body.length === 0
    ? '<p class="none">None.</p>'
    : `<table><thead><tr>${head.map((h, i) => `<th${i > 0 ? ' class="n"' : ''}>${xmlText(h)}</th>`).join('')}</tr></thead><tbody>${rows(body)}</tbody></table>`;

/** A line over two axes as a drawing inside the page. */
function chart(title: string, x: string, y: string, points: readonly (readonly [number, number])[], limit: number | null): string {
  if (points.length < 2) return '';
  const [w, h, l, b] = [520, 220, 46, 34];
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [x1, y0, y1] = [Math.max(...xs, limit ?? 0) * 1.08 || 1, Math.min(...ys), Math.max(...ys)];
  const px = (v: number): string => (l + ((w - l - 10) * v) / x1).toFixed(1);
  const py = (v: number): string => (h - b - ((h - b - 8) * (v - y0)) / (y1 - y0 || 1)).toFixed(1);
  const tick = (v: number): string => String(Number(v.toPrecision(3)));
  return `<figure><figcaption>${xmlText(title)}</figcaption><svg viewBox="0 0 ${w} ${h}" role="img" aria-label="${xmlText(title)}">
<line x1="${l}" y1="${h - b}" x2="${w - 10}" y2="${h - b}" class="axis"/><line x1="${l}" y1="8" x2="${l}" y2="${h - b}" class="axis"/>
${[0, 0.5, 1].map((s) => `<text x="${px(s * x1)}" y="${h - b + 13}" text-anchor="middle">${tick(s * x1)}</text><text x="${l - 5}" y="${py(y0 + s * (y1 - y0))}" text-anchor="end">${tick(y0 + s * (y1 - y0))}</text>`).join('')}
${limit === null ? '' : `<line x1="${px(limit)}" y1="8" x2="${px(limit)}" y2="${h - b}" class="limit"/>`}
<polyline points="${points.map(([a, c]) => `${px(a)},${py(c)}`).join(' ')}" class="line"/>
<text x="${w / 2}" y="${h - 4}" text-anchor="middle">${xmlText(x)}</text><text transform="translate(11 ${h / 2}) rotate(-90)" text-anchor="middle">${xmlText(y)}</text></svg></figure>`;
}

const STYLE = `@page{margin:16mm}body{font:10.5pt/1.4 'Hanken Grotesk',system-ui,sans-serif;color:#182126;max-width:190mm;margin:12mm auto}
h1{font-size:17pt;margin:0}h2{font-size:12.5pt;margin:7mm 0 2mm;border-bottom:1px solid #c3c7c3;break-after:avoid}
table{border-collapse:collapse;width:100%;font-size:9.5pt}td,th{border-bottom:1px solid #d7d9d5;padding:1mm 2mm 1mm 0;text-align:left;vertical-align:top}
.n{text-align:right;font-family:'Red Hat Mono',monospace;white-space:nowrap}tr{break-inside:avoid}.none,small{color:#4b575f}
figure{margin:2mm 0;break-inside:avoid}figcaption{font-size:9.5pt;color:#4b575f}svg{width:100%;max-width:150mm}
svg text{font:9px sans-serif;fill:#4b575f}.axis{stroke:#c3c7c3}.line{fill:none;stroke:#0a6a66;stroke-width:1.6}.limit{stroke:#a1263a;stroke-dasharray:4 3}
img{max-width:100%;max-height:90mm;display:block;margin:3mm 0}li{margin-bottom:1mm}`;

/** The printable page. @param picture of the stage, as a data address; @param made when, in words */
export function reportHtml(
  project: Project,
  id: string,
  gauges: readonly GaugeReading[],
  answers: readonly Answer[],
  faces: readonly string[],
  made: string,
  picture: string | null,
): string {
  const body = bodyWords(id, project);
  const face = (i: number): string => (faces[i] ? faceWords(faces[i], project) : 'a face');
  const find = <W extends Answer['what']>(what: W): Extract<Answer, { what: W }> | undefined =>
    answers.find((a): a is Extract<Answer, { what: W }> => a.what === what);
  const [walls, sections, curvature, combs, joins, label, draft, overhang, measured, deviation, holds] = [
    find('walls'),
    find('sections'),
    find('curvature'),
    find('combs'),
    find('joins'),
    find('label'),
    find('draft'),
    find('overhang'),
    find('measure'),
    find('deviation'),
    find('holds'),
  ];
  const mm = (v: number | null, digits = 2): string => (v === null ? '–' : `${fixed(v, digits)} mm`);
  const cm2 = (v: number): string => `${fixed(v / 100, 2)} cm²`;
  const mark = { pass: '● ', warn: '▲ ', fail: '■ ', unknown: '' } as const;
  const parts = [
    `<h1>${xmlText(project.name)}</h1><p>${xmlText(body)}${project.client ? ` · ${xmlText(project.client)}` : ''} · ${xmlText(made)}</p>`,
    picture ? `<img alt="${xmlText(body)} as it was looked at" src="${picture}">` : '',
    `<h2>Against the brief</h2>${table(
      ['Gauge', 'Reading', 'Target', 'Verdict'],
      gauges.map((g) => {
        const shown = showReading(g.value, g.unit, g.digits, project.units);
        return [g.label, `${shown.text} ${shown.unit}`, g.target, g.target === '–' ? '' : `${mark[g.verdict]}${g.words}`];
      }),
    )}`,
    walls
      ? `<h2>Walls</h2>${table(
          ['Thinnest places', 'wall', 'at'],
          walls.thinnest.map((p) => [face(p.face), mm(p.thickness, 3), p.at.map((c) => fixed(c, 1)).join(', ')]),
        )}${walls.below !== null && walls.limit !== null ? `<p>Thinner than ${mm(walls.limit)} by over ${mm(walls.tolerance)}: ${cm2(walls.below)}</p>` : ''}${
          walls.knives.length > 0
            ? table(
                ['Knife edges', 'angle'],
                walls.knives.map((k) => [edgeWords(k.edge, project), `${fixed(k.angle, 0)}°`]),
              )
            : ''
        }`
      : '',
    sections
      ? chart(
          'Least wall by height',
          'wall, mm',
          'height, mm',
          sections.rows.flatMap((r) => (r.least === null ? [] : [[r.least, r.place] as const])),
          walls?.limit ?? null,
        )
      : '',
    curvature
      ? `<h2>Radii</h2>${table(
          ['Inside, tightest first', 'radius'],
          curvature.concave.slice(0, 6).map((t) => [face(t.face), mm(t.radius)]),
        )}${table(
          ['Outside, tightest first', 'radius'],
          curvature.convex.slice(0, 6).map((t) => [face(t.face), mm(t.radius)]),
        )}`
      : '',
    combs && combs.curves.length > 0
      ? `<h2>The section through the middle</h2>${table(
          ['Outline', 'length', 'tightest radius', 'changes of side'],
          combs.curves.map((c, i) => [
            c.face >= 0 ? face(c.face) : `outline ${i + 1}`,
            mm(c.length, 1),
            c.tightest ? mm(c.tightest.radius) : 'straight',
            `${c.inflections}`,
          ]),
        )}`
      : '',
    joins
      ? `<h2>Joins</h2>${table(
          ['Edge', 'angle', 'Δκ, 1/mm', 'gap, mm', 'class'],
          joins.joins.map((j) => [
            edgeWords(j.edge, project).replace(/^edge between /, ''),
            `${fixed(degrees(j.angle), 2)}°`,
            j.bend.toPrecision(2),
            j.gap.toExponential(1),
            `${nearlySmooth(j) ? '▲ ' : ''}${joinClass(j)}`,
          ]),
        )}`
      : '',
    label && label.zones.length > 0
      ? `<h2>Where a flat label lies</h2>${table(
          ['Zone', 'laid flat', 'largest upright label', 'strain at its border'],
          label.zones.map((z) => [
            `${z.saddle ? '▲ like a saddle: ' : ''}${z.faces.map(face).join(', ')}${z.around ? ', all round' : ''}`,
            `${fixed(z.width, 1)} × ${mm(z.height, 1)}`,
            `${fixed(z.label.width, 0)} × ${mm(z.label.height, 0)}`,
            `${fixed(100 * z.strain, 2)} %`,
          ]),
        )}`
      : '',
    draft
      ? `<h2>Draft, pulled upwards</h2><p>Less than ${fixed(degrees(draft.limit), 1)}°: ${cm2(draft.below)}. Undercut: ${cm2(draft.undercutArea)}${
          draft.sideActions > 0 ? `, ${draft.sideActions} side actions or cores` : ''
        }.</p>`
      : '',
    overhang
      ? `<h2>Overhang, built upwards</h2><p>Leans more than ${fixed(degrees(overhang.limit), 0)}°: ${cm2(overhang.area)}. On the bed: ${cm2(overhang.contact)}. Begin in the air: ${overhang.islands.length}.</p>${
          overhang.bridges.length > 0
            ? table(
                ['Bridges', 'span', 'area'],
                overhang.bridges.slice(0, 6).map((b, i) => [`${i + 1}`, mm(b.span, 1), cm2(b.area)]),
              )
            : ''
        }`
      : '',
    measured && measured.list.length > 0
      ? `<h2>Measured</h2>${table(
          ['From, to', 'reading'],
          measured.list.map((m, i) => {
            const taken = project.measures?.[i];
            return [taken ? measurementWords(taken, project) : '', 'why' in m ? m.why : readingWords(m, project.units).join(' · ')];
          }),
        )}`
      : '',
    deviation?.from
      ? `<h2>Distance from ${xmlText(bodyWords(deviation.from, project))}</h2><p>Within ${mm(deviation.tolerance)}: ${fixed(100 * deviation.within, 1)} % of what can be compared (${fixed(100 * deviation.compared, 0)} % of it). Mean ${mm(deviation.mean, 3)}, root of the mean square ${mm(deviation.rms, 3)}; outside by at most ${mm(deviation.over[0]?.value ?? 0, 2)}, inside by at most ${mm(-(deviation.under[0]?.value ?? 0), 2)}.</p>`
      : '',
    holds
      ? `<h2>Holds and stands</h2><p>${holds.vessel ? `To the brim ${fixed(holds.vessel.toBrim / 1e6, 4)} L, ${mm(holds.vessel.brim - holds.vessel.floor)} deep.` : 'It holds nothing.'} Tips at ${fixed(degrees(holds.empty.tipping), 1)}° empty${holds.full ? `, ${fixed(degrees(holds.full.tipping), 1)}° full of water` : ''}.</p>${
          holds.vessel
            ? chart(
                'Capacity by fill height',
                'capacity, L',
                'height, mm',
                [[0, 0], ...holds.vessel.rows.map((r) => [r.volume / 1e6, r.height] as const)],
                null,
              )
            : ''
        }`
      : '',
    `<h2>Cautions</h2><ul>${[...cautionsFor(project.brief), 'The program helps with shape; it certifies nothing.'].map((c) => `<li>${xmlText(c)}</li>`).join('')}</ul>`,
    '<small>Limits of classes, draft and overhang are common practice, no source. Readings of places are measured on a mesh and the decisive ones again on the exact surfaces.</small>',
  ];
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${xmlText(project.name)}: inspection</title><style>${STYLE}</style></head><body>${parts.join('\n')}</body></html>`;
}
