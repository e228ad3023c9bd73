import { type Job, type PlanSummary, type ProjectCard, routes } from '@gephyra/contract';
import { MODEL_ENDINGS } from '@gephyra/core/plan';
import { format, formatDistanceToNowStrict, parseISO } from 'date-fns';
import { Copy, Download, Trash2, Upload } from 'lucide-react';
import { type DragEvent, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import { ApiError, api, follow, upload } from '../api/client.ts';
import { startEngine } from '../engine/engine.ts';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Rename } from '../ui/rename.tsx';
import { Tip } from '../ui/tip.tsx';
import { useToasts } from '../ui/toasts.tsx';
import { UnderWayList, useUnderWay } from './under-way.tsx';

const KINDS = 'STL, OBJ, PLY, 3MF, or a zip of them';
const MODEL_FILES = new RegExp(`\\.(${[...MODEL_ENDINGS, 'zip'].join('|')})$`, 'i');

type Arrival =
  | { at: 'sending' | 'reading'; name: string; share: number; what: string; cancel: () => void }
  | { at: 'failed'; name: string; message: string; retry: (() => void) | null };

/** All projects, and the door through which a model comes in. */
export default function ProjectsPage() {
  const {
    data: cards,
    error,
    mutate,
  } = useSWR<ProjectCard[], Error>('projects', api.projects, { refreshInterval: 4000 });
  const [arrival, setArrival] = useState<Arrival | null>(null);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const under = useUnderWay();

  /** Several files are one model in parts: they are sent as one archive. */
  const bringAll = async (files: readonly File[]): Promise<void> => {
    const models = files.filter((f) => MODEL_FILES.test(f.name));
    if (models.length === 1 && files.length === 1) return bring(models[0]);
    if (models.length === 0) {
      const name = files[0]?.name ?? 'The file';
      setArrival({ at: 'failed', name, message: `${name} is none of ${KINDS}.`, retry: null });
      return;
    }
    if (files.length === 1) return bring(files[0]);
    const name = `${models[0].name.replace(/\.[^.]*$/, '')} and ${files.length - 1} more.zip`;
    setArrival({ at: 'sending', name, share: 0, what: 'Packing', cancel: () => {} });
    const { engine, stop } = startEngine();
    try {
      await bring(new File([await engine.packFiles([...files])], name));
    } catch (error) {
      setArrival({ at: 'failed', name, message: (error as Error).message, retry: null });
    } finally {
      stop();
    }
  };
  const bring = async (file: File, allowTruncated = false): Promise<void> => {
    const stop = new AbortController();
    const show = (at: 'sending' | 'reading', share: number, what: string, cancel: () => void): void =>
      setArrival({ at, name: file.name, share, what, cancel });
    show('sending', 0, 'Sending', () => stop.abort());
    try {
      const job: Job = await upload(
        file,
        allowTruncated,
        (s) => show('sending', s, 'Sending', () => stop.abort()),
        stop.signal,
      );
      const done = await follow(job, (now) =>
        show('reading', now.progress, now.what || 'Reading the file', () => void api.cancel(now.id)),
      );
      setArrival(null);
      if (done.projectId) await navigate(`/p/${done.projectId}/model`);
    } catch (failure) {
      const { code, message } = failure instanceof ApiError ? failure : { code: '', message: String(failure) };
      if (code === 'cancelled') setArrival(null);
      else {
        const retry = code === 'stl.truncated' ? () => void bring(file, true) : null;
        setArrival({ at: 'failed', name: file.name, message, retry });
      }
    }
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    const files = [...event.dataTransfer.files];
    if (files.length > 0) void bringAll(files);
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping a file has a button beside it
    <div
      className="flex min-h-screen flex-col"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={drop}
    >
      <header className="border-rule border-b bg-sheet">
        <div className="mx-auto flex h-[72px] max-w-6xl items-center gap-4 px-6">
          <Mark />
          <p className="grow text-ink-soft">Big props, cut to fit the printer, and back together in one way only.</p>
          <Link to="/printers" className="text-lapis underline underline-offset-2">
            Printers and fits
          </Link>
          <Button look="main" onClick={() => picker.current?.click()}>
            <Upload size={15} aria-hidden /> Bring in a model
          </Button>
          <input
            ref={picker}
            type="file"
            accept={[...MODEL_ENDINGS, 'mtl', 'zip'].map((e) => `.${e}`).join()}
            multiple
            className="sr-only"
            tabIndex={-1}
            aria-label="Model file"
            onChange={(e) => {
              const files = [...(e.target.files ?? [])];
              e.target.value = '';
              if (files.length > 0) void bringAll(files);
            }}
          />
        </div>
      </header>
      <main className="mx-auto w-full max-w-6xl grow px-6 py-6">
        <div aria-live="polite">{arrival && <ArrivalCard arrival={arrival} onClose={() => setArrival(null)} />}</div>
        {under.jobs.length > 0 && (
          <section aria-labelledby="under-way" className="mb-6 rounded border border-rule bg-sheet px-4 pt-2.5 pb-1">
            <h2 id="under-way" className="text-lg">
              Under way
            </h2>
            <UnderWayList />
          </section>
        )}
        <h1 className="mb-4 text-xl">Projects</h1>
        {error && !cards && <p className="text-stop">{error.message}</p>}
        {cards && cards.length === 0 && (
          <div
            className={`rounded border border-dashed p-12 text-center ${over ? 'border-lapis bg-lapis-wash' : 'border-rule-strong'}`}
          >
            <p className="mb-1 font-display text-lg">No project yet</p>
            <p className="mb-4 text-ink-soft">
              Drop a model here (STL, OBJ, PLY, 3MF, or a zip of them), or choose one. It stays as it is; everything you
              plan is kept beside it.
              <br />
              For a look round, start Gephyra with <code className="num">npm run demo</code>: it brings the props of
              Brackhythe.
            </p>
            <Button look="main" onClick={() => picker.current?.click()}>
              Choose a file
            </Button>
          </div>
        )}
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-5">
          {cards?.map((card) => (
            <Card key={card.id} card={card} changed={() => void mutate()} />
          ))}
          {cards && cards.length > 0 && (
            <li>
              <button
                type="button"
                onClick={() => picker.current?.click()}
                className={`flex h-full min-h-44 w-full flex-col items-center justify-center rounded border border-dashed text-ink-soft hover:border-ink hover:text-ink ${over ? 'border-lapis bg-lapis-wash' : 'border-rule-strong'}`}
              >
                <span className="font-display">Drop a model here</span>
                <span className="text-sm">STL, OBJ, PLY, 3MF or a zip, up to 512 MiB</span>
              </button>
            </li>
          )}
        </ul>
      </main>
    </div>
  );
}

