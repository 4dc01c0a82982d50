import type { ComponentProps } from 'react';
import type { Look as LookItself } from '../stage/Look';
import type { Stage as StageItself } from '../stage/Stage';
import { Later, useLater } from '../ui/later';

const stage = new Later(
  () => import('../stage/Stage'),
  (m) => m.Stage,
);

const look = new Later(
  () => import('../stage/Look'),
  (m) => m.Look,
);

/** The stage brings the drawing library: a page is painted before it arrives. */
export function Stage(props: ComponentProps<typeof StageItself>) {
  const Here = useLater(stage);
  return Here ? <Here {...props} /> : <div className="h-full bg-stage" />;
}

/** Bodies to look at on the other pages. */
export function Look(props: ComponentProps<typeof LookItself>) {
  const Here = useLater(look);
  return Here ? <Here {...props} /> : <div className="h-full bg-stage" />;
}
