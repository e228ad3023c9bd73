import type { Workshop, WorkshopRecord } from '@gephyra/contract';
import useSWR from 'swr';
import { useToasts } from '../ui/toasts.tsx';
import { ApiError, api } from './client.ts';

const EMPTY: Workshop = { printers: [], presets: [] };

/** The workshop's printers, fits and presets, and a way to change them that the server keeps. */
export function useWorkshop(): {
  readonly workshop: Workshop;
  readonly ready: boolean;
  change(make: (workshop: Workshop) => Workshop): Promise<void>;
} {
  const toasts = useToasts();
  const { data, mutate } = useSWR<WorkshopRecord, Error>('workshop', api.workshop, { revalidateOnFocus: false });
  return {
    workshop: data?.workshop ?? EMPTY,
    ready: data !== undefined,
    change: async (make) => {
      try {
        const now = data ?? (await api.workshop());
        await mutate(await api.saveWorkshop(now.revision, make(now.workshop)), { revalidate: false });
      } catch (error) {
        toasts.say({ text: (error as Error).message, tone: 'stop' });
        if (error instanceof ApiError && error.code === 'workshop.stale') await mutate();
      }
    },
  };
}
