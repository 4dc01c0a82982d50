import type { Picked } from './tools';

/** The axis or the base level, which can be chosen like a line. */
export function FrameLine({
  id,
  label,
  d,
  dash,
  active,
  picked,
  pick,
}: {
  id: string;
  label: string;
  d: string;
  dash: string;
  active: boolean;
  picked: readonly Picked[];
  pick: (p: Picked, more: boolean) => void;
}) {
  const on = picked.some((p) => p.kind === 'frame' && p.id === id);
  return (
    <>
      <path d={d} className="stroke-teal" strokeWidth={on ? 2 : id === 'axis' ? 1 : 0.6} strokeDasharray={dash} pointerEvents="none" />
      <path
        d={d}
        stroke="transparent"
        strokeWidth={7}
        role="button"
        aria-label={label}
        pointerEvents={active ? 'stroke' : 'none'}
        className="cursor-pointer"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.stopPropagation();
          pick({ kind: 'frame', id }, e.shiftKey || e.ctrlKey || e.metaKey);
        }}
      />
    </>
  );
}
