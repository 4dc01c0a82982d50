import { useShallow } from 'zustand/react/shallow';
import { type FormView, setShaping, useShaping } from '../state/shaping';

/** How the form is looked at on the stage: its body, its cage or both, with marks, or as a mirror for stripes. */
export function FormViews() {
  const { view, marks, reflect } = useShaping(useShallow(({ view, marks, reflect }) => ({ view, marks, reflect })));
  return (
    <span className="flex flex-wrap items-center gap-x-3">
      <label className="flex items-center gap-1">
        show
        <select
          className="chip"
          aria-label="What the stage shows"
          value={view}
          onChange={(e) => setShaping({ view: e.target.value as FormView })}
        >
          <option value="both">body and cage</option>
          <option value="body">the body</option>
          <option value="cage">the cage</option>
        </select>
      </label>
      <label className="flex items-center gap-1">
        <input type="checkbox" className="accent-teal" checked={marks} onChange={(e) => setShaping({ marks: e.target.checked })} />
        marks
      </label>
      <label className="flex items-center gap-1">
        <input type="checkbox" className="accent-teal" checked={reflect} onChange={(e) => setShaping({ reflect: e.target.checked })} />
        stripes
      </label>
    </span>
  );
}
