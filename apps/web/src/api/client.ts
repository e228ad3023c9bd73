import {
  type Equipment,
  type EquipmentRecord,
  type Job,
  type JobEntry,
  type Problem,
  type Project,
  type ProjectCard,
  routes,
  type StartExport,
  type StartShape,
  UPLOAD_LIMIT,
} from '@gephyra/contract';
import type { Plan } from '@gephyra/core';

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

async function call<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError('offline', OFFLINE, 0);
  }
  if (response.ok) return response.status === 204 ? (undefined as T) : ((await response.json()) as T);
  const problem = (await response.json().catch(() => null)) as Problem | null;
  throw new ApiError(problem?.code ?? 'server.error', problem?.detail ?? OFFLINE, response.status);
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

export const api = {
  projects: () => call<ProjectCard[]>(routes.projects),
  project: (id: string) => call<Project>(routes.project(id)),
  rename: (id: string, name: string) => call<Project>(routes.project(id), json('PATCH', { name })),
  duplicate: (id: string) => call<Project>(routes.duplicate(id), { method: 'POST' }),
  remove: (id: string) => call<void>(routes.project(id), { method: 'DELETE' }),
  restore: (id: string) => call<Project>(routes.restore(id), { method: 'POST' }),
  savePlan: (id: string, basedOn: number, label: string, plan: Plan) =>
    call<Project>(routes.plan(id), json('PUT', { basedOn, label, plan })),
  undo: (id: string, basedOn: number) => call<Project>(routes.undo(id), json('POST', { basedOn })),
  redo: (id: string, basedOn: number) => call<Project>(routes.redo(id), json('POST', { basedOn })),
  startExport: (id: string, wanted: StartExport) => call<Job>(routes.exports(id), json('POST', wanted)),
  startShape: (id: string, wanted: StartShape) => call<Job>(routes.shapes(id), json('POST', wanted)),
  startHealth: (id: string, wanted: StartShape) => call<Job>(routes.health(id), json('POST', wanted)),
  startArchive: (id: string) => call<Job>(routes.archive(id), { method: 'POST' }),
  jobJson: <T>(job: string) => call<T>(routes.jobFile(job)),
  equipment: () => call<EquipmentRecord>(routes.equipment),
  saveEquipment: (basedOn: number, equipment: Equipment) =>
    call<EquipmentRecord>(routes.equipment, json('PUT', { basedOn, equipment })),
  underWay: () => call<JobEntry[]>(routes.jobs),
  cancel: (job: string) => call<void>(routes.job(job), { method: 'DELETE' }),
};

function read(text: string): unknown {
  try {
    return JSON.parse(text || 'null');
  } catch {
    return null;
  }
}

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
      const body = read(request.responseText);
      if (request.status < 300) resolve(body as Job);
      else {
        const problem = body as Problem | null;
        reject(new ApiError(problem?.code ?? 'server.error', problem?.detail ?? OFFLINE, request.status));
      }
    };
    request.onerror = () => reject(new ApiError('offline', OFFLINE, 0));
    request.onabort = () => reject(new ApiError('cancelled', 'The import was cancelled.', 0));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** Follows a job by its events until it ends. */
export function follow(job: Job, changed: (job: Job) => void): Promise<Job> {
  return new Promise((resolve, reject) => {
    const events = new EventSource(routes.jobEvents(job.id));
    events.onmessage = (event) => {
      const now = JSON.parse(String(event.data)) as Job;
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
}
