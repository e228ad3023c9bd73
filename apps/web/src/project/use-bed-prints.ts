import { type Print, type PrintAction, routes } from '@gephyra/contract';
import { useCallback } from 'react';
import useSWR from 'swr';
import { api } from '../api/client.ts';

/** How often a print under way is looked at, ms. */
const LOOK = 1000;

export const isUnderWay = (print: Print): boolean => print.endedAt === null;

/** Beds of a project that were handed to printers. */
export function useBedPrints(project: string): {
  readonly prints: readonly Print[];
  act(id: string, what: PrintAction): Promise<void>;
  refresh(): void;
} {
  const { data, mutate } = useSWR<Print[], Error>(routes.printsOf(project), () => api.prints(project), {
    refreshInterval: (known) => (known?.some(isUnderWay) ? LOOK : 0),
    revalidateOnFocus: true,
  });
  const act = useCallback(
    async (id: string, what: PrintAction): Promise<void> => {
      await api.actOnPrint(id, what);
      await mutate();
    },
    [mutate],
  );
  const refresh = useCallback((): void => void mutate(), [mutate]);
  return { prints: data ?? [], act, refresh };
}
