import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { JOBS, type Job } from '../../../demo/jobs';
import { addShipped, ownPictures } from './shipped';

/** Whole jobs, finished: a click makes a copy of one, to look at how it was done and to change it. */
export function Jobs() {
  const go = useNavigate();
  const pictures = useQuery({ queryKey: ['own pictures'], queryFn: ownPictures, staleTime: Infinity }).data;
  const open = useMutation({
    mutationFn: async (job: Job) => addShipped(await job.load()),
    onSuccess: (id) => go(`/project/${id}/bench`),
    onError: (e, job) => toast.error(`${job.name} was not opened`, { description: e.message }),
  });
  return (
    <section aria-labelledby="jobs" className="mt-8">
      <h2 id="jobs" className="text-[15px] font-semibold">
        Whole jobs, finished
      </h2>
      <p className="mb-2 text-ink2">
        Each opens as a project of your own: read how it was done, change its beginning, and see what follows.
      </p>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(22rem,1fr))] gap-2">
        {JOBS.map((job) => (
          <li key={job.name}>
            <button
              type="button"
              className="flex h-full w-full items-stretch border border-line2 bg-panel text-left hover:border-teal"
              disabled={open.isPending}
              onClick={() => open.mutate(job)}
            >
              <span className="flex w-28 shrink-0 items-center justify-center bg-stage">
                {pictures?.[job.name] && <img src={pictures[job.name]!.picture} alt="" className="h-20 w-28 object-cover" />}
              </span>
              <span className="flex flex-col gap-0.5 px-3 py-2">
                <b className="font-semibold">{job.name}</b>
                <span className="text-[12px] text-ink2">{job.words}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
