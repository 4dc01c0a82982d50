import { X } from 'lucide-react';
import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { useBench } from '../state/bench';
import { useProject } from '../state/project';
import { leaveTour, passed, TOUR, useTour } from '../state/tour';

/** What to do next, in the two minutes to begin with. */
export function TourCard() {
  const { project: about, at } = useTour();
  const { id, project } = useProject();
  const reports = useBench((s) => s.reports);
  const cutOpen = useBench((s) => s.section !== null);
  const page = useLocation().pathname.split('/').at(-1) ?? '';
  const here = about !== null && about === id && project !== null;
  useEffect(() => {
    if (!here) return;
    const states = Object.fromEntries(Object.entries(reports).map(([step, r]) => [step, r.state]));
    const now = passed(at, { project, states, cutOpen, page });
    if (now !== at) useTour.setState({ at: now });
  }, [here, project, reports, cutOpen, page, at]);
  if (!here) return null;
  const stop = TOUR[at];
  return (
    <aside aria-label="Two minutes" className="fixed bottom-3 right-3 z-40 w-56 border border-teal bg-card p-3 shadow-md">
      <div className="mb-1 flex items-center justify-between text-[12px] text-ink2">
        <span>{stop ? `${at + 1} of ${TOUR.length}` : 'done'}</span>
        <button type="button" aria-label="Leave the two minutes" title="Leave" className="hover:text-teal" onClick={leaveTour}>
          <X size={14} aria-hidden />
        </button>
      </div>
      <p role="status">
        {stop
          ? stop.words
          : 'That was it. Everything else works alike: press N for what can follow, ? for the keys, / to find a thing by its trade name.'}
      </p>
      {!stop && (
        <button type="button" className="btn mt-2" onClick={leaveTour}>
          Close
        </button>
      )}
    </aside>
  );
}
