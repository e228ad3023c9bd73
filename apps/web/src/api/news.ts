import { type ProjectNews, projectNews, routes } from '@gephyra/contract';

const NAME = 'gephyra-news';

/** How long it is waited before a stream that was refused is asked for again, ms. */
const AGAIN = 5000;

/**
 * Calls back with where projects stand, whenever one has another revision or name, and with all of them once there is a stream
 * again after it broke. A browser keeps few connections to one server, so of all its windows only one has the stream and tells
 * the others; when that one closes, another takes its place. Gives a function that ends it.
 */
export function followNews(heard: (news: ProjectNews) => void): () => void {
  const windows = new BroadcastChannel(NAME);
  const take = (data: unknown): ProjectNews | null => {
    const { data: news } = projectNews.safeParse(data);
    if (news) heard(news);
    return news ?? null;
  };
  windows.onmessage = (event) => void take(event.data);
  const end = new AbortController();
  const { signal } = end;
  const tell = (): Promise<void> =>
    new Promise((done) => {
      let events: EventSource;
      let timer: ReturnType<typeof setTimeout> | undefined;
      const open = (): void => {
        events = new EventSource(routes.projectEvents);
        events.onmessage = (event) => {
          const news = take(JSON.parse(String(event.data)));
          if (news) windows.postMessage(news);
        };
        // what only broke off is taken up by the browser itself
        events.onerror = () => {
          if (events.readyState === EventSource.CLOSED) timer = setTimeout(open, AGAIN);
        };
      };
      open();
      signal.addEventListener('abort', () => {
        clearTimeout(timer);
        events.close();
        done();
      });
    });
  navigator.locks.request(NAME, { signal }, tell).catch(() => {});
  return () => {
    end.abort();
    windows.close();
  };
}
