import { useEffect, useState } from 'react';

/** A part of the page whose code comes when it is first shown. */
export class Later<T> {
  value: T | undefined;
  constructor(readonly fetch: () => Promise<T>) {}
}

/**
 * The part once it is there, undefined until then; what can't be fetched is thrown, for the boundary around it. Unlike with React's own `lazy` it is
 * fetched anew when it is shown again.
 */
export function useLater<T>(part: Later<T>): T | undefined {
  const [here, setHere] = useState<{ readonly value: T } | undefined>(() => part.value && { value: part.value });
  const [error, setError] = useState<unknown>();
  useEffect(() => {
    if (part.value) return;
    let wanted = true;
    part.fetch().then(
      (value) => {
        part.value = value;
        if (wanted) setHere({ value });
      },
      (e: unknown) => {
        if (wanted) setError(e ?? new Error('it could not be fetched'));
      },
    );
    return () => {
      wanted = false;
    };
  }, [part]);
  if (error) throw error;
  return here?.value;
}
