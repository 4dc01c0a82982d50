/** Sheets as PDF: one page, its lines as vectors and its fonts embedded. */
import * as ops from 'pdf-lib';
import { PDFDocument, type PDFFont, type PDFPage } from 'pdf-lib';
import { elevated, evaluateBSpline } from '../curves/bspline';
import { derivatives, type PlanarCurve, type Point2 } from '../curves/planar';
import { bezierPieces } from '../exchange/drawing';
import { degrees } from '../units/units';
import { type Mark, PENS } from './marks';
import type { Sheet } from './sheet';

/** Points of 1/72 in a mm. */
const PT = 72 / 25.4;

/** Font files for lettering: each holds other letters; the first that has one is used. */
export interface SheetFonts {
  readonly plain: readonly Uint8Array[];
  readonly bold: readonly Uint8Array[];
}

/**
 * The sheet as one page of PDF, its lines as vectors and its fonts embedded.
 * @returns the file, and letters that none of the fonts has: a question mark stands for them
 */
export async function sheetPdf(
  sheet: Sheet,
  title: string,
  fonts: SheetFonts,
): Promise<{ readonly bytes: Uint8Array; readonly missing: string }> {
  const { default: fontkit } = await import('@pdf-lib/fontkit');
  const doc = await PDFDocument.create();
  doc.registerFontkit(fontkit);
  doc.setTitle(title);
  doc.setProducer('Ivory Lathe');
  doc.setCreator('Ivory Lathe');
  const page = doc.addPage([sheet.width * PT, sheet.height * PT]);
  const open = async (files: readonly Uint8Array[]): Promise<{ font: PDFFont; has: Set<number> }[]> =>
    Promise.all(
      files.map(async (f) => {
        const font = await doc.embedFont(f, { subset: true });
        return { font, has: new Set(font.getCharacterSet()) };
      }),
    );
  const [plain, bold] = [await open(fonts.plain), await open(fonts.bold)];
  const missing = new Set<string>();
  for (const m of sheet.marks) {
    if (m.kind === 'text') writeText(page, m, m.bold ? bold : plain, missing);
    else if (m.kind === 'fill') {
      const [first, ...rest] = m.points.map(onPage);
      page.pushOperators(ops.moveTo(...first!), ...rest.map((p) => ops.lineTo(...p)), ops.closePath(), ops.fill());
    } else {
      const { width, dash } = PENS[m.pen];
      page.pushOperators(
        ops.pushGraphicsState(),
        ops.setLineWidth(width * PT),
        ops.setLineJoin(ops.LineJoinStyle.Round),
        ops.setDashPattern(
          (dash ?? []).map((d) => d * PT),
          0,
        ),
        ...curveOperators(m.curve),
        ops.stroke(),
        ops.popGraphicsState(),
      );
    }
  }
  return { bytes: await doc.save(), missing: [...missing].join('') };
}

const onPage = (p: Point2): [number, number] => [p.x * PT, p.y * PT];

/** Lines and cubics along a curve: conics as cubics of a sixth of a turn at most, 1e-5 of their radius off. */
function curveOperators(c: PlanarCurve): ReturnType<typeof ops.moveTo>[] {
  const out = [ops.moveTo(...onPage(c.a))];
  const cubic = (p: Point2, q: Point2, r: Point2): void => void out.push(ops.appendBezierCurve(...onPage(p), ...onPage(q), ...onPage(r)));
  switch (c.kind) {
    case 'line':
      out.push(ops.lineTo(...onPage(c.b)));
      break;
    case 'arc':
    case 'ellipse': {
      const n = Math.max(1, Math.ceil(Math.abs(c.sweep) / (Math.PI / 3)));
      const k = ((4 / 3) * Math.tan(c.sweep / n / 4)) / c.sweep;
      for (let i = 0; i < n; i++) {
        const [from, to] = [derivatives(c, i / n), derivatives(c, (i + 1) / n)];
        const beside = ({ p, d1 }: typeof from, s: number): Point2 => ({ x: p.x + s * d1.x, y: p.y + s * d1.y });
        cubic(beside(from, k), beside(to, -k), to.p);
      }
      break;
    }
    case 'spline':
      for (const b of bezierPieces(c.spline)) {
        if (b.degree > 3) {
          for (let i = 1; i <= 32; i++) {
            const [p] = evaluateBSpline(b, i / 32);
            out.push(ops.lineTo(...onPage({ x: p![0]!, y: p![1]! })));
          }
          continue;
        }
        const [, p, q, r] = elevated(b, 3).poles.map((k) => ({ x: k[0]!, y: k[1]! }));
        cubic(p!, q!, r!);
      }
  }
  return out;
}

function writeText(
  page: PDFPage,
  m: Extract<Mark, { kind: 'text' }>,
  fonts: readonly { readonly font: PDFFont; readonly has: ReadonlySet<number> }[],
  missing: Set<string>,
): void {
  const size = m.size * PT;
  // Runs of letters that one font has.
  const runs: { font: PDFFont; text: string }[] = [];
  for (const letter of m.text) {
    // The sign for a diameter that fonts have is the letter of the north.
    let own = letter === '⌀' ? 'Ø' : letter;
    let found = fonts.find((f) => f.has.has(own.codePointAt(0)!));
    if (!found) {
      missing.add(letter);
      own = '?';
      found = fonts[0]!;
    }
    const last = runs[runs.length - 1];
    if (last?.font === found.font) last.text += own;
    else runs.push({ font: found.font, text: own });
  }
  const widths = runs.map((r) => r.font.widthOfTextAtSize(r.text, size));
  const width = widths.reduce((a, b) => a + b, 0);
  const turn = m.turn ?? 0;
  let s = m.anchor === 'start' ? 0 : m.anchor === 'middle' ? -width / 2 : -width;
  runs.forEach((r, i) => {
    page.drawText(r.text, {
      x: m.at.x * PT + s * Math.cos(turn),
      y: m.at.y * PT + s * Math.sin(turn),
      size,
      font: r.font,
      rotate: ops.degrees(degrees(turn)),
    });
    s += widths[i]!;
  });
}
