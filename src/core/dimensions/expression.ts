/**
 * The expression language of every typed value: arithmetic, units, named dimensions and a few functions.
 * Parsing is mathjs'; evaluation is ours, over a white list of nodes, so that lengths and angles are
 * checked and no text is ever run as code.
 */
import { create, type MathNode, parseDependencies } from 'mathjs/number';
import { fail, ok, type Result } from '../result';
import { UNITS } from '../units/units';

const { parse } = create({ parseDependencies: parseDependencies! }) as unknown as { parse: (text: string) => MathNode };

/** A value in mm^length · rad^angle. */
export interface Quantity {
  readonly value: number;
  readonly length: number;
  readonly angle: number;
}

export type Kind = 'length' | 'angle' | 'number';
/** Looks a named dimension up; an error text when it exists but has no value. */
export type Scope = (name: string) => Result<Quantity> | undefined;

/** The parts of a text between commas or semicolons outside of brackets, each an expression. */
export function parted(text: string): string[] {
  const out = [''];
  let depth = 0;
  for (const c of text) {
    if (c === '(') depth++;
    else if (c === ')') depth--;
    if ((c === ',' || c === ';') && depth === 0) out.push('');
    else out[out.length - 1] += c;
  }
  return out.map((p) => p.trim());
}

const MAX_TEXT = 200;
const RESERVED = new Set(['in', 'to', 'mod', 'and', 'or', 'xor', 'not', 'end', 'pi', 'true', 'false', 'null']);
const NAME = /^[\p{L}_][\p{L}\p{N}_]*$/u;

const plain = (value: number): Quantity => ({ value, length: 0, angle: 0 });

/** Functions of one plain number, an angle in or an angle out. */
const FUNCTIONS: Record<string, (args: Quantity[]) => Result<Quantity>> = {
  sqrt: ([a]) => ok({ value: Math.sqrt(a!.value), length: a!.length / 2, angle: a!.angle / 2 }),
  abs: ([a]) => ok({ ...a!, value: Math.abs(a!.value) }),
  sin: ([a]) => trig(a!, Math.sin, 'sin'),
  cos: ([a]) => trig(a!, Math.cos, 'cos'),
  tan: ([a]) => trig(a!, Math.tan, 'tan'),
  asin: ([a]) => arc(a!, Math.asin, 'asin'),
  acos: ([a]) => arc(a!, Math.acos, 'acos'),
  atan: ([a]) => arc(a!, Math.atan, 'atan'),
  round: ([a]) => ok({ ...a!, value: Math.round(a!.value) }),
  floor: ([a]) => ok({ ...a!, value: Math.floor(a!.value) }),
  ceil: ([a]) => ok({ ...a!, value: Math.ceil(a!.value) }),
  min: (args) => extreme(args, Math.min, 'min'),
  max: (args) => extreme(args, Math.max, 'max'),
};
const ARITY: Record<string, [number, number]> = { min: [2, 8], max: [2, 8] };

function trig(a: Quantity, f: (x: number) => number, name: string): Result<Quantity> {
  if (a.length !== 0 || (a.angle !== 0 && a.angle !== 1)) return fail(`${name} takes an angle`);
  return ok(plain(f(a.angle === 1 ? a.value : (a.value * Math.PI) / 180)));
}
function arc(a: Quantity, f: (x: number) => number, name: string): Result<Quantity> {
  if (a.length !== 0 || a.angle !== 0) return fail(`${name} takes a plain number`);
  return ok({ value: f(a.value), length: 0, angle: 1 });
}
function extreme(args: Quantity[], f: (...x: number[]) => number, name: string): Result<Quantity> {
  let kind = args.find((q) => q.length !== 0 || q.angle !== 0) ?? args[0]!;
  kind = { ...kind };
  const values: number[] = [];
  for (const q of args) {
    const same = sameKind(q, kind);
    if (!same) return fail(`${name} compares values of one kind`);
    values.push(same[0].value);
  }
  return ok({ ...kind, value: f(...values) });
}

/**
 * Brings both to one kind: a plain number beside a length counts as millimetres, beside an angle as
 * degrees, as people write them. Undefined where they can't be added.
 */
