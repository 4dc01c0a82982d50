/** Sheets as SVG and DXF, of true lines, 1:1 in mm of paper. */
import { DxfWriter, LWPolylineFlags, point2d, point3d, TextHorizontalAlignment, Units } from '@tarikjabiri/dxf';
import { addCurve } from '../exchange/dxf';
import { xmlText } from '../exchange/encode';
import { pathData } from '../exchange/svg';
import { degrees } from '../units/units';
import { type Mark, PENS, type Pen } from './marks';
import type { Sheet } from './sheet';

const n4 = (v: number): string => String(Number(v.toFixed(4)));

/** The family that sheets are lettered in, and what stands in for it. */
const FAMILY = "'Hanken Grotesk Variable','Hanken Grotesk',Arial,sans-serif";

/** A mark as SVG, y downwards from the paper's lower edge. */
export function markSvg(m: Mark): string {
  switch (m.kind) {
    case 'curve': {
      const { width, dash } = PENS[m.pen];
      return `<path d="${pathData(m.curve)}" stroke-width="${width}"${dash ? ` stroke-dasharray="${dash.join(' ')}"` : ''}/>`;
    }
    case 'fill':
      return `<path d="M${m.points.map((p) => `${n4(p.x)} ${n4(-p.y)}`).join('L')}Z" fill="#000" stroke="none"/>`;
    case 'text': {
      const [x, y] = [n4(m.at.x), n4(-m.at.y)];
      const turn = m.turn ? ` transform="rotate(${n4(-degrees(m.turn))} ${x} ${y})"` : '';
      return `<text x="${x}" y="${y}" font-size="${m.size}" text-anchor="${m.anchor}" fill="#000" stroke="none"${m.bold ? ' font-weight="600"' : ''}${turn}>${xmlText(m.text)}</text>`;
    }
  }
}

export function sheetSvg(sheet: Sheet, title: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${n4(sheet.width)}mm" height="${n4(sheet.height)}mm" viewBox="0 ${n4(-sheet.height)} ${n4(sheet.width)} ${n4(sheet.height)}">
 <title>${xmlText(title)}</title>
 <g fill="none" stroke="#000" stroke-linejoin="round" font-family="${FAMILY}">
  ${sheet.marks.map(markSvg).join('\n  ')}
 </g>
</svg>
`;
}

/** A layer a pen, with its width in hundredths of a mm. */
const LAYERS: Readonly<Record<Pen, string>> = {
  visible: 'VISIBLE',
  smooth: 'TANGENT',
  hidden: 'HIDDEN',
  hatch: 'HATCH',
  dimension: 'DIMENSIONS',
  centre: 'CENTRE',
  plane: 'CUTTING-PLANE',
  frame: 'FRAME',
  thin: 'TITLE',
};
const TEXT_LAYER = 'TEXT';

export function sheetDxf(sheet: Sheet): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  dxf.addLType('DASHED', '_ _ _', [2.4, -1]);
  dxf.addLType('CENTER', '____ _ ____', [6, -1.2, 0.6, -1.2]);
  for (const pen of Object.keys(LAYERS) as Pen[]) {
    const { dash } = PENS[pen];
    dxf.addLayer(LAYERS[pen], 7, !dash ? 'Continuous' : dash.length === 2 ? 'DASHED' : 'CENTER');
  }
  dxf.addLayer(TEXT_LAYER, 7, 'Continuous');
  for (const m of sheet.marks) {
    if (m.kind === 'curve') addCurve(dxf, m.curve, LAYERS[m.pen]);
    else if (m.kind === 'fill')
      dxf.addLWPolyline(
        m.points.map((p) => ({ point: point2d(p.x, p.y) })),
        { flags: LWPolylineFlags.Closed, layerName: LAYERS.dimension },
      );
    else {
      const at = point3d(m.at.x, m.at.y);
      const how = { start: TextHorizontalAlignment.Left, middle: TextHorizontalAlignment.Center, end: TextHorizontalAlignment.Right }[
        m.anchor
      ];
      // The diameter and degree signs have codes of their own in this format.
      const text = m.text.replaceAll('⌀', '%%c').replaceAll('°', '%%d').replaceAll('±', '%%p');
      dxf.addText(at, m.size * 0.72, text, {
        rotation: degrees(m.turn ?? 0),
        horizontalAlignment: how,
        secondAlignmentPoint: at,
        layerName: TEXT_LAYER,
      });
    }
  }
  return dxf.stringify();
}
