import type { ComponentProps } from 'react';
import type { Stage as StageItself } from '../stage/Stage';
import { Later, useLater } from '../ui/later';

const stage = new Later(
  () => import('../stage/Stage'),
  (m) => m.Stage,
);

/** The stage brings the drawing library: a page is painted before it arrives. */
export function Stage(props: ComponentProps<typeof StageItself>) {
  const Here = useLater(stage);
  return Here ? <Here {...props} /> : <div className="h-full bg-stage" />;
}
