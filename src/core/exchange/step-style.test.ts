import { describe, expect, it } from 'vitest';
import { styledStep } from './step-style';

/** As the kernel writes one: a product, what it is defined by, and a solid among places. */
const file = (solids: string, places = 0): string =>
  `ISO-10303-21;\nDATA;\n#1 = SHAPE_DEFINITION_REPRESENTATION(#2,#8);\n#2 = PRODUCT_DEFINITION_SHAPE('','',#3);\n#3 = PRODUCT_DEFINITION('design','',#4,#7);\n#4 = PRODUCT_DEFINITION_FORMATION('','',#5);\n#5 = PRODUCT('Some STEP translator 8.0 17',\n  'Some STEP translator 8.0 17','',(#6));\n#8 = ADVANCED_BREP_SHAPE_REPRESENTATION('',(#9,#10),#11);\n${solids}${Array.from({ length: places }, (_, i) => `#${20 + i} = CARTESIAN_POINT('',(0.,0.,${i}.));\n`).join('')}ENDSEC;\nEND-ISO-10303-21;\n`;

describe('names and colours', () => {
  it('are put in for a solid with voids and a skin too; a part without a colour gets none', () => {
    for (const kind of ['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'SHELL_BASED_SURFACE_MODEL']) {
      const text = styledStep(file(`#10 = ${kind}('',#12);\n`), [{ title: 'Ring', colour: '#00ff00' }]);
      expect(text).toContain(`#10 = ${kind}('Ring',#12);`);
      expect(text).toContain("PRODUCT('Ring','Ring','',(#6));");
      expect(text).toContain("COLOUR_RGB('',0.000000,1.000000,0.000000);");
      expect(text).toMatch(/STYLED_ITEM\('colour',\(#\d+\),#10\);/);
      expect(text).toMatch(/MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION\('',\(#\d+\),#11\);\nENDSEC;/);
    }
    const plain = styledStep(file("#10 = MANIFOLD_SOLID_BREP('',#12);\n"), [{ title: 'Ring' }]);
    expect(plain).not.toContain('COLOUR');
    expect(plain).toContain("'Ring'");
  });
  it('have numbers of their own in a file of very many entities', () => {
    const text = styledStep(file("#10 = MANIFOLD_SOLID_BREP('',#12);\n", 300_000), [{ title: 'Ring', colour: '#00ff00' }]);
    expect(text).toContain("#300020 = COLOUR_RGB('',");
    const ids = [...text.matchAll(/^#(\d+) = /gm)].map((m) => m[1]!);
    expect(new Set(ids).size).toBe(ids.length);
  });
  it('stay off what is no such file', () => {
    expect(styledStep('', [{ title: 'Ring', colour: '#00ff00' }])).toBe('');
    expect(styledStep(file(''), [])).toBe(file(''));
  });
});
