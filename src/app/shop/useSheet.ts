/** The drawing of a project as a sheet: its views drawn one after the other, as the bodies stand. */
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import { cautionsFor } from '../../core/brief/cautions';
import { materialOf } from '../../core/brief/judge';
import { MATERIALS } from '../../core/brief/materials';
import { evaluateAs } from '../../core/dimensions/expression';
import type { Project } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import { evaluateValue } from '../../core/recipe/values';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { lengthWords } from '../../core/shop/dimension';
import { emptyShop, type Shop, type ShopView } from '../../core/shop/document';
import { composeSheet, type DrawnView, type Hole, type RecipeDimension, type Sheet } from '../../core/shop/sheet';
import type { RebuildResult } from '../../engine/types';
import { engine, useBench } from '../state/bench';
import { tableOf } from '../state/project';
import { holesIn, recipeDimensions } from './recipe';

/** The drawing of a project; one to begin with where it has none yet. */
export const shopOf = (project: Project): Shop => project.shop ?? emptyShop(project.units, new Date().toISOString().slice(0, 10));

/** Where a view is cut, mm; null where it is not, undefined where what was typed can't be read. */
function cutOf(project: Project, view: ShopView): number | null | undefined {
  if (view.cut === undefined) return null;
  const read = evaluateAs(view.cut, 'length', tableOf(project).scope);
  return read.ok ? read.value : undefined;
}

export interface SheetState {
  readonly shop: Shop;
  readonly sheet: Sheet;
  readonly drawn: ReadonlyMap<string, DrawnView>;
  readonly recipe: ReadonlyMap<string, RecipeDimension>;
  readonly drawing: boolean;
  /** Why views could not be drawn. */
  readonly failed: readonly string[];
}

export function useSheet(project: Project): SheetState {
  const result = useBench((s) => s.result);
  const scenes = useBench((s) => s.scenes);
  const stale = useBench((s) => s.stale);
  const shop = useMemo(() => shopOf(project), [project]);
  const ids = shownBodies(project, result);
  const views = useQueries({
    queries: shop.views.map((view) => {
      const cut = cutOf(project, view);
      return {
        queryKey: ['view', view.side, cut, ids, result] as const,
        queryFn: () => engine.drawView(ids, { side: view.side, cut: cut ?? null }),
        enabled: !stale && ids.length > 0 && cut !== undefined,
        staleTime: Infinity,
        structuralSharing: false,
        placeholderData: keepPreviousData,
      };
    }),
  });
  const answers = views.map((v) => v.data);
  const drawing = stale || views.some((v) => v.isFetching);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the answers are compared one by one
  const drawn = useMemo(
    () => new Map(shop.views.flatMap((v, i) => (answers[i]?.ok ? [[v.id, answers[i].value] as const] : []))),
    [shop.views, ...answers],
  );
  const recipe = useMemo(() => recipeDimensions(project, result, scenes), [project, result, scenes]);
  const list = ids.join();
  const sheet = useMemo(
    () => sheetOf(project, shop, drawn, recipe, list === '' ? [] : list.split(',')),
    [project, shop, drawn, recipe, list],
  );
  return { shop, sheet, drawn, recipe, drawing, failed: answers.flatMap((a) => (a && !a.ok ? [a.error] : [])) };
}

const shownBodies = (project: Project, result: RebuildResult | null): string[] =>
  (result?.bodies ?? []).filter((b) => !project.bodies[b.id]?.hidden).map((b) => b.id);

function sheetOf(
  project: Project,
  shop: Shop,
  drawn: ReadonlyMap<string, DrawnView>,
  recipe: ReadonlyMap<string, RecipeDimension>,
  ids: readonly string[],
): Sheet {
  const holes = new Map<string, Hole[]>();
  // The holes are listed of the first view that sees some of them round.
  if (shop.told)
    for (const v of shop.views) {
      const d = drawn.get(v.id);
      const own = d && v.side !== 'corner' && holes.size === 0 ? holesIn(project, d.edges) : [];
      if (own.length > 0) holes.set(v.id, own);
    }
  const alone = ids.length === 1 ? ids[0]! : null;
  return composeSheet(shop, drawn, recipe, holes, {
    name: alone && Object.keys(project.bodies).length > 1 ? `${project.name}, ${bodyWords(alone, project)}` : project.name,
    client: project.client,
    material: MATERIALS[materialOf(project, alone)]?.label ?? '',
    notes: notesOf(project, shop),
    units: project.units,
  });
}

/** The drawing as the bodies stand, drawn anew; in words where a view of it can't be. */
export async function drawnSheet(project: Project): Promise<Result<Sheet>> {
  const { result, scenes } = useBench.getState();
  const shop = shopOf(project);
  const ids = shownBodies(project, result);
  const drawn = new Map<string, DrawnView>();
  for (const view of shop.views) {
    const cut = cutOf(project, view);
    if (cut === undefined) return fail(`where a view is cut can’t be read: ${view.cut}`);
    const made = await engine.drawView(ids, { side: view.side, cut });
    if (!made.ok) return made;
    drawn.set(view.id, made.value);
  }
  return ok(sheetOf(project, shop, drawn, recipeDimensions(project, result, scenes), ids));
}

/** What is written beside the title block: own notes, walls as the recipe has them, cautions of what it is for. */
function notesOf(project: Project, shop: Shop): string[] {
  const own = shop.notes.split('\n').filter((l) => l.trim() !== '');
  if (!shop.told) return own;
  const { scope } = tableOf(project);
  const walls = project.steps.flatMap((s) => {
    const spec = stepDefinitions[s.kind]?.values.wall;
    if (!s.enabled || !spec) return [];
    const read = evaluateValue(spec, s.values.wall ?? '', scope);
    return read.ok ? [`Wall ${lengthWords(read.value, project.units)}.`] : [];
  });
  return [...own, ...new Set(walls), ...cautionsFor(project.brief)];
}
