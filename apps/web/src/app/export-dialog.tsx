import { routes } from '@gephyra/contract';
import { EXPORT_FORMATS, type ExportFormat, writerOf } from '@gephyra/core';
import { useState } from 'react';
import { ApiError, api, follow } from '../api/client.ts';
import { useProject } from '../project/project.tsx';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Dialog } from '../ui/dialog.tsx';
import { Tick } from '../ui/tick.tsx';

type State =
  | { at: 'choosing'; error?: string }
  | { at: 'working'; job: string | null; share: number; what: string }
  | { at: 'done'; job: string; fileName: string };

/** Chooses pieces and a format, writes them on the server, and offers the archive. */
export function ExportDialog({ onClose }: { onClose: () => void }) {
  const { project, view } = useProject();
  const pieces = view?.pieces ?? [];
  const [format, setFormat] = useState<ExportFormat>('stl');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(pieces.filter((p) => p.stops.length === 0 && !p.aside).map((p) => p.key)),
  );
  const [state, setState] = useState<State>({ at: 'choosing' });
  const left = pieces.filter((p) => p.stops.length > 0 && !p.aside);
  const count = pieces.filter((p) => chosen.has(p.key)).length;

  const start = async (): Promise<void> => {
    setState({ at: 'working', job: null, share: 0, what: 'Waiting' });
    try {
      const job = await api.startExport(project.id, {
        revision: project.revision,
        format,
        pieces: pieces.filter((p) => chosen.has(p.key)).map((p) => p.key),
      });
      const done = await follow(job, (now) =>
        setState({ at: 'working', job: now.id, share: now.progress, what: now.what || 'Waiting' }),
      );
      setState({ at: 'done', job: done.id, fileName: done.fileName ?? 'pieces.zip' });
    } catch (error) {
      const stopped = error instanceof ApiError && error.code === 'cancelled';
      setState({ at: 'choosing', ...(stopped ? {} : { error: (error as Error).message }) });
    }
  };
  const toggle = (key: string): void => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };

  return (
    <Dialog title="Export pieces" onClose={onClose}>
      {left.length > 0 && (
        <p className="mb-3 border-stop border-l-[3px] bg-stop-wash py-1.5 pr-2 pl-2.5">
          {left.length === 1 ? 'One piece has' : `${left.length} pieces have`} a stop finding and{' '}
          {left.length === 1 ? 'is' : 'are'} left out. Tick what you want all the same.
        </p>
      )}
      <fieldset disabled={state.at === 'working'}>
        <legend className="mb-1 text-ink-soft text-sm">Pieces</legend>
        <ul className="slim-scroll mb-3 max-h-64 overflow-y-auto border-rule border-y">
          {pieces.map((p) => (
            <li key={p.key} className="border-rule border-b py-1.5 last:border-b-0">
              <Tick checked={chosen.has(p.key)} onChange={() => toggle(p.key)}>
                <span className="flex justify-between gap-2">
                  <span>
                    <strong className="font-semibold">{p.code}</strong> {p.name}
                  </span>
                  <span className="num text-[12px] text-ink-soft">{p.size.map((x) => x.toFixed(1)).join(' × ')}</span>
                </span>
                {p.stops.map((s) => (
                  <span key={s} className="block text-sm text-stop">
                    {s}
                  </span>
                ))}
              </Tick>
            </li>
          ))}
        </ul>
        <Choice<ExportFormat>
          label="Files"
          value={format}
          options={EXPORT_FORMATS.map((f) => ({ value: f, label: writerOf(f).offered ?? f }))}
          onChange={setFormat}
        />
      </fieldset>
      <div aria-live="polite">
        {state.at === 'choosing' && state.error && <p className="mt-3 text-stop">{state.error}</p>}
        {state.at === 'working' && (
          <div className="mt-3">
            <p>{state.what}</p>
            <Bar label="Export" share={state.share} className="mt-1 w-full" />
          </div>
        )}
        {state.at === 'done' && <p className="mt-3 text-good">{count} pieces written and checked.</p>}
      </div>
      <div className="mt-4 flex justify-end gap-2">
        {state.at === 'working' ? (
          <Button onClick={() => state.job && void api.cancel(state.job)}>Cancel</Button>
        ) : (
          <Button onClick={onClose}>Close</Button>
        )}
        {state.at === 'done' ? (
          <a
            href={routes.jobFile(state.job)}
            download={state.fileName}
            className="flex h-[30px] items-center rounded border border-ink bg-ink px-2.5 text-sheet hover:bg-[#2c3c47]"
          >
            Save {state.fileName}
          </a>
        ) : (
          <Button look="main" disabled={count === 0 || state.at === 'working'} onClick={() => void start()}>
            {count === 1 ? 'Write 1 piece' : `Write ${count} pieces`}
          </Button>
        )}
      </div>
    </Dialog>
  );
}
