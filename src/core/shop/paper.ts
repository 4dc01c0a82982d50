/** Sheets of paper, scales and general tolerances of drawings. Millimetres. */

/** Width and height lying. Sources: ISO 216 (A4, A3), ANSI/ASME Y14.1 (letter and tabloid, 8.5 × 11 and 11 × 17 in). */
export const PAPERS = {
  a4: { words: 'A4', size: [297, 210] },
  a3: { words: 'A3', size: [420, 297] },
  letter: { words: 'Letter', size: [279.4, 215.9] },
  tabloid: { words: 'Tabloid', size: [431.8, 279.4] },
} as const;
export type Paper = keyof typeof PAPERS;

/** Between the edge of the paper and the frame: left for filing, and the others. Source: ISO 5457, from memory. */
export const MARGINS = { left: 20, others: 10 } as const;

/** How many mm of paper one mm of the part takes, largest first. Source: ISO 5455, from memory. */
export const SCALES = ['10:1', '5:1', '2:1', '1:1', '1:2', '1:5', '1:10', '1:20', '1:50'] as const;
export type Scale = (typeof SCALES)[number];
export const factorOf = (scale: Scale): number => {
  const [paper, part] = scale.split(':').map(Number);
  return paper! / part!;
};

export const TOLERANCES = ['f', 'm', 'c', 'v'] as const;
export type ToleranceClass = (typeof TOLERANCES)[number];
export const TOLERANCE_WORDS: Readonly<Record<ToleranceClass, string>> = { f: 'fine', m: 'medium', c: 'coarse', v: 'very coarse' };

/** Sizes up to and including; and by class what they may be off, mm. Source: ISO 2768-1:1989, table 1, from memory. */
const UP_TO = [3, 6, 30, 120, 400, 1000, 2000, 4000];
const MAY_BE_OFF: Readonly<Record<ToleranceClass, readonly (number | null)[]>> = {
  f: [0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, null],
  m: [0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2],
  c: [0.2, 0.3, 0.5, 0.8, 1.2, 2, 3, 4],
  v: [null, 0.5, 1, 1.5, 2.5, 4, 6, 8],
};
/** What a length may be off where nothing else is said, mm; null below 0.5 mm, beyond 4 m, and where the class has none. */
export function generalTolerance(by: ToleranceClass, length: number): number | null {
  if (length < 0.5) return null;
  const row = UP_TO.findIndex((most) => length <= most);
  return row < 0 ? null : MAY_BE_OFF[by][row]!;
}
