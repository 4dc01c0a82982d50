/**
 * Looks once over a drawing in XML before a parser does: what could act or reach outside is refused, and so is what would keep the parser busy.
 * The time it takes grows with the text alone.
 */
import { fail, ok, type Result } from '../result';

const [MOST_TAGS, DEEPEST] = [30_000, 60] as const;
/** An attribute with its value, at a place. */
const ATTRIBUTE = /\s*([^\s=<>"'/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'))?/y;

const SCRIPT = 'The file holds a script or a reference to the outside; it was not read. Save it as plain shapes.';
const ENTITIES = 'The file defines entities of its own, which a drawing does not need; it was not read.';
const BROKEN = 'The file is not well-formed XML.';

/** Where a tag ends, quotes minded; -1 where it does not. */
function endOf(text: string, from: number): number {
  let quote = '';
  for (let i = from; i < text.length; i++) {
    const c = text[i]!;
    if (quote) {
      if (c === quote) quote = '';
    } else if (c === '"' || c === "'") quote = c;
    else if (c === '>') return i;
    else if (c === '<') return -1;
  }
  return -1;
}

/** Why a tag can't be read; undefined where it can. */
function refused(tag: string): string | undefined {
  const name = /^[^\s/>]*/.exec(tag)![0];
  const local = name.slice(name.lastIndexOf(':') + 1).toLowerCase();
  if (local === 'script') return SCRIPT;
  if (local === 'foreignobject') return 'The file holds foreign objects; save it as plain shapes.';
  ATTRIBUTE.lastIndex = name.length;
  for (let m = ATTRIBUTE.exec(tag); m; m = ATTRIBUTE.exec(tag)) {
    const key = m[1]!.slice(m[1]!.lastIndexOf(':') + 1).toLowerCase();
    if (key.startsWith('on')) return SCRIPT;
    const value = m[2] ?? m[3] ?? '';
    if ((key === 'href' || key === 'src') && /^\s*(?:javascript|https?|file):/i.test(value)) return SCRIPT;
  }
  return undefined;
}

/** @returns the text without comments and its document type, or an error in words */
export function survey(text: string): Result<string> {
  let out = '';
  let [depth, tags, types, taken] = [0, 0, 0, 0];
  /** Leaves out what lies from a place to another. */
  const leave = (from: number, to: number): void => {
    out += text.slice(taken, from);
    taken = to;
  };
  for (let at = text.indexOf('<'); at >= 0; ) {
    let end: number;
    if (text.startsWith('<!--', at)) {
      end = text.indexOf('-->', at + 4);
      if (end < 0) return fail(BROKEN);
      leave(at, end + 3);
      end += 3;
    } else if (text.startsWith('<![CDATA[', at)) {
      end = text.indexOf(']]>', at);
      if (end < 0) return fail(BROKEN);
      end += 3;
    } else if (text.startsWith('<?', at)) {
      end = text.indexOf('?>', at);
      if (end < 0) return fail(BROKEN);
      end += 2;
    } else if (text.startsWith('<!', at)) {
      end = endOf(text, at + 1) + 1;
      const declared = text.slice(at, end > 0 ? end : at + 200);
      // A public name is only looked up in a list; a place of its own would be fetched.
      if (end === 0 || /\[/.test(declared) || !/^<!DOCTYPE\s/i.test(declared)) return fail(ENTITIES);
      if (/\sSYSTEM\s/i.test(declared)) return fail(SCRIPT);
      if (++types > 1) return fail(BROKEN);
      leave(at, end);
    } else {
      end = endOf(text, at + 1);
      if (end < 0) return fail(BROKEN);
      const tag = text.slice(at + 1, end);
      if (tag.startsWith('/')) depth--;
      else {
        if (++tags > MOST_TAGS) return fail(`The file has more than ${MOST_TAGS / 1000} 000 elements.`);
        const why = refused(tag);
        if (why) return fail(why);
        if (!tag.endsWith('/') && ++depth > DEEPEST) return fail(`The file is nested deeper than ${DEEPEST} groups.`);
      }
      end++;
    }
    at = text.indexOf('<', end);
  }
  return ok(out + text.slice(taken));
}
