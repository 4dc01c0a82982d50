/** The linter keeps the layers apart: violations are planted, and each must be found where it is. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const FORBIDDEN: readonly (readonly [layer: string, from: string])[] = [
  ['core', '../../kernel/open'],
  ['core', 'zustand'],
  ['core', 'node:fs'],
  ['kernel', '../../engine/engine'],
  ['kernel', 'comlink'],
  ['engine', '../../app/main'],
  ['engine', 'react'],
];
const folders = new Map<string, string>();
let found: string[] = [];

beforeAll(() => {
  for (const layer of ['core', 'kernel', 'engine']) folders.set(layer, mkdtempSync(join('src', layer, 'planted-')));
  const plant = (layer: string, name: string, text: string): void => writeFileSync(join(folders.get(layer)!, `${name}.ts`), text);
  FORBIDDEN.forEach(([layer, from], i) => {
    plant(layer, `v${i}`, `import { x } from '${from}';\n\nexport const y = x;\n`);
  });
  plant('kernel', 'fine', "import { ok } from '../../core/result';\n\nexport const y = ok;\n");
  plant('engine', 'a', "import type { B } from './b';\n\nexport interface A {\n  readonly b: B | null;\n}\n");
  plant('engine', 'b', "import type { A } from './a';\n\nexport interface B {\n  readonly a: A | null;\n}\n");
  const done = spawnSync('npx', ['biome', 'lint', '--reporter=github', '--max-diagnostics=100', ...folders.values()], { encoding: 'utf8' });
  found = `${done.stdout}${done.stderr}`.split('\n');
}, 60_000);
afterAll(() => {
  for (const dir of folders.values()) rmSync(dir, { recursive: true, force: true });
});

const rules = (layer: string, name: string): string[] =>
  found.flatMap((line) => {
    const at = /title=([^,]+),file=([^,]+),/.exec(line);
    return at?.[2]?.endsWith(join(folders.get(layer)!, `${name}.ts`)) ? [at[1]!] : [];
  });

describe('layers', () => {
  it.each(FORBIDDEN.map(([layer, from], i) => [layer, from, i] as const))('%s imports nothing from %s', (layer, _, i) => {
    expect(rules(layer, `v${i}`)).toContain('lint/style/noRestrictedImports');
  });
  it('let through what a layer may import', () => {
    expect(rules('kernel', 'fine')).toEqual([]);
  });
  it('hold no files that import each other, be it for a type alone', () => {
    expect([rules('engine', 'a'), rules('engine', 'b')].flat()).toContain('lint/suspicious/noImportCycles');
  });
});