function sameKind(a: Quantity, b: Quantity): [Quantity, Quantity] | undefined {
  if (a.length === b.length && a.angle === b.angle) return [a, b];
  const lift = (q: Quantity, to: Quantity): Quantity | undefined => {
    if (q.length !== 0 || q.angle !== 0) return undefined;
    if (to.length === 1 && to.angle === 0) return { ...to, value: q.value };
    if (to.length === 0 && to.angle === 1) return { ...to, value: (q.value * Math.PI) / 180 };
    return undefined;
  };
  const la = lift(a, b);
  if (la) return [la, b];
  const lb = lift(b, a);
  return lb ? [a, lb] : undefined;
}

/**
 * Text as people write it, in the parser's spelling: mixed fractions, inch and foot marks, the degree
 * sign, a decimal comma in a lone number.
 */
function normalise(text: string): string {
  let t = text.trim();
  if (/^[+-]?\d+,\d+\s*(\p{L}*|"|°)$/u.test(t)) t = t.replace(',', '.');
  t = t.replace(/[×·]/g, '*').replace(/÷/g, '/').replace(/−/g, '-').replace(/[″“”]/g, '"').replace(/[′’]/g, "'");
  t = t.replace(/(?<![\p{L}\p{N}_.])(\d+)\s+(\d+)\s*\/\s*(\d+)/gu, '($1+$2/$3)');
  t = t.replace(/([\d.()+/]+)\s*'\s*([\d.()+/]+)\s*"/g, '(($1) ft + ($2) inch)');
  t = t.replace(/"/g, ' inch').replace(/'/g, ' ft').replace(/°/g, ' deg');
  return t.replace(/(^|[^\p{L}\p{N}_])in(?![\p{L}\p{N}_])/gu, '$1inch').replace(/(\d)in(?![\p{L}\p{N}_])/gu, '$1 inch');
}

interface NodeLike {
  type: string;
  value?: unknown;
  name?: string;
  op?: string;
  fn?: NodeLike & string;
  args?: NodeLike[];
  content?: NodeLike;
}

function evaluateNode(node: NodeLike, scope: Scope, depth: number): Result<Quantity> {
  if (depth > 60) return fail('this is nested too deeply');
  switch (node.type) {
    case 'ConstantNode':
      return typeof node.value === 'number' ? ok(plain(node.value)) : fail('only numbers can stand here');
    case 'ParenthesisNode':
      return evaluateNode(node.content!, scope, depth + 1);
    case 'SymbolNode': {
      const name = node.name!;
      if (name === 'pi') return ok(plain(Math.PI));
      const unit = Object.hasOwn(UNITS, name) ? UNITS[name] : undefined;
      if (unit) return ok({ value: unit.factor, length: unit.length, angle: unit.angle });
      return scope(name) ?? fail(`there is no dimension called “${name}”`);
    }
    case 'FunctionNode': {
      if (node.fn!.type !== 'SymbolNode') return fail('only named functions can be called here');
      const name = node.fn!.name ?? '';
      const f = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined;
      if (!f) return fail(`there is no function called “${name}”; known are ${Object.keys(FUNCTIONS).join(', ')}`);
      const [lo, hi] = ARITY[name] ?? [1, 1];
      const given = node.args?.length ?? 0;
      if (given < lo || given > hi) return fail(`${name} takes ${lo === hi ? lo : `${lo} to ${hi}`} value${hi > 1 ? 's' : ''}`);
      const args: Quantity[] = [];
      for (const a of node.args!) {
        const r = evaluateNode(a, scope, depth + 1);
        if (!r.ok) return r;
        args.push(r.value);
      }
      return f(args);
    }
    case 'OperatorNode':
      return evaluateOperator(node, scope, depth);
    default:
      return fail('only numbers, units, named dimensions and + − × ÷ ^ can stand here');
  }
}

function evaluateOperator(node: NodeLike, scope: Scope, depth: number): Result<Quantity> {
  const values: Quantity[] = [];
  for (const a of node.args!) {
    const r = evaluateNode(a, scope, depth + 1);
    if (!r.ok) return r;
    values.push(r.value);
  }
  const [a, b] = values as [Quantity, Quantity | undefined];
  if (!b) {
    if (node.op === '-') return ok({ ...a, value: -a.value });
    if (node.op === '+') return ok(a);
    return fail(`“${node.op}” is not known here`);
  }
  switch (node.op) {
    case '+':
    case '-': {
      const pair = sameKind(a, b);
      if (!pair) return fail(`${describe(a)} and ${describe(b)} can't be ${node.op === '+' ? 'added' : 'subtracted'}`);
      const [x, y] = pair;
      return ok({ ...x, value: node.op === '+' ? x.value + y.value : x.value - y.value });
    }
    case '*':
      return ok({ value: a.value * b.value, length: a.length + b.length, angle: a.angle + b.angle });
    case '/':
      if (b.value === 0) return fail('this divides by zero');
      return ok({ value: a.value / b.value, length: a.length - b.length, angle: a.angle - b.angle });
    case '^':
      if (b.length !== 0 || b.angle !== 0) return fail('an exponent must be a plain number');
      return ok({ value: a.value ** b.value, length: a.length * b.value, angle: a.angle * b.value });
    default:
      return fail(`“${node.op}” is not known here; use + − × ÷ ^`);
  }
}

function describe(q: Quantity): string {
  if (q.length === 1 && q.angle === 0) return 'a length';
  if (q.length === 2 && q.angle === 0) return 'an area';
  if (q.length === 3 && q.angle === 0) return 'a volume';
  if (q.length === 0 && q.angle === 1) return 'an angle';
  return q.length === 0 && q.angle === 0 ? 'a plain number' : 'a compound quantity';
}

/** Parses and evaluates a text. Errors are words without the text itself. */
export function evaluateQuantity(text: string, scope: Scope): Result<Quantity> {
  if (text.trim() === '') return fail('a value is missing');
  if (text.length > MAX_TEXT) return fail(`this is longer than ${MAX_TEXT} characters`);
  let node: NodeLike;
  try {
    node = parse(normalise(text)) as unknown as NodeLike;
  } catch {
    return fail(`“${text.trim()}” can't be read as a value`);
  }
  const r = evaluateNode(node, scope, 0);
  if (r.ok && !Number.isFinite(r.value.value)) return fail(`“${text.trim()}” has no finite value`);
  return r;
}

/** What a quantity can be typed as; undefined for areas and other compounds. */
export const kindOf = ({ length, angle }: Pick<Quantity, 'length' | 'angle'>): Kind | undefined =>
  length === 0 ? (angle === 0 ? 'number' : angle === 1 ? 'angle' : undefined) : length === 1 && angle === 0 ? 'length' : undefined;

/**
 * A typed value of a known kind. A plain number is millimetres where a length is meant and degrees
 * where an angle is meant.
 * @returns mm, rad or a plain number
 * @example evaluateAs('3 1/4 in', 'length', scope) // 82.55
 */
export function evaluateAs(text: string, kind: Kind, scope: Scope): Result<number> {
  const r = evaluateQuantity(text, scope);
  if (!r.ok) return r;
  const want: Quantity = { value: 0, length: kind === 'length' ? 1 : 0, angle: kind === 'angle' ? 1 : 0 };
  const pair = sameKind(r.value, want);
  if (!pair || pair[0].length !== want.length || pair[0].angle !== want.angle)
    return fail(`“${text.trim()}” is ${describe(r.value)}; ${describe(want)} is wanted`);
  return ok(pair[0].value);
}

/** The names a text refers to, units and functions left out. Empty where the text can't be read. */
export function namesIn(text: string): string[] {
  const names = new Set<string>();
  try {
    parse(normalise(text)).traverse((n, path, parent) => {
      const node = n as unknown as NodeLike;
      const isFunctionName = path === 'fn' && (parent as unknown as NodeLike)?.type === 'FunctionNode';
      if (node.type === 'SymbolNode' && !isFunctionName && !Object.hasOwn(UNITS, node.name!) && node.name !== 'pi') names.add(node.name!);
    });
  } catch {
    return [];
  }
  return [...names];
}

/** Replaces one name by another in a text as it was typed; everything else stays letter for letter. */
export function renameIn(text: string, from: string, to: string): string {
  return text.replace(/[\p{L}_][\p{L}\p{N}_]*/gu, (word) => (word === from ? to : word));
}

/** Whether a text can name a dimension; the error says why not. */
export function checkName(name: string): Result<string> {
  if (!NAME.test(name)) return fail('a name is letters, digits and underscores, and starts with a letter');
  if (name.length > 40) return fail('a name has at most 40 characters');
  if (Object.hasOwn(UNITS, name)) return fail(`“${name}” is a unit`);
  if (RESERVED.has(name) || Object.hasOwn(FUNCTIONS, name)) return fail(`“${name}” has a meaning of its own in expressions`);
  return ok(name);
}
