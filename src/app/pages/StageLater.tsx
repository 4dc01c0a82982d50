import { type ComponentProps, useEffect, useState } from 'react';
import type { Stage as StageItself } from '../stage/Stage';

type Shown = typeof StageItself;
let fetched: Shown | undefined;

/**
 * The stage brings the drawing library: a page is painted before it arrives. Unlike with React's own `lazy`, one that could not be fetched is fetched
 * anew when it is shown again.
 */
export function Stage(props: ComponentProps<Shown>) {
  const [Here, setHere] = useState<Shown | undefined>(() => fetched);
  const [error, setError] = useState<unknown>();
  useEffect(() => {
    if (fetched) return;
    let wanted = true;
    import('../stage/Stage').then(
      (m) => {
        fetched = m.Stage;
        if (wanted) setHere(() => m.Stage);
      },
      (e: unknown) => {
        if (wanted) setError(e ?? new Error('it could not be fetched'));
      },
    );
    return () => {
      wanted = false;
    };
  }, []);
  if (error) throw error;
  return Here ? <Here {...props} /> : <div className="h-full bg-stage" />;
}
