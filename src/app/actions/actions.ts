/**
 * Everything that can be done by name. The finder, the keys, the list of keys and the README's read this one list; what a sheet holds adds its own:
 * the steps that can come next and its drawings.
 */
import type { NavigateFunction } from 'react-router';
import type { Findable } from '../../core/find';
import type { OfferGroup } from '../../core/recipe/steps';
import { chooseScanFile, chooseStepFile } from '../bench/bringIn';
import { chooseCageFile } from '../form/begin';
import { cutOpen, look, nextRoom, setBench, type ViewName } from '../state/bench';
import { cancelBuild } from '../state/building';
import { dropLastPick } from '../state/picking';
import { otherUnits, redo, undo, useProject } from '../state/project';
import { saveProjectFile } from '../ui/saveProject';
import { toggleTheme } from '../ui/theme';

/** Where a key works: on every page of a project, where its bodies stand, or on its sheet. */
export type Where = 'project' | 'stage' | 'sheet';

export interface Action extends Findable {
  readonly id: string;
  readonly known: readonly string[];
  /** Where it stands among the next steps, if it can be one. */
  readonly group?: OfferGroup;
  /** As the hotkey library writes it; by the character where that sits elsewhere on other keyboards. */
  readonly key?: { readonly keys: string; readonly shown: string; readonly where: Where; readonly byCharacter?: true };
  readonly run: (go: NavigateFunction) => void;
}

const page = (id: string, label: string, known: readonly string[]): Action => ({ id, label, known, run: (go) => go(id) });

export const VIEWS: readonly {
  readonly view: ViewName;
  readonly short: string;
  readonly label: string;
  readonly known: readonly string[];
}[] = [
  { view: 'front', short: 'Front', label: 'Look from the front', known: ['front view', 'elevation'] },
  { view: 'back', short: 'Back', label: 'Look from the back', known: ['rear view', 'back view', 'elevation'] },
  { view: 'side', short: 'Side', label: 'Look from the side', known: ['side view', 'right view', 'left view', 'elevation'] },
  { view: 'above', short: 'Above', label: 'Look from above', known: ['top view', 'plan'] },
  { view: 'below', short: 'Below', label: 'Look from below', known: ['bottom view', 'underside'] },
  {
    view: 'corner',
    short: 'Corner',
    label: 'Look from a corner, all in view',
    known: ['isometric', 'zoom to fit', 'home view', 'perspective', 'zoom all'],
  },
];

