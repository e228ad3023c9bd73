import { JOBS, type JobEntry, routes } from '@gephyra/contract';
import { format, parseISO } from 'date-fns';
import useSWR from 'swr';
import { api } from '../api/client.ts';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Dialog } from '../ui/dialog.tsx';
import { useToasts } from '../ui/toasts.tsx';

/** What runs or waits on the server, of all projects. */
export function useUnderWay(): { jobs: readonly JobEntry[]; refresh: () => void } {
  const { data, mutate } = useSWR<JobEntry[], Error>(routes.jobs, api.underWay, { refreshInterval: 3000 });
  return { jobs: data ?? [], refresh: () => void mutate() };
}

/** A row for each piece of work: whose it is, how far it is, and a way to end it. */
export function UnderWayList() {
  const { jobs, refresh } = useUnderWay();
  const toasts = useToasts();
  const cancel = ({ id }: JobEntry): void => {
    api.cancelForAll(id).then(refresh, (error: Error) => toasts.say({ text: error.message, tone: 'stop' }));
  };
  if (jobs.length === 0) return <p className="text-ink-soft">Nothing runs or waits. Long work shows here.</p>;
  return (
    <ul aria-label="Under way" className="flex flex-col">
      {jobs.map((job) => (
        <li key={job.id} className="flex items-center gap-4 border-rule border-t py-2 first:border-t-0">
          <div className="min-w-0 grow">
            <p className="truncate">
              <span className="font-semibold">{job.subject}</span>{' '}
              <span className="text-ink-soft">{JOBS[job.kind].words}</span>
            </p>
            <p className="truncate text-ink-soft text-sm">
              {job.state === 'queued' ? 'Waits for its turn' : job.what || 'Runs'}
              {`, since ${format(parseISO(job.since), 'HH:mm')}`}
            </p>
          </div>
          {job.state === 'running' && <Bar label={`${job.subject}, ${JOBS[job.kind].words}`} share={job.progress} />}
          <Button aria-label={`Cancel ${JOBS[job.kind].words} of ${job.subject}`} onClick={() => cancel(job)}>
            Cancel
          </Button>
        </li>
      ))}
    </ul>
  );
}

export function UnderWayDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog title="Under way" onClose={onClose}>
      <UnderWayList />
    </Dialog>
  );
}
