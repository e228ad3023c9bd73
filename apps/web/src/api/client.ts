import {
  type Act,
  type AskedJob,
  type Equipment,
  equipmentRecord,
  healthReport,
  type Job,
  type JobWish,
  job,
  jobEntry,
  type PrintAction,
  print,
  problem,
  project,
  projectCard,
  routes,
  type StartPrint,
  savedProject,
  UPLOAD_LIMIT,
} from '@gephyra/contract';
import type { Plan } from '@gephyra/core/plan';
import { z } from 'zod';

/** What the server said no to, in its words. */
export class ApiError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

const OFFLINE = 'The Gephyra server does not answer. Start it again; nothing you see here is lost.';

const FOREIGN =
  'The server answered in a way this page does not know: the page is likely older than the server. Reload it; what is saved stays.';

/** An answer by its schema. Throws ApiError `answer.foreign` when it is of another shape. */
function read<T>(schema: z.ZodType<T>, answer: unknown): T {
  const found = schema.safeParse(answer);
  if (found.success) return found.data;
  throw new ApiError('answer.foreign', FOREIGN, 0);
}

/** What the server says is wrong: its problem document, or that it does not answer when there is none. */
function refusal(status: number, body: unknown): ApiError {
  const found = problem.safeParse(body);
  return new ApiError(found.data?.code ?? 'server.error', found.data?.detail ?? OFFLINE, status);
}

async function call<T>(schema: z.ZodType<T>, path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError('offline', OFFLINE, 0);
  }
  const body = await response.json().catch(() => undefined);
  if (!response.ok) throw refusal(response.status, body);
  return read(schema, body);
}

const nothing = z.undefined().transform(() => {});

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

/** How long an answer is waited for that is asked for again when it does not come, ms. */
const PATIENCE = 30_000;

const timed = (init: RequestInit): RequestInit => ({ ...init, signal: AbortSignal.timeout(PATIENCE) });

export const api = {
  projects: () => call(z.array(projectCard), routes.projects),
  project: (id: string) => call(project, routes.project(id), timed({})),
  rename: (id: string, name: string) => call(project, routes.project(id), json('PATCH', { name })),
  duplicate: (id: string) => call(project, routes.duplicate(id), { method: 'POST' }),
  remove: (id: string) => call(nothing, routes.project(id), { method: 'DELETE' }),
  restore: (id: string) => call(project, routes.restore(id), { method: 'POST' }),
  savePlan: (id: string, sent: Act, label: string, plan: Plan) =>
    call(savedProject, routes.plan(id), timed(json('PUT', { ...sent, label, plan }))),
  undo: (id: string, sent: Act) => call(project, routes.undo(id), timed(json('POST', sent))),
  redo: (id: string, sent: Act) => call(project, routes.redo(id), timed(json('POST', sent))),
  /** Asks for work about a project, or for what has come of it. */
  ask: <K extends AskedJob>(id: string, kind: K, wish: JobWish<K>) =>
    call(job, routes.askedJob(id, kind), json('POST', wish)),
  healthReport: (id: string) => call(healthReport, routes.jobFile(id)),
  equipment: () => call(equipmentRecord, routes.equipment),
  saveEquipment: (basedOn: number, equipment: Equipment) =>
    call(equipmentRecord, routes.equipment, json('PUT', { basedOn, equipment })),
  prints: (project: string) => call(z.array(print), routes.printsOf(project)),
  startPrint: (wanted: StartPrint) => call(print, routes.prints, json('POST', wanted)),
  actOnPrint: (id: string, what: PrintAction) => call(print, routes.print(id), json('POST', { do: what })),
  underWay: () => call(z.array(jobEntry), routes.jobs),
  /** Gives a job up; it goes on while another window waits for it. */
  cancel: async (id: string): Promise<void> => {
    await call(nothing, routes.job(id), { method: 'DELETE' });
    for (const end of following.get(id) ?? []) end();
  },
  /** Ends a job, whoever waits for it. */
  cancelForAll: (id: string) => call(nothing, routes.jobForAll(id), { method: 'DELETE' }),
};

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
};

/** Sends a file with progress (0 … 1); the job that reads it comes back. Aborting leaves nothing on the server. */
export function upload(
  file: File,
  allowTruncated: boolean,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<Job> {
  return new Promise((resolve, reject) => {
    if (file.size > UPLOAD_LIMIT) {
      const [own, most] = [file.size, UPLOAD_LIMIT].map((b) => Math.round(b / 1024 / 1024));
      reject(
        new ApiError(
          'upload.tooLarge',
          `${file.name} has ${own} MiB; up to ${most} are taken. Simplify the model, or send it as binary STL.`,
          413,
        ),
      );
      return;
    }
    const request = new XMLHttpRequest();
    request.open('POST', routes.upload(file.name, allowTruncated));
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(1, event.total));
    request.onload = () => {
      const body = parsed(request.responseText);
      try {
        if (request.status >= 300) throw refusal(request.status, body);
        resolve(read(job, body));
      } catch (error) {
        reject(error);
      }
    };
    request.onerror = () => reject(new ApiError('offline', OFFLINE, 0));
    request.onabort = () => reject(new ApiError('cancelled', 'The import was cancelled.', 0));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** What ends the following of jobs that were given up here. */
const following = new Map<string, Set<() => void>>();

/** Follows a job by its events until it ends, or is given up here. */
export function follow(begun: Job, changed: (job: Job) => void): Promise<Job> {
  const own = following.get(begun.id) ?? new Set();
  following.set(begun.id, own);
  let end = (): void => {};
  const followed = new Promise<Job>((resolve, reject) => {
    const events = new EventSource(routes.jobEvents(begun.id));
    end = () => {
      events.close();
      reject(new ApiError('cancelled', 'It was cancelled.', 0));
    };
    own.add(end);
    events.onmessage = (event) => {
      const found = job.safeParse(parsed(String(event.data)));
      if (!found.success) {
        events.close();
        reject(new ApiError('answer.foreign', FOREIGN, 0));
        return;
      }
      const now = found.data;
      changed(now);
      if (now.state === 'queued' || now.state === 'running') return;
      events.close();
      if (now.state === 'done') resolve(now);
      else if (now.state === 'cancelled') reject(new ApiError('cancelled', 'It was cancelled.', 0));
      else reject(new ApiError(now.error?.code ?? 'server.error', now.error?.message ?? OFFLINE, 422));
    };
    events.onerror = () => {
      if (events.readyState === EventSource.CLOSED) reject(new ApiError('offline', OFFLINE, 0));
    };
  });
  return followed.finally(() => {
    own.delete(end);
    if (own.size === 0) following.delete(begun.id);
  });
}
