/**
 * Names and colours put into a STEP file that the kernel has written: products under the titles of what was made, solids and skins in their
 * colours. Entities by ISO 10303-46 (presentation) as ISO 10303-214 uses them; from memory.
 */
import { stepText } from './encode';

export interface StyledPart {
  readonly title: string;
  /** `#rrggbb`. */
  readonly colour?: string | undefined;
}

/** What carries a name and a colour. */
const COLOURED = new Set(['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'FACETED_BREP', 'SHELL_BASED_SURFACE_MODEL']);
/** What leads from a product to the shapes it has. */
const TELLS = /^(PRODUCT(_DEFINITION\w*)?|\w*SHAPE_REPRESENTATION|SHAPE_DEFINITION_REPRESENTATION)$/;
/** The kernel numbers its products, on and on from file to file; after the number stands which piece of it one is, where there are several. */
const NUMBERED = /^'[^']* (\d+)((?:\.\d+)*)'/;

interface Product {
  readonly part: StyledPart;
  readonly name: string;
}

/** @param text of the file, its products in the order of the parts */
export function styledStep(text: string, parts: readonly StyledPart[]): string {
  let next = 1;
  // Of the many entities of a file only those that say what is what.
  const entities = new Map<number, { readonly kind: string; readonly inner: string; readonly refs: readonly number[] }>();
  for (const [, number, kind, inner] of text.matchAll(/#(\d+) = (\w+)\(([^;]*)\);/g)) {
    const id = Number(number);
    next = Math.max(next, id + 1);
    if (TELLS.test(kind!) || COLOURED.has(kind!))
      entities.set(id, { kind: kind!, inner: inner!, refs: [...inner!.matchAll(/#(\d+)/g)].map((m) => Number(m[1])) });
  }
  const kindOf = (id: number): string | undefined => entities.get(id)?.kind;
  const products = new Map<number, Product>();
  const given: string[] = [];
  for (const [id, { kind, inner }] of entities) {
    const [, number, piece] = (kind === 'PRODUCT' && NUMBERED.exec(inner)) || [];
    if (number === undefined) continue;
    if (!given.includes(number)) given.push(number);
    const part = parts[given.indexOf(number)];
    if (part) products.set(id, { part, name: stepText(piece ? `${part.title}, piece ${piece.slice(1)}` : part.title) });
  }
  let added = '';
  const add = (entity: string): number => {
    added += `#${next} = ${entity};\n`;
    return next++;
  };
  const names = new Map<number, string>([...products].map(([id, { name }]) => [id, name]));
  for (const { kind, refs } of entities.values()) {
    if (kind !== 'SHAPE_DEFINITION_REPRESENTATION') continue;
    // From the shape over the definition and its formation to the product.
    let [id, holder] = refs as [number | undefined, number];
    while (id !== undefined && kindOf(id) !== 'PRODUCT') id = entities.get(id)?.refs[0];
    const product = id === undefined ? undefined : products.get(id);
    const held = entities.get(holder)?.refs ?? [];
    const items = held.filter((r) => COLOURED.has(kindOf(r) ?? ''));
    if (!product || items.length === 0) continue;
    for (const item of items) names.set(item, product.name);
    const rgb = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(product.part.colour ?? '');
    if (!rgb) continue;
    const colour = add(
      `COLOUR_RGB('',${rgb
        .slice(1)
        .map((h) => (Number.parseInt(h, 16) / 255).toFixed(6))
        .join(',')})`,
    );
    const fill = add(`FILL_AREA_STYLE('',(#${add(`FILL_AREA_STYLE_COLOUR('',#${colour})`)}))`);
    const side = add(`SURFACE_SIDE_STYLE('',(#${add(`SURFACE_STYLE_FILL_AREA(#${fill})`)}))`);
    const style = add(`PRESENTATION_STYLE_ASSIGNMENT((#${add(`SURFACE_STYLE_USAGE(.BOTH.,#${side})`)}))`);
    const styled = items.map((item) => `#${add(`STYLED_ITEM('colour',(#${style}),#${item})`)}`);
    // The last thing a representation refers to is the context it is in.
    add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${styled.join(',')}),#${held.at(-1)})`);
  }
  return (
    text
      // By functions: a name may hold what a replacement text has a meaning for.
      .replace(/#(\d+) = (\w+)\('[^']*'(\s*,\s*'[^']*')?/g, (found, id, kind, second) => {
        const name = names.get(Number(id));
        return name === undefined ? found : `#${id} = ${kind}('${name}'${second === undefined ? '' : `,'${name}'`}`;
      })
      .replace(/ENDSEC;\s*END-ISO-10303-21;/, (end) => added + end)
  );
}