export const ACTIONS: readonly Action[] = [
  page('brief', 'Go to the brief', ['targets', 'requirements', 'specification', 'material']),
  page('bench', 'Go to the bench', ['model', 'modelling', 'build']),
  page('inspect', 'Go to inspection', [
    'zebra',
    'stripes',
    'reflection',
    'curvature',
    'comb',
    'draft analysis',
    'undercut',
    'wall thickness analysis',
    'continuity',
    'measure',
    'distance',
    'report',
    'overhang',
    'deviation',
    'section',
    'tangency',
  ]),
  page('sizes', 'Go to the sizes', [
    'family',
    'families',
    'configurations',
    'variants',
    'size table',
    'design table',
    'spreadsheet',
    'parameters',
    'series of sizes',
    'CSV',
  ]),
  page('drawing', 'Go to the working drawing', [
    'shop drawing',
    'technical drawing',
    'sheet',
    'views',
    'hidden lines',
    'title block',
    'PDF',
    'hole table',
    'orthographic',
    'plan',
    'section view',
  ]),
  page('made', 'Go to what was made', [
    'measured parts',
    'caliper',
    'calliper',
    'shrinkage',
    'compensation',
    'scale factor',
    'statistics',
    'capability',
    'Cpk',
    'inspection sheet',
    'first article',
    'batch',
    'weigh',
  ]),
  page('log', 'Go to the log', ['history', 'versions', 'revisions', 'snapshot', 'journal', 'compare versions', 'what changed', 'restore']),
  page('make', 'Go to making and export', [
    'export',
    'print',
    'save as STEP',
    'STL',
    '3MF',
    'OBJ',
    'PLY',
    'GLB',
    'mesh',
    'slice',
    'mass',
    'weight',
  ]),
  { id: 'projects', label: 'All projects', known: ['home', 'open', 'close', 'new'], run: (go) => go('/') },
  {
    id: 'find',
    label: 'Find or do',
    known: ['search', 'command'],
    key: { keys: '/', shown: '/', where: 'project', byCharacter: true },
    run: () => setBench({ finding: true }),
  },
  {
    id: 'keys',
    label: 'List the keys',
    known: ['shortcuts', 'keyboard', 'hotkeys', 'help'],
    key: { keys: '?', shown: '?', where: 'project', byCharacter: true },
    run: () => setBench({ listingKeys: true }),
  },
  { id: 'undo', label: 'Undo', known: ['back', 'revert'], key: { keys: 'mod+z', shown: 'Ctrl+Z', where: 'project' }, run: undo },
  {
    id: 'redo',
    label: 'Redo',
    known: ['forward', 'repeat'],
    key: { keys: 'mod+shift+z, mod+y', shown: 'Ctrl+Shift+Z', where: 'project' },
    run: redo,
  },
  {
    id: 'next',
    label: 'Choose the next step',
    known: ['add', 'insert', 'new feature', 'operation'],
    key: { keys: 'n', shown: 'N', where: 'sheet' },
    run: () => setBench({ choosingStep: true }),
  },
  ...VIEWS.map(
    ({ view, label, known }, i): Action => ({
      id: `look-${view}`,
      label,
      known: [...known, 'view', 'camera'],
      key: { keys: `${i + 1}`, shown: `${i + 1}`, where: 'stage' },
      run: () => look(view),
    }),
  ),
  {
    id: 'cut-open',
    label: 'Cut the body open along its axis',
    known: ['section', 'section view', 'clip', 'clipping plane', 'half section', 'cross section'],
    key: { keys: 'c', shown: 'C', where: 'stage' },
    run: cutOpen,
  },
  {
    id: 'room',
    label: 'Larger board, larger stage, both',
    known: ['maximise', 'full screen', 'split view', 'pane', 'layout', 'hide the board', 'fold'],
    key: { keys: 'r', shown: 'R', where: 'sheet' },
    run: nextRoom,
  },
  {
    id: 'drop-pick',
    label: 'Take the last pick out again',
    known: ['remove a pick', 'deselect', 'delete'],
    key: { keys: 'delete, backspace', shown: 'Delete', where: 'stage' },
    run: dropLastPick,
  },
  {
    id: 'back-out',
    label: 'Stop picking',
    known: ['escape', 'cancel', 'deselect'],
    key: { keys: 'escape', shown: 'Esc', where: 'stage' },
    run: () => setBench({ picking: null, mark: null }),
  },
  { id: 'stop', label: 'Stop building', known: ['cancel', 'abort'], run: () => void cancelBuild() },
  {
    id: 'units',
    label: 'Show millimetres or inches',
    known: ['units', 'inch', 'imperial', 'metric', 'mm'],
    run: otherUnits,
  },
  {
    id: 'bring-step',
    group: 'Raise',
    label: 'Bring in a STEP file…',
    hint: 'its solids as bodies to build on',
    known: ['import', 'open', 'load', 'insert'],
    run: chooseStepFile,
  },
  {
    id: 'bring-scan',
    group: 'Raise',
    label: 'Bring in a scan…',
    hint: 'facets from an STL, OBJ, PLY, 3MF or GLB file, to be cleaned and fitted',
    known: ['import', 'mesh', 'stl', 'ply', 'scan', 'reverse engineering', 'load'],
    run: chooseScanFile,
  },
  {
    id: 'bring-cage',
    group: 'Raise',
    label: 'Form by a cage from an OBJ file…',
    hint: 'its faces, whose smooth limit is the body',
    known: ['import', 'mesh', 'subdivision', 'load'],
    run: chooseCageFile,
  },
  {
    id: 'save',
    label: 'Save the project to a file',
    known: ['download', 'backup', 'export project', 'keep a copy'],
    run: () => {
      const { project } = useProject.getState();
      if (project) saveProjectFile(project);
    },
  },
  { id: 'theme', label: 'Light or dark', known: ['theme', 'night', 'appearance', 'colours'], run: toggleTheme },
];

/** Keys that are taken twice at one place: none may be. */
export const keysTakenTwice = (actions: readonly Action[] = ACTIONS): string[] => {
  const seen = new Map<string, string>();
  return actions.flatMap((a) =>
    (a.key?.keys ?? '').split(',').flatMap((k) => {
      const key = k.trim();
      if (key === '') return [];
      const other = seen.get(key);
      seen.set(key, a.id);
      return other ? [`${key}: ${other} and ${a.id}`] : [];
    }),
  );
};
