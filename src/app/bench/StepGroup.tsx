import { ChevronDown, ChevronRight, Eye, EyeOff, Ungroup } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { enableSteps, groupSteps } from '../../core/recipe/edit';
import type { Step } from '../../core/recipe/schema';
import { useBench } from '../state/bench';
import { change } from '../state/project';

/** Steps under one name: folded, switched and let go together. What is wrong inside shows on the outside too. */
export function StepGroup({ name, steps, children }: { name: string; steps: readonly Step[]; children: ReactNode }) {
  const [folded, setFolded] = useState(false);
  const reports = useBench((s) => s.reports);
  const ids = steps.map((s) => s.id);
  const failed = steps.filter((s) => reports[s.id]?.state === 'failed' && !reports[s.id]?.unfinished).length;
  const on = steps.some((s) => s.enabled);
  return (
    <li data-testid={`group-${name}`}>
      <div className="flex items-center gap-1 border-t border-line bg-paper px-2 py-0.5">
        <button
          type="button"
          aria-expanded={!folded}
          aria-label={`${folded ? 'Unfold' : 'Fold'} ${name}`}
          className="text-ink2 hover:text-teal"
          onClick={() => setFolded(!folded)}
        >
          {folded ? <ChevronRight size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
        </button>
        <input
          key={name}
          aria-label={`Name of the group ${name}`}
          className="min-w-0 flex-1 border-b border-transparent bg-transparent font-medium hover:border-line2 focus:border-teal"
          defaultValue={name}
          onBlur={(e) => {
            const next = e.target.value.trim().slice(0, 60);
            if (next && next !== name) change((p) => groupSteps(p, ids, next));
            else e.target.value = name;
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        {failed > 0 && <span className="text-[12px] text-madder">■ {failed} failed</span>}
        <span className="text-[12px] text-ink2">
          {steps.length} step{steps.length === 1 ? '' : 's'}
        </span>
        <button
          type="button"
          aria-label={`${on ? 'Switch off' : 'Switch on'} ${name}`}
          className="text-ink3 hover:text-teal"
          onClick={() => change((p) => enableSteps(p, ids, !on))}
        >
          {on ? <Eye size={13} aria-hidden /> : <EyeOff size={13} aria-hidden />}
        </button>
        <button
          type="button"
          aria-label={`Let go of ${name}`}
          title="The steps stay, the group goes"
          className="text-ink3 hover:text-teal"
          onClick={() => change((p) => groupSteps(p, ids, null))}
        >
          <Ungroup size={13} aria-hidden />
        </button>
      </div>
      {!folded && <ol className="border-b border-line">{children}</ol>}
    </li>
  );
}
