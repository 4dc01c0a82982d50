import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { setBench, useBench } from '../state/bench';
import { Label } from './Label';

const LOOK = { info: ['○', 'bg-ink text-panel'], warn: ['▲', 'bg-amber text-panel'], fail: ['■', 'bg-madder text-panel'] } as const;

/** The place something was said about, named on the body until it is dismissed. */
export function Marker() {
  const mark = useBench((s) => s.mark);
  const { invalidate } = useThree();
  useEffect(() => {
    if (mark || !mark) invalidate();
  }, [mark, invalidate]);
  if (!mark) return null;
  const [shape, tone] = LOOK[mark.tone];
  return (
    <Label position={[...mark.at]} zIndexRange={[20, 10]}>
      <div className="relative">
        <div className={`absolute -left-[7px] -top-[7px] h-[14px] w-[14px] rounded-full border-2 border-panel ${tone}`} />
        <div
          data-testid="mark"
          className={`pointer-events-auto absolute left-4 top-2 flex w-max max-w-64 items-start gap-2 rounded-xs px-2 py-1 text-[12px] ${tone}`}
        >
          <span>
            {shape} {mark.words}
          </span>
          <button type="button" aria-label="Dismiss the mark" onClick={() => setBench({ mark: null })}>
            ×
          </button>
        </div>
      </div>
    </Label>
  );
}
