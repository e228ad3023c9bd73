import type { Job } from '@gephyra/contract';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { ApiError, api, follow, upload } from './client.ts';

const begun: Job = {
  id: 'job-1',
  kind: 'shape',
  state: 'queued',
  progress: 0,
  what: 'Waiting',
  projectId: 'p1',
  fileName: null,
  error: null,
};

const answering = (status: number, body: unknown) =>
  vi.stubGlobal('fetch', async () => ({ ok: status < 300, status, json: async () => body }));

afterEach(() => void vi.unstubAllGlobals());

describe('an answer of the server', () => {
  it('is taken when it has the shape that was agreed on', async () => {
    answering(202, begun);
    expect(await api.ask('p1', 'archive', {})).toEqual(begun);
    vi.stubGlobal('fetch', async () => ({ ok: true, status: 204, json: () => Promise.reject(new Error('no body')) }));
    expect(await api.remove('p1')).toBeUndefined();
  });

  it('of another shape is refused in words, as one of a newer server', async () => {
    for (const body of [{ ...begun, state: 'resting' }, { ...begun, progress: 'half' }, null, undefined, 'done']) {
      answering(202, body);
      const error = await api.ask('p1', 'archive', {}).catch((e: unknown) => e);
      expect(error).toMatchObject({ code: 'answer.foreign' });
      expect(String(error)).toContain('Reload it');
    }
    answering(200, [{ id: 'p1', name: 'Lantern' }]);
    await expect(api.projects()).rejects.toMatchObject({ code: 'answer.foreign' });
    answering(200, { bodies: [{ body: 'b1', defects: [{ kind: 'rust', count: 1, places: [] }] }], overlaps: [] });
    await expect(api.healthReport('job-1')).rejects.toMatchObject({ code: 'answer.foreign' });
  });

  it('that says no is an error with its code, its words and its status; one without words says that nothing answers', async () => {
    answering(409, {
      type: 'about:blank',
      title: 'Conflict',
      status: 409,
      detail: 'The plan was changed elsewhere.',
      code: 'plan.stale',
    });
    const said = await api.undo('p1', { gesture: 'gesture-1', basedOn: 3 }).catch((e: unknown) => e);
    expect(said).toBeInstanceOf(ApiError);
    expect(said).toMatchObject({ code: 'plan.stale', message: 'The plan was changed elsewhere.', status: 409 });
    answering(502, '<html>');
    await expect(api.undo('p1', { gesture: 'gesture-1', basedOn: 3 })).rejects.toMatchObject({
      code: 'server.error',
      status: 502,
    });
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('refused')));
    await expect(api.projects()).rejects.toMatchObject({
      code: 'offline',
      message: expect.stringContaining('Start it'),
    });
  });
});

describe('a job that is followed', () => {
  /** Events of a server, sent by the test. */
  class Events {
    static last: Events;
    static readonly CLOSED = 2;
    readyState = 1;
    onmessage: ((event: { data: string }) => void) | null = null;
    onerror: (() => void) | null = null;
    constructor(readonly path: string) {
      Events.last = this;
    }
    close(): void {
      this.readyState = Events.CLOSED;
    }
    say(job: Partial<Job>): void {
      this.onmessage?.({ data: JSON.stringify({ ...begun, ...job }) });
    }
  }

  it('tells every change until it is done', async () => {
    vi.stubGlobal('EventSource', Events);
    const seen: string[] = [];
    const end = follow(begun, (now) => seen.push(`${now.state} ${now.progress}`));
    expect(Events.last.path).toContain('job-1');
    Events.last.say({ state: 'running', progress: 0.4 });
    Events.last.say({ state: 'done', progress: 1 });
    expect((await end).state).toBe('done');
    expect(seen).toEqual(['running 0.4', 'done 1']);
    expect(Events.last.readyState).toBe(Events.CLOSED);
  });

  it('ends with what went wrong: in the server’s words, cancelled, or cut off', async () => {
    vi.stubGlobal('EventSource', Events);
    const ends = () => follow(begun, () => {});
    const failed = ends();
    Events.last.say({ state: 'failed', error: { code: 'recipe.body', message: 'Body b3 is gone.', details: {} } });
    await expect(failed).rejects.toMatchObject({ code: 'recipe.body', message: 'Body b3 is gone.' });
    const cancelled = ends();
    Events.last.say({ state: 'cancelled' });
    await expect(cancelled).rejects.toMatchObject({ code: 'cancelled' });
    const foreign = ends();
    Events.last.onmessage?.({ data: '{"state":"resting"' });
    await expect(foreign).rejects.toMatchObject({ code: 'answer.foreign' });
    const cut = ends();
    Events.last.onerror?.(); // it will be tried again
    Events.last.close();
    Events.last.onerror?.();
    await expect(cut).rejects.toMatchObject({ code: 'offline' });
  });
});

describe('a file that is sent', () => {
  class Request {
    static last: Request;
    upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
    onload?: () => void;
    onerror?: () => void;
    onabort?: () => void;
    status = 0;
    responseText = '';
    sent: unknown = null;
    path = '';
    constructor() {
      Request.last = this;
    }
    open(_method: string, path: string): void {
      this.path = path;
    }
    setRequestHeader(): void {}
    send(body: unknown): void {
      this.sent = body;
    }
    abort(): void {
      this.onabort?.();
    }
    answer(status: number, body: unknown): void {
      this.status = status;
      this.responseText = typeof body === 'string' ? body : JSON.stringify(body);
      this.onload?.();
    }
  }
  const file = new File([new Uint8Array(10)], 'a/b "buoy".stl');

  it('tells how far it is, and gives the job that reads it', async () => {
    vi.stubGlobal('XMLHttpRequest', Request);
    const shares: number[] = [];
    const end = upload(file, true, (s) => shares.push(s), new AbortController().signal);
    expect(Request.last.path).toBe('/api/projects?file=a%2Fb%20%22buoy%22.stl&truncated=take');
    expect(Request.last.sent).toBe(file);
    Request.last.upload.onprogress?.({ loaded: 5, total: 10 });
    Request.last.answer(202, { ...begun, kind: 'import' });
    expect((await end).kind).toBe('import');
    expect(shares).toEqual([0.5]);
  });

  it('is refused in the server’s words, and by its size before it is sent', async () => {
    vi.stubGlobal('XMLHttpRequest', Request);
    const go = (f: File, signal = new AbortController().signal) => upload(f, false, () => {}, signal);
    const refused = go(file);
    Request.last.answer(422, { type: '', title: '', status: 422, detail: 'It is no STL.', code: 'stl.broken' });
    await expect(refused).rejects.toMatchObject({ code: 'stl.broken', message: 'It is no STL.', status: 422 });
    const odd = go(file);
    Request.last.answer(200, 'OK');
    await expect(odd).rejects.toMatchObject({ code: 'answer.foreign' });
    const stop = new AbortController();
    const stopped = go(file, stop.signal);
    stop.abort();
    await expect(stopped).rejects.toMatchObject({ code: 'cancelled' });
    const before = Request.last;
    const huge = Object.defineProperty(new File([], 'huge.stl'), 'size', { value: 600 * 1024 * 1024 });
    await expect(go(huge)).rejects.toThrow('huge.stl has 600 MiB; up to 512 are taken');
    expect(Request.last).toBe(before);
  });
});