function ArrivalCard({ arrival, onClose }: { arrival: Arrival; onClose: () => void }) {
  if (arrival.at === 'failed') {
    return (
      <div className="mb-6 border-stop border-l-[3px] bg-stop-wash px-4 py-3">
        <p className="font-semibold">{arrival.name} was not brought in</p>
        <p>{arrival.message}</p>
        <div className="mt-2 flex gap-2">
          {arrival.retry && (
            <Button look="main" onClick={arrival.retry}>
              Take the whole triangles
            </Button>
          )}
          <Button onClick={onClose}>Dismiss</Button>
        </div>
      </div>
    );
  }
  return (
    <div className="mb-6 rounded border border-rule-strong bg-sheet px-4 py-3">
      <div className="flex items-center justify-between">
        <p>
          <span className="font-semibold">{arrival.name}</span> <span className="text-ink-soft">{arrival.what}</span>
        </p>
        <Button onClick={arrival.cancel}>Cancel</Button>
      </div>
      <Bar label={`Bringing in ${arrival.name}`} share={arrival.share} className="mt-2 w-full" />
    </div>
  );
}

function Card({ card, changed }: { card: ProjectCard; changed: () => void }) {
  const toasts = useToasts();
  const { summary } = card;
  const attempt = (work: Promise<unknown>): void => {
    work.then(changed, (error: Error) => toasts.say({ text: error.message, tone: 'stop' }));
  };
  const rename = (name: string): void => {
    attempt(api.rename(card.id, name));
    toasts.say({
      text: `Renamed to ${name}.`,
      action: { label: 'Undo', run: () => attempt(api.rename(card.id, card.name)) },
    });
  };
  const save = async (): Promise<void> => {
    const job = await api.ask(card.id, 'archive', {});
    const done = await follow(job, () => {});
    const link = document.createElement('a');
    link.href = routes.jobFile(done.id);
    link.download = done.fileName ?? '';
    link.click();
  };
  const remove = (): void => {
    attempt(api.remove(card.id));
    toasts.say({
      text: `${card.name} was deleted.`,
      action: { label: 'Undo', run: () => attempt(api.restore(card.id)) },
    });
  };
  const all = summary !== null && summary.fitting === summary.pieces && summary.stops === 0;
  return (
    <li className="group flex flex-col rounded border border-rule bg-sheet transition-colors focus-within:border-ink hover:border-ink">
      <Link
        to={`/p/${card.id}/${summary && summary.pieces > 1 ? 'seams' : 'model'}`}
        className="block bg-paper-deep/60"
        aria-label={`Open ${card.name}`}
      >
        {card.thumbnail ? (
          <img
            src={routes.thumbnail(card.id, card.thumbnail)}
            alt=""
            width={320}
            height={240}
            className="aspect-[4/3] w-full object-contain"
          />
        ) : (
          <div className="flex aspect-[4/3] items-center justify-center text-ink-soft">Drawing the picture</div>
        )}
      </Link>
      <div className="flex grow flex-col gap-1 px-3 pt-2 pb-2.5">
        <Rename
          value={card.name}
          label={`Name of ${card.name}`}
          className="-ml-1 font-display font-semibold text-lg"
          onCommit={rename}
        />
        <p className="flex justify-between gap-2 text-[12px] text-ink-soft">
          <span className="num">{card.size.map((x) => x.toFixed(0)).join(' × ')} mm</span>
          <time dateTime={card.updatedAt} title={format(parseISO(card.updatedAt), 'd MMMM yyyy, HH:mm')}>
            {formatDistanceToNowStrict(parseISO(card.updatedAt), { addSuffix: true })}
          </time>
        </p>
        {summary?.bench && <Build bench={summary.bench} />}
        <div className="mt-auto flex items-center justify-between pt-1">
          <p className={`text-sm ${summary === null ? 'text-ink-soft' : all ? 'text-good' : 'text-stop'}`}>
            {summary === null
              ? 'not computed yet'
              : `${summary.pieces === 1 ? '1 piece' : `${summary.pieces} pieces`}, ${summary.fitting === summary.pieces ? (summary.pieces === 1 ? 'fits' : 'all fit') : summary.pieces === 1 ? 'too big' : `${summary.fitting} fit`}${summary.stops > 0 && summary.fitting === summary.pieces ? ', to mend' : ''}`}
          </p>
          <span className="flex">
            <Tip text="Save the whole project as one file">
              <Button
                look="quiet"
                className="px-1.5"
                aria-label={`Save ${card.name} as one file`}
                onClick={() => attempt(save())}
              >
                <Download size={15} aria-hidden />
              </Button>
            </Tip>
            <Tip text="Duplicate">
              <Button
                look="quiet"
                className="px-1.5"
                aria-label={`Duplicate ${card.name}`}
                onClick={() => attempt(api.duplicate(card.id))}
              >
                <Copy size={15} aria-hidden />
              </Button>
            </Tip>
            <Tip text="Delete">
              <Button look="quiet" className="px-1.5" aria-label={`Delete ${card.name}`} onClick={remove}>
                <Trash2 size={15} aria-hidden />
              </Button>
            </Tip>
          </span>
        </div>
      </div>
    </li>
  );
}

