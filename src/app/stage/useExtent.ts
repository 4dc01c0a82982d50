import { useMemo, useRef } from 'react';
import type { BodyScene } from '../../engine/types';
import { type Extent, extentOf } from './extent';

/** How far bodies reach. While there are none the last extent stays, so that the view does not jump. */
export function useExtent(scenes: readonly BodyScene[]): Extent {
  const last = useRef<Extent>(extentOf([]));
  return useMemo(() => {
    if (scenes.length > 0) last.current = extentOf(scenes);
    return last.current;
  }, [scenes]);
}
