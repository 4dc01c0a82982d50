/** Names made to break files. */
/** A small generator that repeats itself (Numerical Recipes, from memory). */
const random = (seed: number) => () => {
  seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
  return seed / 2 ** 32;
};
const rng = random(7);
const any = (): string =>
  String.fromCharCode(...Array.from({ length: 1 + Math.floor(rng() * 30) }, () => Math.floor(rng() * (rng() < 0.5 ? 0x80 : 0x10000))));
/** Names of all of Unicode, broken ones among them. */
export const NAMES: readonly string[] = [
  "$& and $` and $$ and $' and $1",
  "O'Brien \\ \\X2\\0041\\X0\\",
  'Schale „Düne“ 茶碗 🫖',
  'a\u0000b\u0007c\nd\re\tf\u2028g\u0085h',
  '\ud83d alone \udc00',
  ']]> <!-- & --> "quoted" <script>',
  '\ufffe\uffff',
  ' ',
  ...Array.from({ length: 120 }, any),
];
/** As XML has it: what it can't hold is replaced. */
export const asXml = (t: string): string => t.replace(/[^\t\n\r\u{20}-\u{d7ff}\u{e000}-\u{fffd}\u{10000}-\u{10ffff}]/gu, '\u{fffd}');
