import { Html } from '@react-three/drei';
import { useThree } from '@react-three/fiber';
import { type ComponentProps, useMemo } from 'react';

/**
 * Words at a place of the stage. They always hang on the canvas's own parent: left to themselves they move to another one as the stage comes
 * up a second time, and are then taken down twice.
 */
export function Label(props: Omit<ComponentProps<typeof Html>, 'portal' | 'ref'>) {
  const gl = useThree((s) => s.gl);
  const portal = useMemo(() => ({ current: gl.domElement.parentElement! }), [gl]);
  // Words never come between the pointer and the body; what is to be clicked among them takes the pointer back.
  return <Html wrapperClass="pointer-events-none" {...props} portal={portal} />;
}