/** The name on its bridge. */
function Mark() {
  return (
    <span className="relative inline-block pb-3">
      <span className="font-display font-semibold text-[26px] leading-none">Gephyra</span>
      <svg aria-hidden="true" viewBox="0 0 108 12" className="absolute bottom-0 left-0 h-3 w-[108px]">
        <path d="M0 1.5h108" stroke="var(--color-ink)" strokeWidth="2" />
        <path d="M6 2v10M54 2v10M102 2v10" stroke="var(--color-ink)" strokeWidth="2" />
        <path d="M6 12C12 3 48 3 54 12C60 3 96 3 102 12" fill="none" stroke="var(--color-cut)" strokeWidth="1.5" />
      </svg>
    </span>
  );
}

/** How much of it is printed and joined, and what comes next. */
function Build({ bench: { copies, printed, joined, next } }: { bench: NonNullable<PlanSummary['bench']> }) {
  // printing is half of the way, joining the other
  const share = (printed + joined) / Math.max(1, 2 * copies);
  return (
    <p className="flex items-center gap-2 text-sm">
      <Bar label="How far it is built" share={share} className="w-16" />
      <span className="min-w-0 truncate text-ink-soft">
        {joined === copies ? 'all joined' : next ? `next: ${next}` : `${printed} of ${copies} printed`}
      </span>
    </p>
  );
}
