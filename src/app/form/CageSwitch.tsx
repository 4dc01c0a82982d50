import { setBench, useBench } from '../state/bench';

/** Whether the cage is drawn around the body. */
export function CageSwitch() {
  const cage = useBench((s) => s.cage);
  return (
    <label className="flex items-center gap-1">
      <input type="checkbox" className="accent-teal" checked={cage} onChange={(e) => setBench({ cage: e.target.checked })} />
      show the cage
    </label>
  );
}
