/** Writes the demo recipes beside this script: `npm run demo`. */
import { writeFileSync } from 'node:fs';
import { parseProject, slug, writeProject } from '../src/core/recipe/file';
import { ladleGrip } from './ladle-grip';
import { robeHook } from './robe-hook';
import { soapDish } from './soap-dish';
import { soapTray } from './soap-tray';
import { steamDiffuser } from './steam-diffuser';
import { steamTower } from './steam-tower';
import { twistedTower } from './twisted-tower';

for (const project of [steamDiffuser, ladleGrip, robeHook, soapTray, steamTower, twistedTower, soapDish]) {
  const text = writeProject(project);
  const check = parseProject(text);
  if (!check.ok) throw new Error(`${project.name}: ${check.error}`);
  writeFileSync(new URL(`./${slug(project.name)}.lathe.json`, import.meta.url), text);
}
