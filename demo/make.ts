/** Writes the demo recipes beside this script: `npm run demo`. */
import { writeFileSync } from 'node:fs';
import { parseProject, slug, writeProject } from '../src/core/recipe/file';
import { steamDiffuser } from './steam-diffuser';

for (const project of [steamDiffuser]) {
  const text = writeProject(project);
  const check = parseProject(text);
  if (!check.ok) throw new Error(`${project.name}: ${check.error}`);
  writeFileSync(new URL(`./${slug(project.name)}.lathe.json`, import.meta.url), text);
}
