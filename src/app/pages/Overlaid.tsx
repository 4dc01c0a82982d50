import { useQuery } from '@tanstack/react-query';
import type { Project } from '../../core/recipe/schema';
import { wordsIn } from '../../core/units/units';
import { engine } from '../state/bench';
import { Pane } from '../ui/Pane';
import { Look } from './StageLater';

/** The sheet as it is, with another state of it laid over. @param id tells one state from another */
export function Overlaid({
  project,
  sheet,
  id,
  called,
  close,
}: {
  project: Project;
  sheet: Project;
  id: string;
  called: string;
  close: () => void;
}) {
  const drawn = useQuery({
    queryKey: ['overlaid', id, sheet.dimensions, sheet.steps, sheet.profiles],
    queryFn: () => engine.draw(sheet),
    staleTime: Infinity,
    structuralSharing: false,
  });
  const told = drawn.isFetching
    ? 'building it…'
    : drawn.data?.ok === false
      ? null
      : drawn.data
        ? 'over the sheet as it is'
        : 'building it…';
  return (
    <section aria-label={`${called} over the sheet`} className="my-3 max-w-[900px] border border-line2 bg-panel" data-testid="overlaid">
      <div className="flex items-baseline gap-2 px-3 py-1.5">
        <span aria-hidden className="inline-block size-2.5 bg-teal" />
        <b>{called}</b>
        {told !== null && (
          <span className="text-ink2" role="status">
            {told}
          </span>
        )}
        {drawn.data?.ok === false && <span className="text-madder">■ {wordsIn(drawn.data.error, project.units)}</span>}
        <button type="button" className="link ml-auto" onClick={close}>
          put away
        </button>
      </div>
      <div className="h-[420px]">
        <Pane called="What is laid over">
          <Look project={project} {...(drawn.data?.ok ? { over: drawn.data.value } : {})} />
        </Pane>
      </div>
    </section>
  );
}
