/** Changes between two states of a sheet in words, a sentence each. */
import { gaugeById } from '../brief/gauges';
import { PROCESSES } from '../brief/processes';
import type { Profile, Project, Step } from '../recipe/schema';
import { stepDefinitions } from '../recipe/steps';
import { bodyWords, stepTitle } from '../recipe/words';
import type { Change } from './changes';
import { keyed, same } from './lists';

const quoted = (text: string): string => (text === '' ? 'nothing' : text);
const count = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`;
const list = (words: readonly string[]): string => words.filter(Boolean).join(', ');

/** What of a list was put in, taken out or changed, told as numbers. */
function tally(what: string, a: readonly { readonly id: string }[], b: readonly { readonly id: string }[]): string {
  const [before, after] = [new Map(a.map((x) => [x.id, x])), new Map(b.map((x) => [x.id, x]))];
  const more = b.filter((x) => !before.has(x.id)).length;
  const less = a.filter((x) => !after.has(x.id)).length;
  const other = b.filter((x) => before.has(x.id) && !same(before.get(x.id), x)).length;
  return list([
    more > 0 ? `${count(more, what)} more` : '',
    less > 0 ? `${count(less, what)} less` : '',
    other > 0 ? `${count(other, what)} changed` : '',
  ]);
}

function drawingWords(a: Profile, b: Profile): string {
  const parts = list([
    a.name === b.name ? '' : `called ${b.name} now`,
    a.plane === b.plane ? '' : 'lies on another plane',
    tally('point', a.points, b.points),
    tally('curve', a.curves, b.curves),
    tally('constraint', a.constraints, b.constraints),
    tally('derived curve', a.derived, b.derived),
  ]);
  return `drawing ${a.name}: ${parts || 'changed'}`;
}

function stepWords(a: Step, b: Step, before: Project, after: Project): string {
  const title = stepTitle(b.id, after);
  if (a.kind !== b.kind) return `${stepTitle(a.id, before)} is ${title} now`;
  const definition = stepDefinitions[b.kind];
  const names = [...new Set([...Object.keys(a.values), ...Object.keys(b.values)])].filter((k) => a.values[k] !== b.values[k]);
  const values = names.map((k) => `${definition?.values[k]?.label ?? k} ${quoted(a.values[k] ?? '')} → ${quoted(b.values[k] ?? '')}`);
  return `${title}: ${
    list([
      ...values,
      same(a.inputs, b.inputs) ? '' : 'what it is done to, or how, changed',
      a.enabled === b.enabled ? '' : b.enabled ? 'counts again' : 'left out',
      a.note === b.note ? '' : 'its note changed',
      a.group === b.group ? '' : 'its group changed',
    ]) || 'changed'
  }`;
}

function bodyChange(id: string, a: Project['bodies'][string], b: Project['bodies'][string], after: Project): string {
  return `${bodyWords(id, after)}: ${
    list([
      a.name === b.name ? '' : `was called ${a.name}`,
      a.material === b.material ? '' : `of ${b.material ?? 'the brief’s material'}`,
      a.colour === b.colour ? '' : 'another colour',
      a.hidden === b.hidden ? '' : b.hidden ? 'put out of sight' : 'shown again',
      same(a.lie, b.lie) ? '' : b.lie ? 'laid on the bed another way' : 'lies as it is drawn',
    ]) || 'changed'
  }`;
}

function briefWords(a: Project['brief'], b: Project['brief']): string[] {
  const limits = (t: { readonly min?: string | undefined; readonly max?: string | undefined } | undefined): string =>
    t ? list([t.min ? `at least ${t.min}` : '', t.max ? `at most ${t.max}` : '']) || 'read' : 'no target';
  const targets = [...new Set([...a.targets, ...b.targets].map((t) => t.gauge))].flatMap((g) => {
    const [x, y] = [a.targets.find((t) => t.gauge === g), b.targets.find((t) => t.gauge === g)];
    return same(x, y) ? [] : [`brief: ${gaugeById(g)?.label ?? g}, ${limits(x)} → ${limits(y)}`];
  });
  return [
    ...targets,
    ...(a.process === b.process ? [] : [`brief: made by ${PROCESSES[b.process].by}, not ${PROCESSES[a.process].by}`]),
    ...(a.material === b.material ? [] : [`brief: of ${b.material}, not ${a.material}`]),
    ...(a.purpose === b.purpose ? [] : ['brief: its purpose is told otherwise']),
    ...(same(a.uses, b.uses) ? [] : [`brief: used for ${b.uses.join(', ') || 'nothing in particular'}`]),
    ...(a.fillBelowBrim === b.fillBelowBrim ? [] : [`brief: filled to ${b.fillBelowBrim} below the brim`]),
  ];
}

/** Sentences of one change. @param before, after the states it lies between */
export function changeWords(change: Change, before: Project, after: Project): string[] {
  if ('part' in change)
    switch (change.part) {
      case 'name':
        return [`called ${after.name}, not ${before.name}`];
      case 'client':
        return [`for ${quoted(after.client)}`];
      case 'units':
        return [`shown in ${after.units === 'in' ? 'inches' : 'millimetres'}`];
      case 'brief':
        return briefWords(before.brief, after.brief);
      case 'marker':
        return [after.marker === null ? 'worked on from its end' : `worked on from ${stepTitle(after.marker, after)}`];
      case 'sizes':
        return [`its sizes: ${count(after.sizes?.rows.length ?? 0, 'row')}, ${count(before.sizes?.rows.length ?? 0, 'row')} before`];
      case 'shop':
        return [
          `the working drawing: ${count(after.shop?.views.length ?? 0, 'view')}, ${count(after.shop?.dimensions.length ?? 0, 'dimension')}`,
        ];
      case 'measures':
        return [`what is measured: ${after.measures?.length ?? 0} now, ${before.measures?.length ?? 0} before`];
      // What it is written as says nothing to anyone.
      case 'format':
      case 'version':
        return [];
      default:
        return [`${change.part} changed`];
    }
  if ('order' in change) return [change.in === 'steps' ? 'steps in another order' : `${change.in} in another order`];
  const [a, b] = [keyed(before, change.in).get(change.key), keyed(after, change.in).get(change.key)];
  switch (change.in) {
    case 'dimensions': {
      const [x, y] = [a, b] as [Project['dimensions'][number] | undefined, Project['dimensions'][number] | undefined];
      return [x && y ? `${y.name} ${x.expr} → ${y.expr}` : y ? `${y.name} is new, ${y.expr}` : `${x!.name} is gone, it was ${x!.expr}`];
    }
    case 'profiles': {
      const [x, y] = [a, b] as [Profile | undefined, Profile | undefined];
      return [x && y ? drawingWords(x, y) : y ? `drawing ${y.name} is new` : `drawing ${x!.name} is gone`];
    }
    case 'steps': {
      const [x, y] = [a, b] as [Step | undefined, Step | undefined];
      return [x && y ? stepWords(x, y, before, after) : y ? `${stepTitle(y.id, after)} is new` : `${stepTitle(x!.id, before)} is gone`];
    }
    case 'bodies': {
      const [x, y] = [a, b] as [Project['bodies'][string] | undefined, Project['bodies'][string] | undefined];
      // Bodies come and go with the steps that make them.
      return x && y ? [bodyChange(change.key, x, y, after)] : [];
    }
  }
}
