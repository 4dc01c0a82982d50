import { type ComponentType, useEffect, useState } from 'react';

/**
 * A component that is fetched when it is first shown. Unlike React's own `lazy`, one that could not be fetched is fetched anew when it is shown again.
 * @param waiting what stands in its place meanwhile
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>, waiting: React.ReactNode): ComponentType<P> {
  let loaded: ComponentType<P> | undefined;
  return function Later(props: P) {
    const [Shown, setShown] = useState<ComponentType<P> | undefined>(() => loaded);
    const [error, setError] = useState<unknown>();
    useEffect(() => {
      if (loaded) return;
      let here = true;
      load().then(
        (c) => {
          loaded = c;
          if (here) setShown(() => c);
        },
        (e: unknown) => {
          if (here) setError(e ?? new Error('it could not be fetched'));
        },
      );
      return () => {
        here = false;
      };
    }, []);
    if (error) throw error;
    return Shown ? <Shown {...props} /> : waiting;
  };
}
